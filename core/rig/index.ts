export { type AdoptedClips, adoptClips } from './adopt-clips.ts';
export {
  type Character,
  type Clip,
  getVertexCount,
  type Interpolation,
  type MorphTarget,
  type Section,
  type Skeleton,
  type Skin,
  type Track,
  type TrackPath,
} from './character.ts';
export { computeClipTravel } from './clip-travel.ts';
export { createRigidCharacter } from './create-rigid-character.ts';
export { bakeScales, type FileScales, invertScales, restoreScales, restoreSection } from './file-scales.ts';
export { findFront } from './find-front.ts';
export { gatherSkinnedRows } from './gather-rows.ts';
export { hashSection } from './hash-section.ts';
export { invertBind } from './invert-bind.ts';
export { type JointOfTree, listJointsBelow, listJointTree } from './joint-tree.ts';
export { type FigureSize, measureFigure, USUAL_SIZE } from './measure-figure.ts';
export { mirrorName, SIDE_PAIRS, type SidePair } from './mirror-name.ts';
export { findMirrorPlane, type MirrorPlane, reflect, toReflection } from './mirror-plane.ts';
export {
  listArrays,
  PACKED_CHARACTER_VERSION,
  packCharacter,
  readPackedNames,
  unpackCharacter,
} from './pack-character.ts';
export {
  AS_IN_FILE,
  getPlacementTurn,
  type Placement,
  placeCharacter,
  UP_AXES,
  type UpAxis,
} from './place-character.ts';
export { Pose } from './pose.ts';
export { bindSection, poseSection } from './pose-section.ts';
export { dropUnusedVertices, rebuildSection } from './rebuild-section.ts';
export { normaliseQuaternion, sampleTrack, slerpShortest } from './sample-track.ts';
export { findSection, type SectionName } from './section-name.ts';
export { listMorphNames, type MorphValues, shapeCharacter } from './shape-character.ts';
export { shareArrays } from './share-arrays.ts';
export {
  adoptRig,
  adoptSections,
  isSameRig,
  type Rig,
  type SharedSection,
  shareRig,
  shareSections,
} from './share-sections.ts';
export { applyMorphs, computeSkinMatrices, type SkinnedRows, skinPoints } from './skinning.ts';
export { type JointTurn, turnJoints } from './turn-joints.ts';
export * from './weights/index.ts';
