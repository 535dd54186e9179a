/** A quantity that maps hold at every welded vertex: all that is known of one stands in its file. */
export interface Channel {
  label: string;
  /** Unit that values are shown in, and how many of it one unit of the value makes (values are SI, or plain factors). */
  unit: 'cm' | 'mm' | '%' | '×';
  perUnit: number;
  /** No value leaves it. */
  range: readonly [low: number, high: number];
  /** What a vertex has without a map, and what erasing goes back to. */
  defaultValue: number;
  /** What a brush begins with. */
  brushValue: number;
  /** The legend's lowest top: an empty map is shown against it. */
  leastTop: number;
  /** In one sentence, what a higher value does. */
  effect: string;
  /** Vertex attribute of a shipped file that holds it, one float a vertex. */
  attribute: `_${string}`;
  /** Values from here on are no measure, but mean this. */
  none?: { from: number; words: string };
  /** True of a factor of some of the fabric's settings. */
  isScale?: boolean;
  /** True of what a preparation step reads: what it makes is shipped, the map is not. */
  isForMaking?: boolean;
}
