import type { WeldedIndex } from '../../core/mesh/index.ts';
/** What the brush is over, for the reading beside the cursor. */
export interface CursorReading {
  x: number;
  y: number;
  /** Of the channel, or the weight of a joint. */
  value: number;
  point: WeldedIndex;
  /** Name, when the value is a weight. */
  joint?: string;
}
