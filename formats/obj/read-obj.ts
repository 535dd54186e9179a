import { computeVertexNormals } from '../../core/mesh/index.ts';
import type { Character, Section, Skin } from '../../core/rig/index.ts';
import { decodeText } from '../decode-text.ts';
import { RepairLog } from '../gltf/repair-log.ts';
import { IntakeError } from '../intake-error.ts';
import { joinSeams } from '../join-seams.ts';
import type { ReadLimits, SourceFile } from '../source-file.ts';

interface Piece {
  object: string;
  material: string;
  /** Corners as "v/vt/vn" numbers from zero, -1 where missing; three a triangle. */
  corners: number[];
}

/**
 * Reads a Wavefront OBJ as an unskinned character: one section for each object and material, polygons cut into
 * fans, everything on one node. Curves, points and lines are left out and reported.
 *
 * @throws {IntakeError} with the line number, for a line that cannot be read.
 */
export function readObj(file: SourceFile, limits: ReadLimits): { character: Character; log: RepairLog } {
  const log = new RepairLog();
  const positions: number[] = [];
  const uvs: number[] = [];
  const pieces = parse(file, limits, positions, uvs, log);
  const skin: Skin = {
    name: 'rides on root',
    joints: Uint32Array.of(0),
    inverseBinds: Float32Array.of(1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1),
  };
  const sections = pieces
    .filter((piece) => piece.corners.length > 0)
    .map((piece, index) => toSection(piece, index, positions, uvs));
  for (const { name, positions: places, triangles } of file.keepsSeams ? [] : sections)
    joinSeams(places, triangles, name, log);
  if (sections.length === 0) {
    throw new IntakeError(
      'no-geometry',
      file.name,
      '',
      positions.length > 0
        ? 'It has vertices, but no face between them.'
        : 'No line of it is a vertex or a face of an OBJ file.',
      positions.length > 0 ? 'Export the mesh with its faces.' : 'Export the mesh as OBJ or glTF again.',
    );
  }
  const character: Character = {
    name: file.name.replace(/\.[^.]+$/, ''),
    skeleton: {
      names: ['root'],
      parents: Int32Array.of(-1),
      translations: new Float64Array(3),
      rotations: Float64Array.of(0, 0, 0, 1),
      scales: Float64Array.of(1, 1, 1),
    },
    skins: [skin],
    sections,
    clips: [],
  };
  return { character, log };
}

function parse(
  file: SourceFile,
  limits: ReadLimits,
  positions: number[],
  uvs: number[],
  log: RepairLog,
): Piece[] {
  const pieces: Piece[] = [];
  let object = '';
  let material = '';
  let piece: Piece | null = null;
  let polygons = 0;
  const leftOut = new Set<string>();
  const lines = decodeText(file.bytes)
    .replace(/\\(\r\n|\r|\n)/g, ' ')
    .split(/\r\n|\r|\n/);
  lines.forEach((line, index) => {
    const [keyword, ...words] = line.trim().split(/\s+/);
    const where = `line ${index + 1}`;
    if (keyword === 'v') positions.push(...readNumbers(words, 3, file.name, where));
    else if (keyword === 'vt')
      uvs.push(...readNumbers(words.length === 1 ? [...words, '0'] : words, 2, file.name, where));
    else if (keyword === 'o' || keyword === 'g') object = words.join(' ');
    else if (keyword === 'usemtl') material = words.join(' ');
    else if (keyword === 'f') {
      if (!piece || piece.object !== object || piece.material !== material) {
        piece = pieces.find((known) => known.object === object && known.material === material) ?? null;
        if (!piece) pieces.push((piece = { object, material, corners: [] }));
      }
      if (words.length > 3) polygons++;
      addFace(piece, words, positions.length / 3, uvs.length / 2, file.name, where);
    } else if (keyword && /^(p|l|curv2?|surf|cstype)$/.test(keyword)) leftOut.add(keyword);
    if (positions.length > 3 * limits.vertices) {
      throw new IntakeError(
        'too-large',
        file.name,
        where,
        `More than ${limits.vertices.toLocaleString('en')} vertices.`,
        'Reduce the mesh first.',
      );
    }
  });
  if (polygons > 0) log.decoded.add(`${polygons.toLocaleString('en')} polygons cut into triangles`);
  if (leftOut.size > 0)
    log.note('not-triangles', '', `Points, lines or curves (${[...leftOut].join(', ')}) are left out.`);
  return pieces;
}

