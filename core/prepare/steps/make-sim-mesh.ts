import { findInnerSide, listUvSeams, remesh, type Surface } from '../../mesh/index.ts';
import type { Character, Section } from '../../rig/index.ts';
import { chooseSectionName } from '../choose-section-name.ts';
import { resampleSection } from '../resample-section.ts';
import { createSectionMesh } from '../section-mesh.ts';

export interface SimMeshSettings {
  /** Metres. */
  edgeLength: number;
  /** 0 to 1. */
  borderDetail: number;
}

/** The surface that a sim mesh of some sections stands for: their points joined, without the inner sides. */
export function collectOuterSurface(
  character: Character,
  sectionIndices: readonly number[],
): Surface & { /** Edges along seams of the UVs, pairs of points. */ seams: Uint32Array } {
  const positions: number[] = [];
  const triangles: number[] = [];
  const seams: number[] = [];
  for (const index of sectionIndices) {
    const mesh = createSectionMesh(character, index);
    const isInner = findInnerSide(mesh);
    const numbers = new Map<number, number>();
    for (let i = 0; i < mesh.faces.length; i += 3) {
      const corners = [0, 1, 2].map((k) => mesh.faces[i + k]!);
      if (corners.some((point) => isInner[point])) continue;
      for (const point of corners) {
        let number = numbers.get(point);
        if (number === undefined) {
          number = positions.length / 3;
          numbers.set(point, number);
          positions.push(...mesh.places.subarray(3 * point, 3 * point + 3));
        }
        triangles.push(number);
      }
    }
    const ofMesh = listUvSeams(mesh);
    for (let i = 0; i < ofMesh.length; i += 2) {
      const [a, b] = [numbers.get(ofMesh[i]!), numbers.get(ofMesh[i + 1]!)];
      if (a !== undefined && b !== undefined) seams.push(a, b);
    }
  }
  return {
    positions: Float32Array.from(positions),
    triangles: Uint32Array.from(triangles),
    seams: Uint32Array.from(seams),
  };
}

/** An even mesh over some sections, in world space of the bind pose. */
export function makeSimSurface(
  character: Character,
  sectionIndices: readonly number[],
  { edgeLength, borderDetail }: SimMeshSettings,
  onProgress: (share: number) => void = () => {},
): Surface {
  const { seams, ...source } = collectOuterSurface(character, sectionIndices);
  return remesh(source, { edgeLength, borderDetail, lines: seams, onProgress });
}

/** The section that is simulated: the surface with skin weights, UVs and morphs of the sections that it stands for. */
export function createSimSection(
  character: Character,
  sectionIndices: readonly number[],
  surface: Surface,
): Section {
  const first = character.sections[sectionIndices[0]!]!;
  return {
    ...resampleSection(character, sectionIndices, surface, { skipsInside: true }),
    name: chooseSectionName(character, `${first.name} sim`),
    isSimMesh: true,
  };
}

/** A surface as one row of numbers, to be kept beside its step: counts of points and triangles, places, corners. */
export function packSurface({ positions, triangles }: Surface): Float32Array {
  const packed = new Float32Array(2 + positions.length + triangles.length);
  packed.set([positions.length / 3, triangles.length / 3]);
  packed.set(positions, 2);
  // Whole numbers up to 2^24 are exact in this precision.
  packed.set(triangles, 2 + positions.length);
  return packed;
}

/** @returns null when the numbers are not those of a surface. */
export function unpackSurface(packed: Float32Array | undefined): Surface | null {
  if (!packed || packed.length < 2) return null;
  const [points, faces] = [packed[0]!, packed[1]!];
  if (packed.length !== 2 + 3 * points + 3 * faces) return null;
  const triangles = Uint32Array.from(packed.subarray(2 + 3 * points));
  if (triangles.some((corner) => corner >= points)) return null;
  return { positions: packed.slice(2, 2 + 3 * points), triangles };
}
