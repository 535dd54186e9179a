import type { Section } from './character.ts';
import type { SkinnedRows } from './skinning.ts';

/** The skinning data of some vertices of a section, one row for each, in that order. */
export function gatherSkinnedRows(section: Section, vertices: Uint32Array): SkinnedRows {
  const { influences } = section;
  const rows: SkinnedRows = {
    positions: new Float32Array(3 * vertices.length),
    jointIndices: new Uint16Array(influences * vertices.length),
    jointWeights: new Float32Array(influences * vertices.length),
    influences,
  };
  vertices.forEach((v, p) => {
    rows.positions.set(section.positions.subarray(3 * v, 3 * v + 3), 3 * p);
    const [from, to] = [influences * v, influences * (v + 1)];
    rows.jointIndices.set(section.jointIndices.subarray(from, to), influences * p);
    rows.jointWeights.set(section.jointWeights.subarray(from, to), influences * p);
  });
  return rows;
}
