export { toDenseWeights, toSparseWeights } from './dense-weights.ts';
export { handOverWeights } from './hand-over.ts';
export { smoothWeights } from './smooth-weights.ts';
export {
  TRANSFER_DEFAULTS,
  type TransferOptions,
  type TransferOutcome,
  transferFields,
} from './transfer-fields.ts';
