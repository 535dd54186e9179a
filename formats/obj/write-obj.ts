import type { Surface } from '../../core/mesh/index.ts';

/** A surface as a Wavefront OBJ of one object; nine significant digits, so that floats come back as they were. */
export function writeObj(name: string, { positions, triangles }: Surface): string {
  const lines = [`o ${name.replace(/\s+/g, '_')}`];
  for (let i = 0; i < positions.length; i += 3) {
    lines.push(`v ${[0, 1, 2].map((k) => Number(positions[i + k]!.toPrecision(9))).join(' ')}`);
  }
  for (let t = 0; t < triangles.length; t += 3) {
    lines.push(`f ${triangles[t]! + 1} ${triangles[t + 1]! + 1} ${triangles[t + 2]! + 1}`);
  }
  return `${lines.join('\n')}\n`;
}
