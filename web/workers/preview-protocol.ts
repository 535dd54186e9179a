import type { AuthoredRecord, RecordId } from '../../core/document/index.ts';
import type { SparseChange } from '../../core/reach/index.ts';
import type { RunTimes } from '../../core/run/index.ts';

/** A diff as it crosses to a worker: only what is new. */
export interface DocumentPatch {
  records: [RecordId, AuthoredRecord | null][];
  arrays: [RecordId, Pick<SparseChange, 'indices' | 'after'> | Float32Array | null][];
}

export type PreviewRequest =
  | { kind: 'load'; packed: ArrayBuffer; patch: DocumentPatch; clip: number | null }
  | { kind: 'patch'; patch: DocumentPatch }
  | { kind: 'play'; isPlaying: boolean; speed: number }
  | { kind: 'clip'; clip: number | null }
  | { kind: 'seek'; time: number }
  /** Puts all cloth back on its skinned place. */
  | { kind: 'reset' };

/** Where things stand in a frame, in floats. */
export interface FrameLayout {
  /** World matrices of all nodes, [nodes, 16]. */
  nodes: number;
  /** Per skin: [joints, 16]. */
  skins: number[];
  garments: {
    id: RecordId;
    sectionIndex: number;
    vertexCount: number;
    pointCount: number;
    /** Render vertices: [v, 3] each. */
    positions: number;
    normals: number;
    /** Skinned places of the points, [p, 4]. */
    targets: number;
  }[];
  /** Floats of one frame. */
  size: number;
}

export interface PreviewStats {
  /** Mean over the last half second. */
  times: RunTimes;
  garments: { id: RecordId; milliseconds: number }[];
  /** Simulated frames in the last second of the worker's own clock. */
  framesPerSecond: number;
  recoveredFrames: number;
}

export type PreviewReply =
  | { kind: 'frames'; buffer: SharedArrayBuffer; layout: FrameLayout; travels: [number, number][] }
  | { kind: 'stats'; stats: PreviewStats }
  | { kind: 'failed'; message: string };

/** The shared block begins with these integers; then come three frames, so that the one being read is never written. */
export const HEADER = { newest: 0, count: 1, clip: 2, length: 16 } as const;
export const FRAME_SLOTS = 3;
/** Each frame begins with its time in the clip, s, and then its content as laid out. */
export const FRAME_HEAD = { time: 0, length: 4 } as const;

export function getFrameOffset(layout: FrameLayout, slot: number): number {
  return HEADER.length + slot * (FRAME_HEAD.length + layout.size);
}