function readNumbers(words: string[], count: number, file: string, where: string): number[] {
  const numbers = words.slice(0, count).map(Number);
  if (numbers.length < count || !numbers.every(Number.isFinite)) {
    throw new IntakeError(
      'bad-syntax',
      file,
      where,
      `"${words.join(' ')}" is not ${count} numbers.`,
      'Repair that line or export again.',
    );
  }
  return numbers;
}

function addFace(
  piece: Piece,
  words: string[],
  placeCount: number,
  uvCount: number,
  file: string,
  where: string,
): void {
  if (words.length < 3) {
    throw new IntakeError(
      'bad-syntax',
      file,
      where,
      `A face of ${words.length} corners.`,
      'Repair that line or export again.',
    );
  }
  const corners = words.map((word) => {
    const [v, vt] = word.split('/');
    return [
      resolveIndex(v, placeCount, file, where),
      vt ? resolveIndex(vt, uvCount, file, where) : -1,
    ] as const;
  });
  for (let i = 2; i < corners.length; i++) {
    piece.corners.push(...corners[0]!, ...corners[i - 1]!, ...corners[i]!);
  }
}

/** Counts from one; negative numbers count back from the last. */
function resolveIndex(word: string | undefined, count: number, file: string, where: string): number {
  const number = Number(word);
  const index = number < 0 ? count + number : number - 1;
  if (!Number.isInteger(number) || index < 0 || index >= count) {
    throw new IntakeError(
      'index-out-of-range',
      file,
      where,
      `Corner "${word}" does not exist; ${count} are defined so far.`,
      'Export the file again.',
    );
  }
  return index;
}

function toSection(piece: Piece, index: number, ofFile: number[], uvs: number[]): Section {
  const vertexOfCorner = new Map<string, number>();
  const positions: number[] = [];
  const coordinates: number[] = [];
  const triangles: number[] = [];
  for (let c = 0; c < piece.corners.length; c += 2) {
    const v = piece.corners[c]!;
    const vt = piece.corners[c + 1]!;
    const key = `${v}/${vt}`;
    let vertex = vertexOfCorner.get(key);
    if (vertex === undefined) {
      vertex = positions.length / 3;
      vertexOfCorner.set(key, vertex);
      positions.push(ofFile[3 * v]!, ofFile[3 * v + 1]!, ofFile[3 * v + 2]!);
      // OBJ counts V upward from the bottom of the image, we (as glTF) downward from its top.
      coordinates.push(vt < 0 ? 0 : uvs[2 * vt]!, vt < 0 ? 0 : 1 - uvs[2 * vt + 1]!);
    }
    triangles.push(vertex);
  }
  const flat = Float32Array.from(positions);
  const faces = Uint32Array.from(triangles);
  const vertexCount = flat.length / 3;
  const jointWeights = new Float32Array(4 * vertexCount);
  for (let v = 0; v < vertexCount; v++) jointWeights[4 * v] = 1;
  const name = [piece.object, piece.material].filter(Boolean).join(' / ') || `part ${index}`;
  return {
    name,
    meshIndex: index,
    meshName: name,
    primitiveIndex: 0,
    materialName: piece.material,
    node: 0,
    skin: 0,
    isRigid: true,
    positions: flat,
    normals: computeVertexNormals(flat, faces, new Float32Array(flat.length)),
    uvs: uvs.length > 0 ? Float32Array.from(coordinates) : null,
    colors: null,
    influences: 4,
    jointIndices: new Uint16Array(4 * vertexCount),
    jointWeights,
    triangles: faces,
    morphs: [],
    morphWeights: new Float32Array(0),
    baseColor: [0.8, 0.8, 0.8, 1],
    isTwoSided: true,
  };
}
