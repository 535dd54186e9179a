import type { DocumentPatch, RecordId } from '../../core/document/index.ts';
import type { SidesVerdict, SurfaceComparison, SurfaceFigures } from '../../core/mesh/index.ts';
import type { StepFaults, StepProblem } from '../../core/prepare/index.ts';
import type { Rig, SectionName, SharedSection } from '../../core/rig/index.ts';
import type { BindingError, CompiledEntry } from '../../core/run/index.ts';
import type { Sides } from '../../core/steps/index.ts';

/** Painted values that go over from one section to another, or to the same one after a step. */
export interface MapTransfer {
  channelId: RecordId;
  from: SectionName;
  /** Null: the section that the tried step makes. */
  to: SectionName | null;
}

/** A change to be tried. `stepId`: the step that it adds or alters. */
export interface Trial {
  patch: DocumentPatch;
  stepId: RecordId | null;
  transfers: readonly MapTransfer[];
}

export interface PreparedReply {
  /** Of the prepared character. */
  sections: SharedSection[];
  /** Its joints and clips; null when they are those of the source. */
  rig: Rig | null;
  problems: StepProblem[];
  faults: StepFaults[];
  /** Channels carried over, and the surface of the tried step. */
  arrays: [RecordId, Float32Array][];
  /** The section that the tried step made. */
  made: SectionName | null;
  /** What was compiled of the garments: preview and trial need not. */
  compiled: CompiledEntry[];
}

/** What is to be measured of a sim mesh and of what follows it. */
export interface MeasureRequest {
  section: SectionName;
  renders: readonly SectionName[];
  clip: number | null;
  /** Wished, m; null for a mesh that was not made here. */
  edgeLength: number | null;
  /** Sections that it was made over, or would be, and which of their sides. */
  over: readonly SectionName[];
  sides: Sides;
}

export interface SimMeshFigures extends SurfaceFigures {
  /** With what it was made over; null for a mesh that was not made here. */
  comparison: SurfaceComparison | null;
  /** What is wrong with it then, a sentence each. */
  faults: readonly string[];
  /** Whether what it was made over has two sides. */
  verdict: SidesVerdict;
  /** In bind pose of the worst of the drawn sections; over the clip of the one it was made over. */
  binding: BindingError;
}

/** A body mesh, and the step that made it; null for one that came with the file. */
export interface BodyMeshRequest {
  section: SectionName;
  stepId: RecordId | null;
}

export interface BodyMeshFigures {
  vertices: number;
  triangles: number;
  /** Of the skin that it is made over from it, m; null for a mesh that came with the file. */
  deviation: { mean: number; p95: number; most: number } | null;
}

/** Told with the share that is done. */
export type OnProgress = (share: number) => unknown;
