import { buildNeighbours, type CheckedMesh, type Neighbours, SurfaceFront } from '../../core/mesh/index.ts';
import { Mirror } from '../../core/reach/index.ts';
import type { Character, Section } from '../../core/rig/index.ts';
import { getSectionMesh } from './section-mesh.ts';

/** What painting asks of a section again and again. Points are welded vertices. */
export interface ReachMesh {
  /** In bind pose. */
  mesh: CheckedMesh;
  neighbours: Neighbours;
  front: SurfaceFront;
  readonly mirror: Mirror;
}

const meshOfSection = new WeakMap<Section, ReachMesh>();

/** Made once for each section; the tree for mirroring when it is first asked for. */
export function getReachMesh(character: Character, sectionIndex: number): ReachMesh {
  const section = character.sections[sectionIndex]!;
  const known = meshOfSection.get(section);
  if (known) return known;
  const mesh = getSectionMesh(character, sectionIndex);
  let mirror: Mirror | null = null;
  const made: ReachMesh = {
    mesh,
    neighbours: buildNeighbours(mesh.table, mesh.pointCount),
    front: new SurfaceFront(mesh.faces, mesh.pointCount),
    get mirror() {
      mirror ??= new Mirror({ positions: mesh.pointPositions, triangles: mesh.faces });
      return mirror;
    },
  };
  meshOfSection.set(section, made);
  return made;
}
