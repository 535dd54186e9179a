import type { Document } from '@gltf-transform/core';
import type { AuthoredDocument, IntakeReport } from '../core/document/index.ts';
import {
  adoptClips,
  type Character,
  type FigureSize,
  type FileScales,
  measureFigure,
  Pose,
  restoreScales,
  type Section,
} from '../core/rig/index.ts';
import type { RawGltf } from './gltf/raw-gltf.ts';
import { readGltf } from './gltf/read-gltf.ts';
import type { RepairLog } from './gltf/repair-log.ts';
import { IntakeError } from './intake-error.ts';
import { readObj } from './obj/read-obj.ts';
import { readShipment } from './shipment/read-shipment.ts';
import { READ_LIMITS, type ReadLimits, type SourceFile } from './source-file.ts';

/** The file as it came, all in its own units. */
export interface ReadSource {
  document: Document;
  json: RawGltf;
  /** How many metres its units are. */
  scales: FileScales | null;
  /** What was read of it, with added clips. */
  character: Character;
}

export interface ReadCharacter {
  /** In metres in every space. */
  character: Character;
  report: IntakeReport;
  /** What to ship from; null for OBJ. */
  source: ReadSource | null;
  /** Cloth data that came with the file (a shipped one), or null. */
  authored: AuthoredDocument | null;
}

/**
 * Reads a character from the files that were dropped together: one .glb, one .gltf with its files, or one .obj.
 * @throws {IntakeError} for anything that keeps it from being used.
 */
export async function readCharacter(
  files: readonly SourceFile[],
  limits: ReadLimits = READ_LIMITS,
): Promise<ReadCharacter> {
  const own = files.filter(({ isClips }) => !isClips);
  const read = await readOwnFiles(own, limits);
  const added = files.filter(({ isClips }) => isClips);
  const isMain = ({ name }: SourceFile): boolean => /\.(glb|gltf)$/i.test(name);
  if (added.length > 0 && !added.some(isMain)) {
    throw new IntakeError(
      'unknown-format',
      added[0]!.name,
      '',
      'Clips come as .glb, or .gltf with its files.',
      'Export them as binary glTF 2.0 (.glb).',
    );
  }
  for (const file of added.filter(isMain)) await addClips(read, file, added, limits);
  return read;
}

async function readOwnFiles(files: readonly SourceFile[], limits: ReadLimits): Promise<ReadCharacter> {
  const main = findMainFile(files);
  const bytes = files.reduce((sum, file) => sum + file.bytes.length, 0);
  if (bytes > limits.bytes) {
    throw new IntakeError(
      'too-large',
      main.name,
      '',
      `${Math.round(bytes / 2 ** 20)} MiB; at most ${Math.round(limits.bytes / 2 ** 20)} are read.`,
      'Split the file.',
    );
  }
  const others = files.filter((file) => file !== main);
  if (main.name.toLowerCase().endsWith('.obj')) {
    const { character, log } = readObj(main, limits);
    return {
      character,
      report: makeReport(character, log, 'OBJ', null, files),
      source: null,
      authored: null,
    };
  }
  const { character, asInFile, scales, document, json, isBinary, log } = await readGltf(main, others, limits);
  const format = isBinary ? 'glTF binary' : 'glTF';
  const report = makeReport(character, log, format, json.asset?.generator ?? null, files);
  const shipment = readShipment(character, document, json, scales, main.name);
  const inFile = asInFile.sections.filter((_, s) => shipment?.kept[s] ?? true);
  return {
    character: shipment ? { ...character, sections: shipment.sections } : character,
    report,
    source: { document, json, scales, character: { ...asInFile, sections: inFile } },
    authored: shipment?.authored ?? null,
  };
}

/**
 * Takes the clips of another file over; the report tells what it did not find.
 * @throws {IntakeError} When it has no clips, or none that moves a joint of the character.
 */
