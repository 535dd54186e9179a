export { toDenseWeights, toSparseWeights } from './dense-weights.ts';
export { findDominantJoints } from './dominant-joints.ts';
export { handOverWeights } from './hand-over.ts';
export { setJointWeights } from './set-joint-weights.ts';
export { smoothWeights } from './smooth-weights.ts';
export {
  TRANSFER_DEFAULTS,
  type TransferOptions,
  type TransferOutcome,
  transferFields,
} from './transfer-fields.ts';
