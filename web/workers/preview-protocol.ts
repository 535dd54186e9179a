import type { DocumentPatch, RecordId } from '../../core/document/index.ts';
import type { WeldedIndex } from '../../core/mesh/index.ts';
import type { Character, JointTurn, Rig, Section, SharedSection } from '../../core/rig/index.ts';
import type { CompiledEntry, RunTimes, RunWork } from '../../core/run/index.ts';

export type PreviewRequest =
  /** One patch for each side: several settings of one character, in one pose, on one clock. */
  | { kind: 'load'; character: Character; patches: DocumentPatch[]; clip: number | null }
  /** With the sections of another preparation of the character when it changed with the patch. */
  | {
      kind: 'patch';
      patch: DocumentPatch;
      side: number;
      sections?: readonly SharedSection[];
      /** Null: joints and clips stay. */
      rig?: Rig | null;
      compiled?: readonly CompiledEntry[];
    }
  /** `speed` is of the clip; `pace` of everything: simulated seconds per second, 0 stands still. */
  | { kind: 'play'; isPlaying: boolean; speed: number; pace: number }
  /** One simulated frame, when everything stands still. */
  | { kind: 'step' }
  /** Goes over in so many seconds. */
  | { kind: 'clip'; clip: number | null; blendSeconds: number }
  | { kind: 'seek'; time: number }
  /** Turns joints beside the clip, all others not. */
  | { kind: 'turn'; turns: readonly JointTurn[] }
  /** Takes hold of the cloth at a welded vertex. */
  | { kind: 'grip'; garmentId: RecordId; point: WeldedIndex }
  /** Draws what is held to a place; null lets go. */
  | { kind: 'pull'; garmentId: RecordId; position: [number, number, number] | null }
  /** Lets one garment fall freely against the whole body; null ends it. */
  | { kind: 'drape'; garmentId: RecordId | null }
  /** Holds garments at the levels of detail that they have at a size on the screen, px; null: all as they are. */
  | { kind: 'hold'; pixels: number | null }
  /** Whether frames tell where cloth lies on bodies. */
  | { kind: 'contacts'; isOn: boolean }
  /** Puts all cloth back on its skinned place. */
  | { kind: 'reset' };

/** Where the vertices of a drawn section stand, [v, 3] each. */
export interface RenderLayout {
  sectionIndex: number;
  vertexCount: number;
  positions: number;
  normals: number;
}

/** Where things stand in a frame, in floats. */
export interface FrameLayout {
  /** World matrices of all nodes, [nodes, 16]. */
  nodes: number;
  /** Per skin: [joints, 16]. */
  skins: number[];
  /** Per section: weights of its morph targets, [morphs]. */
  morphs: number[];
  garments: {
    id: RecordId;
    side: number;
    sectionIndex: number;
    vertexCount: number;
    pointCount: number;
    /** Render vertices: [v, 3] each. */
    positions: number;
    normals: number;
    /** Skinned places of the points, [p, 4]. */
    targets: number;
    /** Sections drawn in place of the simulated one. */
    renders: RenderLayout[];
  }[];
  /** How many contacts there are, and then their rows, see `CONTACT`. */
  contacts: number;
  /** Sim meshes of levels of detail that are held, behind the sections of the character. */
  levelSections: readonly Section[];
  /** Floats of one frame. */
  size: number;
}

export interface PreviewStats {
  /** What a frame takes when nothing disturbs it, from those of the last three seconds, ms. */
  times: RunTimes;
  /** What was done since the last stats; of before when nothing moved. Null before the first frame. */
  work: RunWork | null;
  /** What a quick and a slow frame of those took, ms. */
  quickAndSlow: [number, number];
  /** With the share of its bend stiffness that its mesh can hold, and the mean length of its edges, m. */
  garments: {
    id: RecordId;
    /** Shares of the fabric's stiffness that are felt on the garment's mesh. */
    heldBend: number;
    heldStretch: number;
    spacing: number;
  }[];
  /** Simulated frames in the last second of the worker's own clock. */
  framesPerSecond: number;
  /** Threads that garments are computed on. */
  cores: number;
  /** Frames that the machine had no time for since the last stats. */
  skippedFrames: number;
  recoveredFrames: number;
}

export type PreviewReply =
  | { kind: 'frames'; buffer: SharedArrayBuffer; layout: FrameLayout; travels: [number, number][] }
  | { kind: 'stats'; stats: PreviewStats }
  /** Bodies by their numbers in the rows of contacts; numbers stay what they are, the list grows. */
  | { kind: 'bodies'; ids: readonly string[] }
  | { kind: 'failed'; message: string };

/** A row of a contact: where on the cloth, the body's outward normal there, and the body's number. World space, m. */
export const CONTACT = { position: 0, normal: 3, body: 6, length: 7 } as const;
/** Contacts that a frame can tell of; of more the first. */
export const MOST_CONTACTS = 512;

/** The shared block begins with these integers; then come three frames, so that the one being read is never written. */
export const HEADER = { newest: 0, count: 1, clip: 2, length: 16 } as const;
export const FRAME_SLOTS = 3;
/** Each frame begins with its time in the clip, s, and then its content as laid out. */
export const FRAME_HEAD = { time: 0, length: 4 } as const;

export function getFrameOffset(layout: FrameLayout, slot: number): number {
  return HEADER.length + slot * (FRAME_HEAD.length + layout.size);
}
