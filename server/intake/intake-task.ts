import type { AuthoredDocument, IntakeReport } from '../../core/document/index.ts';
import { PACKED_CHARACTER_VERSION, packCharacter } from '../../core/rig/index.ts';
import { type ValidationSummary, validateGlb } from '../../formats/gltf/validate-glb.ts';
import {
  IntakeError,
  type IntakeErrorData,
  readCharacter,
  type SourceFile,
  writeShipment,
} from '../../formats/index.ts';
import { renderThumbnail } from '../../formats/png/render-thumbnail.ts';

/** Heavy work on files, done in worker threads; everything in and out can be cloned. */
export type IntakeTask =
  | { kind: 'read'; files: SourceFile[] }
  | { kind: 'ship'; files: SourceFile[]; authored: AuthoredDocument };

export interface ReadOutcome {
  packed: Uint8Array;
  packedVersion: number;
  report: IntakeReport;
  thumbnail: Uint8Array;
  authored: AuthoredDocument | null;
}

export interface ShipOutcome {
  bytes: Uint8Array;
  validation: ValidationSummary;
}

/** An intake error as a value, since classes do not cross threads. */
export type IntakeOutcome<T> = { ok: true; value: T } | { ok: false; error: IntakeErrorData };

export async function runIntakeTask(task: IntakeTask): Promise<IntakeOutcome<ReadOutcome | ShipOutcome>> {
  try {
    return {
      ok: true,
      value: task.kind === 'read' ? await read(task.files) : await ship(task.files, task.authored),
    };
  } catch (error) {
    if (error instanceof IntakeError) return { ok: false, error: error.toJSON() };
    throw error;
  }
}

async function read(files: SourceFile[]): Promise<ReadOutcome> {
  const { character, report, authored } = await readCharacter(files);
  const thumbnail = renderThumbnail(character, { width: 240, height: 300 });
  return {
    packed: packCharacter(character),
    packedVersion: PACKED_CHARACTER_VERSION,
    report,
    thumbnail,
    authored,
  };
}

async function ship(files: SourceFile[], authored: AuthoredDocument): Promise<ShipOutcome> {
  const bytes = await writeShipment(await readCharacter(files), authored);
  return { bytes, validation: await validateGlb(bytes) };
}
