/**
 * Numbers of the cloth's behaviour that both solvers go by. Compiled by both sides, so that they cannot disagree; the kernel casts
 * each where it is used.
 */

/** m/s at which a point that began inside a body or a surface is let out; faster would throw it. */
export const RECOVERY_SPEED = 1;
/**
 * Most that a contact with a surface pushes beyond what it takes to stop the motion with which cloth and surface meet, m/s. What
 * threads have pulled in is let out over several substeps: in the creases of a layer its sides push against each other, and
 * uncapped they crush the one above.
 */
export const MOST_PUSH_SPEED = 0.36;
/**
 * How much a thread is pushed before it slides, over how much the threads that it crosses are pulled: those under tension
 * hold it. A net carries at most a third of a pull across it as a push.
 */
export const HELD_BY_TENSION = 0.5;
/** Share of what is missing from its full length that a thread under the least tension takes back, 1/s. */
export const TAKEN_BACK = 6;
/** A body may sink into a hole between the places of a face that are looked at whose radius is this share of its own: by a quarter. */
export const FACE_SHARE = 0.65;
/** Faces this much (m) farther from a body than they move in a frame are looked at, too. */
export const FACE_SLACK = 0.01;
/** A face may be stretched to so many times its size at rest before thick bodies could sink into it. */
export const MOST_STRETCHED = 1.3;
/** Parts of the sides of a face at most; and bodies that one face meets between its corners at most. */
export const MOST_FACE_DIVISIONS = 6;
export const MOST_FACE_BODIES = 6;
/** Candidates for self-collision are looked for within this multiple of the distance to keep, so that they serve for a frame. */
export const SELF_SEARCH = 1.75;
/** Points pass between others that lie farther apart than the distance over this: then triangles are looked at. */
export const SELF_BY_FACES = 1.25;
/** A point is kept off so many triangles of its own garment at most: the nearest ones, those of either side of it. */
export const SELF_NEAREST = 6;
/** Of triangles alike in their way to a point those that face it are nearer: by this share of the square of its height. */
export const SELF_FACING = 0.2;
/** A point is over one side of a triangle where the square of its height is more than this share of that of the way to it. */
export const SELF_OVER = 0.25;
/** What lies near each other at rest must have gone so much of the way from there to the distance to keep. */
export const SELF_CLOSING = 0.5;
/** Compliance of a slot of stretch pairs that does nothing, 1/kg. A power of two: the same in 32 bits. */
export const INERT = 1.2676506002282294e30;
/** A point of a surface that stands out of its neighbours by more than this share of the spacing may come through between points. */
export const RIDGE_RISE = 0.1;
/** Points up to this deep (m) inside a surface at the start of a frame are let out; deeper ones are left. */
export const SURFACE_DEPTH = 0.03;
/** A point may come nearer to a surface by so many times its way at its present speed, and so much (m) besides. */
export const MEETING_WAYS = 1;
export const MEETING_SLACK = 0.01;
