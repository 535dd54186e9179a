import type { RecordId } from '../../core/document/index.ts';
import {
  type BrushMode,
  CHANNEL_KINDS,
  CHANNELS,
  type ChannelKind,
  type Falloff,
} from '../../core/reach/index.ts';
import type { JointTurn } from '../../core/rig/index.ts';
import type { FitWork } from './fit-work.ts';
import type { WeightWork } from './weight-work.ts';

/** `levels` has no knot of its own: it is a part of the budget. */
export type Stage =
  | 'intake'
  | 'garment'
  | 'simMesh'
  | 'reach'
  | 'bodies'
  | 'fabric'
  | 'trials'
  | 'ship'
  | 'levels';

/** The stages that exist, with the key of their place in the whole order of work. */
export const STAGES: readonly { stage: Stage; label: string; key: string }[] = [
  { stage: 'intake', label: 'Intake', key: '1' },
  { stage: 'garment', label: 'Garment', key: '2' },
  { stage: 'simMesh', label: 'Sim mesh', key: '3' },
  { stage: 'reach', label: 'Reach', key: '4' },
  { stage: 'bodies', label: 'Bodies', key: '5' },
  { stage: 'fabric', label: 'Fabric', key: '6' },
  { stage: 'trials', label: 'Trials', key: '7' },
  { stage: 'ship', label: 'Ship', key: '8' },
];

export type Visibility = 'shown' | 'ghost' | 'hidden';

export interface Marks {
  kind: string;
  sectionIndex: number;
  vertices: Uint32Array;
}

/** Faces of a section that are being picked. */
export interface FacePick {
  /** To be cut out, or for a body to be fitted to. */
  purpose: 'cut' | 'fit';
  sectionIndex: number;
  /** Of the section's faces, see `createSectionMesh`. Replaced with every change. */
  isPicked: Uint8Array;
  /** Brush, m. */
  radius: number;
  tool: 'brush' | 'lasso';
  /** The lasso takes what lies behind, too. */
  isThrough: boolean;
  isErasing: boolean;
}

/** How the Reach stage paints. */
export interface Brush {
  mode: BrushMode;
  /** What `set` goes to and `add` adds: metres, shares or factors, of each channel. */
  values: Readonly<Record<ChannelKind, number>>;
  /** Of `scale`. */
  factor: number;
  /** Metres. */
  radius: number;
  strength: number;
  falloff: Falloff;
  /** Only the side that is seen. */
  visibleSide: boolean;
  /** Along the surface, not through the air. */
  followsSurface: boolean;
  /** On the other side of the character, too. */
  mirrors: boolean;
}

/** What the user is looking at and working with; not saved with the character. */
export interface Session {
  stage: Stage;
  garmentId: RecordId | null;
  /** Selected bodies; the last is the one with handles. */
  bodyIds: readonly RecordId[];
  /** A body set that is drawn beside the one of the selected garment. */
  besideSetId: RecordId | null;
  isPlaying: boolean;
  speed: number;
  /** Simulated seconds per second, 0 stands still. */
  pace: number;
  /** Index of the clip, null for the bind pose. */
  clip: number | null;
  /** What is looked at and painted on the Reach stage. */
  channel: ChannelKind;
  brush: Brush;
  /** Section index → how it is drawn; shown when absent. */
  visibility: ReadonlyMap<number, Visibility>;
  /** Only this section is drawn. */
  isolated: number | null;
  showTriangles: boolean;
  /** Vertices of a section that a finding is about. */
  marks: Marks | null;
  pick: FacePick | null;
  /** What is worked on by hand: its weights or its shape. */
  hand: WeightWork | FitWork | null;
  /** Garment that is let fall to take a new shape from. */
  drapedId: RecordId | null;
  /** Joints turned beside the clip. */
  turns: readonly JointTurn[];
  /** A place that the eye turns to when it becomes another, world space. */
  focus: readonly [number, number, number] | null;
  showBodies: boolean;
  /** Sections without the looks of their file. */
  isClay: boolean;
  /** Bare skin and overhang as colours on the Bodies stage: in bind pose, or where it is worst over the clips. */
  fitMap: 'off' | 'bind' | 'clips';
  showWhiskers: boolean;
  /** Fewer picture elements and no smoothing of edges, for slow machines. */
  lightDrawing: boolean;
  /** Only the viewport and the reel are on the screen. */
  isFullView: boolean;
}

export const SESSION_START: Session = {
  stage: 'intake',
  garmentId: null,
  bodyIds: [],
  besideSetId: null,
  isPlaying: true,
  speed: 1,
  pace: 1,
  clip: null,
  channel: 'maxDistance',
  brush: {
    mode: 'value',
    values: Object.fromEntries(
      CHANNEL_KINDS.map((kind) => [kind, CHANNELS[kind].brushValue]),
    ) as Brush['values'],
    factor: 1.2,
    radius: 0.08,
    strength: 0.6,
    falloff: 'smooth',
    visibleSide: true,
    followsSurface: true,
    mirrors: false,
  },
  visibility: new Map(),
  isolated: null,
  showTriangles: false,
  marks: null,
  pick: null,
  hand: null,
  drapedId: null,
  turns: [],
  focus: null,
  showBodies: false,
  isClay: false,
  fitMap: 'off',
  showWhiskers: true,
  lightDrawing: false,
  isFullView: false,
};