async function addClips(
  read: ReadCharacter,
  file: SourceFile,
  added: readonly SourceFile[],
  limits: ReadLimits,
): Promise<void> {
  const companions = added.filter((one) => one !== file);
  const other = await readGltf(file, companions, limits, false);
  if (other.character.clips.length === 0) {
    throw new IntakeError('no-clips', file.name, '', 'It has no clips.', 'Export it with its animation.');
  }
  const { clips, lostJoints, foundJoints } = adoptClips(read.character, other.character);
  if (foundJoints === 0) {
    throw new IntakeError(
      'other-skeleton',
      file.name,
      '',
      `Its clips move ${lostJoints.length} joints, and the character has none of their names (${lostJoints.slice(0, 3).join(', ')}…).`,
      'Export the clips on the skeleton of this character, with its joint names.',
    );
  }
  const { character, source } = read;
  if (source?.scales)
    source.character.clips.push(...restoreScales({ ...character, clips }, source.scales).clips);
  character.clips.push(...clips);
  const { report } = read;
  report.files.push({ name: file.name, bytes: file.bytes.length });
  report.counts.clips = read.character.clips.length;
  report.clips.push(
    ...clips.map(({ name, duration, tracks }) => ({
      name,
      seconds: duration,
      tracks: tracks.length,
      from: file.name,
    })),
  );
  if (lostJoints.length > 0) {
    report.odd.push({
      code: 'lost-joints',
      where: file.name,
      sentence: `${lostJoints.length} of the joints that its clips move are not in this character and stay still: ${lostJoints.slice(0, 6).join(', ')}.`,
    });
  }
}

function findMainFile(files: readonly SourceFile[]): SourceFile {
  if (files.length === 0)
    throw new IntakeError('no-file', '', '', 'No file came.', 'Choose a .glb, .gltf or .obj file.');
  const candidates = files.filter((file) => /\.(glb|gltf|obj)$/i.test(file.name));
  if (candidates.length === 1) return candidates[0]!;
  if (candidates.length > 1) {
    throw new IntakeError(
      'unknown-format',
      candidates[1]!.name,
      '',
      `${candidates.length} characters came at once.`,
      'Bring them in one at a time.',
    );
  }
  const first = files[0]!;
  const looksBinary =
    first.bytes.length >= 4 && String.fromCharCode(...first.bytes.subarray(0, 4)) === 'glTF';
  if (files.length === 1 && looksBinary) return first;
  throw new IntakeError(
    'unknown-format',
    first.name,
    '',
    'It is none of .glb, .gltf and .obj.',
    'Export as binary glTF 2.0 (.glb).',
  );
}

/** Taller or smaller than this (metres) and the file is probably not in metres. */
const LIKELY_HEIGHT = { least: 0.3, most: 5 };

function makeReport(
  character: Character,
  log: RepairLog,
  format: IntakeReport['format'],
  generator: string | null,
  files: readonly SourceFile[],
): IntakeReport {
  const size = tellSize(measureFigure(character));
  const sizeAsPlaced = tellSize(measureFigure(character, new Pose(character)));
  if (size.height > LIKELY_HEIGHT.most || size.height < LIKELY_HEIGHT.least) {
    log.note(
      'size',
      '',
      `The character is ${Number(size.height.toPrecision(3)).toLocaleString('en')} m tall; glTF counts in metres. Check the unit of the export.`,
    );
  }
  const joints = new Set(
    character.skins.flatMap((skin) => (skin.name.startsWith('rides on ') ? [] : [...skin.joints])),
  );
  const sections = character.sections.map((section) => ({
    name: section.name,
    mesh: section.meshName,
    material: section.materialName,
    vertices: section.positions.length / 3,
    triangles: section.triangles.length / 3,
    influences: section.isRigid ? 0 : countInfluences(section),
    morphs: section.morphs.length,
    isRigid: section.isRigid,
  }));
  return {
    files: files.map((file) => ({ name: file.name, bytes: file.bytes.length })),
    format,
    generator,
    size,
    sizeAsPlaced,
    counts: {
      nodes: character.skeleton.names.length,
      joints: joints.size,
      skins: character.skins.filter((skin) => !skin.name.startsWith('rides on ')).length,
      sections: sections.length,
      vertices: sections.reduce((sum, section) => sum + section.vertices, 0),
      triangles: sections.reduce((sum, section) => sum + section.triangles, 0),
      clips: character.clips.length,
      morphs: sections.reduce((most, section) => Math.max(most, section.morphs), 0),
    },
    sections,
    clips: character.clips.map((clip) => ({
      name: clip.name,
      seconds: clip.duration,
      tracks: clip.tracks.length,
    })),
    decoded: [...log.decoded],
    repairs: log.repairs,
    odd: log.odd,
  };
}

function tellSize({ width, height, depth }: FigureSize): IntakeReport['size'] {
  return { width, height, depth };
}

/** Most joints that any vertex of a section really follows. */
function countInfluences({ influences, jointWeights }: Section): number {
  let most = 0;
  for (let from = 0; from < jointWeights.length; from += influences) {
    let used = 0;
    for (let i = from; i < from + influences; i++) if (jointWeights[i]! > 0) used++;
    most = Math.max(most, used);
  }
  return most;
}
