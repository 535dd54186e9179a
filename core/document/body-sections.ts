import { buildEdgeTable, NO_TRIANGLE, weldPoints, weldTriangles } from '../mesh/index.ts';
import type { Character, Section } from '../rig/index.ts';
import type { AuthoredDocument } from './document.ts';
import { listFreeSections } from './free-sections.ts';

/** A surface with a larger share of its edges on a border is a sheet (a sash, a cloak), which has no inside. */
const MOST_BORDER = 0.005;

const borderShares = new WeakMap<Section, number>();

/** Share of a section's edges that have a triangle on one side only. */
export function computeBorderShare(section: Section): number {
  const known = borderShares.get(section);
  if (known !== undefined) return known;
  const { pointOfVertex, pointCount } = weldPoints(section.positions);
  const { triangles, edgeCount } = buildEdgeTable(
    weldTriangles(section.triangles, pointOfVertex),
    pointCount,
  );
  let borders = 0;
  for (let e = 0; e < edgeCount; e++) if (triangles[2 * e + 1] === NO_TRIANGLE) borders++;
  const share = edgeCount > 0 ? borders / edgeCount : 1;
  borderShares.set(section, share);
  return share;
}

/**
 * The body that garments must stay out of: sections that are not garments and enclose a space. When none does (a body
 * in open pieces), the one with the most triangles stands for it.
 */
export function listBodySections(
  document: Pick<AuthoredDocument, 'records'>,
  character: Character,
): number[] {
  const free = listFreeSections(document, character.sections);
  const solid = free.filter((index) => computeBorderShare(character.sections[index]!) <= MOST_BORDER);
  if (solid.length > 0 || free.length === 0) return solid;
  const size = (index: number): number => character.sections[index]!.triangles.length;
  return [free.reduce((largest, index) => (size(index) > size(largest) ? index : largest))];
}
