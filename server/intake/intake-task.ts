import { profileFromTimings, readTimings } from '../../core/budget/index.ts';
import type { CostProfile, UnitCosts } from '../../core/cost/index.ts';
import type { AuthoredDocument, IntakeReport } from '../../core/document/index.ts';
import { type SourceReview, transferDocument } from '../../core/prepare/index.ts';
import { PACKED_CHARACTER_VERSION, packCharacter } from '../../core/rig/index.ts';
import { type ValidationSummary, validateGlb } from '../../formats/gltf/validate-glb.ts';
import {
  IntakeError,
  type IntakeErrorData,
  type ReadCharacter,
  readCharacter,
  type ShippedCrowd,
  type SourceFile,
  writeShipment,
  writeTargetKit,
} from '../../formats/index.ts';
import { readBasePictures } from '../../formats/looks/read-base-pictures.ts';
import { renderThumbnail } from '../../formats/png/render-thumbnail.ts';
import { finish } from '../work/jobs/finish.ts';

/** Heavy work on files, done in worker threads; everything in and out can be cloned. */
export type IntakeTask =
  | { kind: 'read'; files: SourceFile[] }
  | {
      kind: 'ship';
      files: SourceFile[];
      authored: AuthoredDocument;
      revision: number;
      /** What its levels were measured to cost; null when they were not. */
      crowd: ShippedCrowd | null;
    }
  /** What becomes of everything authored on one version of a character with another. */
  | {
      kind: 'compare';
      files: SourceFile[];
      before: SourceFile[];
      authored: AuthoredDocument;
      renames: Record<string, string>;
      /** Whether the new version is to be stored, and not only compared. */
      isTaken: boolean;
    }
  | { kind: 'targetKit' }
  | { kind: 'timings'; csv: string; base: UnitCosts };

export interface CompareOutcome {
  review: SourceReview;
  /** Records that are other than before, with the numbers kept beside them. */
  changed: AuthoredDocument;
  /** The new version read, when that was asked for. */
  read: ReadOutcome | null;
}

export interface KitOutcome {
  bytes: Uint8Array;
}

export type TaskOutcome = ReadOutcome | ShipOutcome | CompareOutcome | KitOutcome | CostProfile;

export interface ReadOutcome {
  packed: Uint8Array;
  packedVersion: number;
  report: IntakeReport;
  thumbnail: Uint8Array;
  /** Metres in a unit of the file, of joints whose space has other units. */
  jointScales: Record<string, number>;
  authored: AuthoredDocument | null;
}

export interface ShipOutcome {
  bytes: Uint8Array;
  validation: ValidationSummary;
}

/** An intake error as a value, since classes do not cross threads. */
export type IntakeOutcome<T> = { ok: true; value: T } | { ok: false; error: IntakeErrorData };

export async function runIntakeTask(task: IntakeTask): Promise<IntakeOutcome<TaskOutcome>> {
  try {
    return { ok: true, value: await run(task) };
  } catch (error) {
    if (error instanceof IntakeError) return { ok: false, error: error.toJSON() };
    throw error;
  }
}

async function run(task: IntakeTask): Promise<TaskOutcome> {
  switch (task.kind) {
    case 'read':
      return read(task.files);
    case 'ship':
      return ship(task);
    case 'compare':
      return compare(task);
    case 'targetKit':
      return { bytes: await writeTargetKit() };
    case 'timings': {
      const now = new Date().toISOString();
      return finish(profileFromTimings(readTimings(task.csv), task.base, now));
    }
  }
}

async function compare({
  files,
  before,
  authored,
  renames,
  isTaken,
}: Extract<IntakeTask, { kind: 'compare' }>): Promise<CompareOutcome> {
  const [from, to] = [await readCharacter(before), await readCharacter(files)];
  const { document, review } = transferDocument(from.character, to.character, authored, renames);
  const changed: AuthoredDocument = { records: new Map(), arrays: new Map() };
  for (const [id, record] of document.records) {
    const [was, is] = [authored.arrays.get(id), document.arrays.get(id)];
    const isSame = JSON.stringify(record) === JSON.stringify(authored.records.get(id)) && was === is;
    if (isSame) continue;
    changed.records.set(id, record);
    if (is) changed.arrays.set(id, is);
  }
  return { review, changed, read: isTaken ? toOutcome(to, files) : null };
}

async function read(files: SourceFile[]): Promise<ReadOutcome> {
  return toOutcome(await readCharacter(files), files);
}

function toOutcome(
  { character, report, source, authored }: ReadCharacter,
  files: readonly SourceFile[],
): ReadOutcome {
  const { names } = character.skeleton;
  const scales = names.map((name, node): [string, number] => [name, source?.scales?.nodes[node] ?? 1]);
  const thumbnail = renderThumbnail(character, {
    width: 240,
    height: 300,
    pictures: readBasePictures(character, files),
  });
  return {
    packed: packCharacter(character),
    packedVersion: PACKED_CHARACTER_VERSION,
    report,
    thumbnail,
    jointScales: Object.fromEntries(scales.filter(([, scale]) => scale !== 1)),
    authored,
  };
}

async function ship({
  files,
  authored,
  revision,
  crowd,
}: Extract<IntakeTask, { kind: 'ship' }>): Promise<ShipOutcome> {
  const bytes = await writeShipment(await readCharacter(files), authored, revision, crowd ?? undefined);
  return { bytes, validation: await validateGlb(bytes) };
}
