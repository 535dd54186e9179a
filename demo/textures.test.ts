import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect } from 'chai';
import { decode } from 'fast-png';
import type { Character, Section } from '../core/rig/index.ts';
import { readCharacter } from '../formats/index.ts';
import { findProjectRoot } from '../server/project-root.ts';
import { getFerryPilotFile, getLamplighterFile } from '../server/seed-demo.ts';
import { findGrid, layUvs } from './garments/sheet-layouts.ts';
import { paintCharacter } from './textures/index.ts';
import { stitchedLine } from './textures/stitches.ts';

/** How much longer one way over the surface is than another of the same length in the UVs, of each triangle: 1 is not stretched. */
function measureStretch({ positions, triangles, uvs }: Section): number[] {
  const edge = (values: Float32Array, width: number, from: number, to: number): number[] =>
    Array.from({ length: width }, (_, k) => values[width * to + k]! - values[width * from + k]!);
  const stretches: number[] = [];
  for (let t = 0; t < triangles.length; t += 3) {
    const [a, b, c] = triangles.subarray(t, t + 3) as unknown as [number, number, number];
    const [p, q] = [edge(positions, 3, a, b), edge(positions, 3, a, c)];
    const [[u1, v1], [u2, v2]] = [edge(uvs!, 2, a, b), edge(uvs!, 2, a, c)] as [number[], number[]];
    const area = u1! * v2! - u2! * v1!;
    if (Math.abs(area) < 1e-12) continue;
    const alongU = p.map((x, k) => (x * v2! - q[k]! * v1!) / area);
    const alongV = p.map((x, k) => (q[k]! * u1! - x * u2!) / area);
    const dot = (one: number[], other: number[]): number => one.reduce((sum, x, k) => sum + x * other[k]!, 0);
    const [uu, uv, vv] = [dot(alongU, alongU), dot(alongU, alongV), dot(alongV, alongV)];
    const spread = Math.hypot((uu - vv) / 2, uv);
    stretches.push(Math.sqrt(((uu + vv) / 2 + spread) / Math.max(1e-12, (uu + vv) / 2 - spread)));
  }
  return stretches.sort((one, other) => one - other);
}

/** Picture elements whose middles lie in more than one triangle. */
function countOverlaps({ triangles, uvs }: Section, size: number): number {
  const hits = new Uint8Array(size * size);
  for (let t = 0; t < triangles.length; t += 3) {
    const x = [0, 1, 2].map((k) => size * uvs![2 * triangles[t + k]!]! - 0.5);
    const y = [0, 1, 2].map((k) => size * uvs![2 * triangles[t + k]! + 1]! - 0.5);
    const side = (i: number, px: number, py: number): number => {
      const j = (i + 1) % 3;
      return (x[j]! - x[i]!) * (py - y[i]!) - (y[j]! - y[i]!) * (px - x[i]!);
    };
    for (let j = Math.ceil(Math.min(...y)); j <= Math.max(...y); j++) {
      for (let i = Math.ceil(Math.min(...x)); i <= Math.max(...x); i++) {
        const sides = [0, 1, 2].map((k) => side(k, i, j));
        if (sides.every((s) => s > 0) || sides.every((s) => s < 0))
          hits[j * size + i] = hits[j * size + i]! + 1;
      }
    }
  }
  return hits.filter((count) => count > 1).length;
}

describe('textures of the demo', function () {
  this.timeout(120_000);
  const characters: Character[] = [];

  before(async () => {
    const cache = join(findProjectRoot(), '.cobweb', 'cache');
    for (const path of [await getFerryPilotFile(cache), await getLamplighterFile(cache)])
      characters.push((await readCharacter([{ name: 'it.glb', bytes: readFileSync(path) }])).character);
  });

  it('have every section laid flat, hardly stretched, within the picture', () => {
    for (const { name, sections } of characters) {
      for (const section of sections) {
        const stretches = measureStretch(section);
        const at = (share: number): number => stretches[Math.floor(share * (stretches.length - 1))]!;
        const told = `${name}, ${section.name}`;
        // What bulges both ways, as a poncho over shoulders does, cannot be laid flat without any.
        expect(at(0.5), told).below(1.35);
        expect(at(0.95), told).below(1.8);
        expect(Math.min(...section.uvs!), told).least(-1e-6);
        expect(Math.max(...section.uvs!), told).most(1 + 1e-6);
      }
    }
  });

  it('lay nothing of body and headgear over anything else', () => {
    // A sliver that is turned over may lie on its neighbour.
    for (const section of characters[0]!.sections.filter(({ name }) => /Body|Hat|Mask|Hood/.test(name)))
      expect(countOverlaps(section, 512), section.name).most(2);
  });

  it('are pictures with light and dark for all of them', async () => {
    const { pictures } = await paintCharacter(characters[0]!);
    expect([...pictures.keys()].sort()).deep.equal(characters[0]!.sections.map(({ name }) => name).sort());
    for (const [name, bytes] of pictures) {
      const { data, channels } = decode(bytes);
      expect(channels, name).equal(1);
      const sorted = Array.from(data).sort((one, other) => one - other);
      const [low, high] = [0.02, 0.98].map((share) => sorted[Math.floor(share * sorted.length)]!);
      expect(high! - low!, name).above(40);
    }
  });

  it('go back from the UVs of a sheet to its grid; the way down exactly', () => {
    const rows = 16;
    for (const name of ['Poncho', 'Sash tail', 'Under-smock', 'Tool roll']) {
      const grid = Float32Array.from({ length: 2 * (rows + 1) }, (_, i) =>
        i % 2 === 0 ? ((i / 2) % 5) / 4 : (i - 1) / 2 / rows,
      );
      const back = findGrid(name, layUvs(name, grid));
      for (let i = 0; i < grid.length; i += 2) {
        expect(back[i], name).closeTo(grid[i]!, 1e-5);
        expect(back[i + 1], name).equal(grid[i + 1]);
      }
    }
  });

  it('stitch both sides of a seam', () => {
    expect(stitchedLine(0, 0, 0.005)).below(0.7);
    expect(stitchedLine(0.0035, 0.001, 0.005)).above(1);
    expect(stitchedLine(-0.0035, 0.001, 0.005)).above(1);
    expect(stitchedLine(0.0035, 0.008, 0.005)).below(1);
    expect(stitchedLine(0.006, 0, 0.005)).equal(1);
  });
});
