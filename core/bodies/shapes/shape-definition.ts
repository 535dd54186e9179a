type Position = [number, number, number];

/** Ends and radii of a body; a shape uses some of them. */
export interface RoundNumbers {
  a: Position;
  b: Position;
  radiusA: number;
  radiusB: number;
}

/** A shape of collision body: all that is known of it stands in one file. */
export interface ShapeDefinition {
  label: string;
  /** Ends that it has, and what they are called. */
  ends: Readonly<Partial<Record<'a' | 'b', string>>>;
  /** Radii that it has, and what they are called. */
  radii: Readonly<Partial<Record<'radiusA' | 'radiusB', string>>>;
  /** The tapered capsule that it is. */
  toRound(shape: RoundNumbers): RoundNumbers;
  /** As an implicit shape of a shipped file: along Y, `a` at the bottom. Metres. */
  toImplicit(shape: RoundNumbers): object;
}

/** Distance between the ends of a body, in their unit. */
export function measureLength({ a, b }: Pick<RoundNumbers, 'a' | 'b'>): number {
  return Math.hypot(b[0] - a[0], b[1] - a[1], b[2] - a[2]);
}
