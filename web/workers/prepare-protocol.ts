import type { DocumentPatch, RecordId } from '../../core/document/index.ts';
import type { MeshFinding, SurfaceFigures } from '../../core/mesh/index.ts';
import type { ShapeFit, StepProblem } from '../../core/prepare/index.ts';
import type { Character, SectionName, SharedSection } from '../../core/rig/index.ts';
import type { BindingError } from '../../core/run/index.ts';

/** Painted values that go over from one section to another, or to the same one after a step. */
export interface Carry {
  channelId: RecordId;
  from: SectionName;
  /** Null: the section that the tried step makes. */
  to: SectionName | null;
}

export type PrepareRequest =
  | { kind: 'load'; source: Character; patch: DocumentPatch }
  | { kind: 'patch'; patch: DocumentPatch }
  /** Replays the steps of the document. */
  | { kind: 'prepare'; token: number }
  /** What the character would be with a change; the document stays. `stepId`: the step that the change adds or alters. */
  | { kind: 'try'; token: number; patch: DocumentPatch; stepId: RecordId | null; carries: Carry[] }
  | { kind: 'check'; token: number; section: SectionName }
  /** Fit on the extremes of the body's shapes. */
  | { kind: 'checkShapes'; token: number; section: SectionName }
  /** Figures of a sim mesh and of what follows it. */
  | {
      kind: 'measure';
      token: number;
      section: SectionName;
      renders: readonly SectionName[];
      clip: number | null;
      /** Wished, m; null for a mesh that was not made here. */
      edgeLength: number | null;
    };

export interface SimMeshFigures extends SurfaceFigures {
  /** Greatest distance of the border from that of the section it was made over, m; null when that has none, or the mesh is a card. */
  borderDeviation: number | null;
  /** In bind pose of the worst of the drawn sections; over the clip of the one it was made over. */
  binding: BindingError;
}

export type PrepareReply =
  | { kind: 'progress'; token: number; share: number }
  | {
      kind: 'prepared';
      token: number;
      /** Of the prepared character; the rest of it is as in the source. */
      sections: SharedSection[];
      problems: StepProblem[];
      /** Channels carried over, and the surface of the tried step. */
      arrays: [RecordId, Float32Array][];
      /** The section that the tried step made. */
      made: SectionName | null;
    }
  | { kind: 'checked'; token: number; findings: MeshFinding[] }
  | { kind: 'shapesChecked'; token: number; fits: ShapeFit[] }
  | { kind: 'measured'; token: number; figures: SimMeshFigures }
  | { kind: 'failed'; token: number; message: string };
