import type { Document } from '@gltf-transform/core';
import type { AuthoredDocument, IntakeReport } from '../core/document/index.ts';
import { bindSection, type Character } from '../core/rig/index.ts';
import type { RawGltf } from './gltf/raw-gltf.ts';
import { readGltf } from './gltf/read-gltf.ts';
import type { RepairLog } from './gltf/repair-log.ts';
import { IntakeError } from './intake-error.ts';
import { readObj } from './obj/read-obj.ts';
import { readShipment } from './shipment/read-shipment.ts';
import { READ_LIMITS, type ReadLimits, type SourceFile } from './source-file.ts';

export interface ReadCharacter {
  character: Character;
  report: IntakeReport;
  /** The glTF document and its JSON, to ship from; null for OBJ. */
  source: { document: Document; json: RawGltf } | null;
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
  const { character, document, json, isBinary, log } = await readGltf(main, others, limits);
  const format = isBinary ? 'glTF binary' : 'glTF';
  const report = makeReport(character, log, format, json.asset?.generator ?? null, files);
  const authored = readShipment(character, document, json, main.name);
  return { character, report, source: { document, json }, authored };
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
  const size = measureSize(character);
  if (size.height > LIKELY_HEIGHT.most || size.height < LIKELY_HEIGHT.least) {
    log.note(
      'size',
      '',
      `The character is ${size.height.toPrecision(3)} m tall; glTF counts in metres. Check the unit of the export.`,
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
    influences: section.isRigid ? 0 : section.influences,
    morphs: section.morphs.length,
    isRigid: section.isRigid,
  }));
  return {
    files: files.map((file) => ({ name: file.name, bytes: file.bytes.length })),
    format,
    generator,
    size,
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

function measureSize(character: Character): IntakeReport['size'] {
  const low = [Infinity, Infinity, Infinity];
  const high = [-Infinity, -Infinity, -Infinity];
  character.sections.forEach((_, index) => {
    bindSection(character, index).forEach((value, i) => {
      if (value < low[i % 3]!) low[i % 3] = value;
      if (value > high[i % 3]!) high[i % 3] = value;
    });
  });
  const extent = (k: number): number => Math.max(0, high[k]! - low[k]!);
  return { width: extent(0), height: extent(1), depth: extent(2) };
}
