export { type BodyOfFile, BodySetError, type BodySetFile, parseBodySet } from './body-set-format.ts';
export { measureBones } from './measure-bone.ts';
export { type PlacedBody, placeBodySet, toSetRecords } from './place-body-set.ts';
export { writeBodySet } from './write-body-set.ts';
