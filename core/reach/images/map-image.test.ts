import { expect } from 'chai';
import { createSheet } from '../../cloth/test-cloth.ts';
import { createRandom } from '../../math/index.ts';
import { buildPointNeighbours, weldPoints } from '../../mesh/index.ts';
import { drawLayout } from './draw-layout.ts';
import { readMapImage } from './read-map-image.ts';
import { createUvMesh, type UvError } from './uv-mesh.ts';
import { findSeamPoints, type MapImageOptions, writeMapImage } from './write-map-image.ts';

interface TestSection {
  name: string;
  positions: Float32Array;
  triangles: Uint32Array;
  uvs: Float32Array;
}

/**
 * A tube, its UVs in two islands that lie apart, the second on its side:
 * ```
 *   ┌───────┐ ┌───┐      The seams are at column 0 (the tube closes there)
 *   │ left  │ │ r │      and at the middle column.
 *   └───────┘ └───┘
 * ```
 */
function createTube(seed: number, columns = 32, rows = 20): TestSection {
  const random = createRandom(seed);
  const jitter = (): number => 0.3 * (random() - 0.5);
  const at = (u: number, v: number): [number, number, number] => {
    const angle = u === 1 ? 0 : 2 * Math.PI * u;
    return [Math.cos(angle), -2 * v, Math.sin(angle)];
  };
  const half = columns / 2;
  const [left, right] = [0, 0.5].map((from) => createSheet(half, rows, (u, v) => at(from + u / 2, v)));
  const count = left!.positions.length / 3;
  const uvs = new Float32Array(4 * count);
  for (let i = 0; i < count; i++) {
    const [c, r] = [i % (half + 1), Math.floor(i / (half + 1))];
    const isRim = c === 0 || r === 0 || c === half || r === rows;
    const [u, v] = [(c + (isRim ? 0 : jitter())) / half, (r + (isRim ? 0 : jitter())) / rows];
    uvs.set([0.03 + 0.45 * u, 0.05 + 0.9 * v], 2 * i);
    uvs.set([0.55 + 0.4 * v, 0.1 + 0.35 * u], 2 * (count + i));
  }
  return {
    name: 'tube',
    positions: Float32Array.of(...left!.positions, ...right!.positions),
    triangles: Uint32Array.of(...left!.triangles, ...right!.triangles.map((i) => i + count)),
    uvs,
  };
}

function createMap(section: TestSection, seed: number): Float32Array {
  const random = createRandom(seed);
  const { pointCount, vertexOfPoint } = weldPoints(section.positions);
  const [a, b] = [2 + 4 * random(), random()];
  return Float32Array.from({ length: pointCount }, (_, p) => {
    const y = -section.positions[3 * vertexOfPoint[p]! + 1]!;
    const wave = 1 + 0.4 * Math.sin(a * section.positions[3 * vertexOfPoint[p]!]! + b);
    // Held rows at the top, a jump in the middle, noise at the hem.
    return y < 0.25 ? 0 : (y > 1 ? 0.3 : 0.1) * y * wave + (y > 1.7 ? 0.05 * random() : 0);
  });
}

function roundTrip(
  section: TestSection,
  values: Float32Array,
  options: Pick<MapImageOptions, 'size' | 'depth' | 'high'>,
): { away: number; atSeams: number; back: Float32Array } {
  const mesh = createUvMesh(section);
  const image = writeMapImage(mesh, values, { low: 0, name: section.name, ...options });
  const steps = 2 ** options.depth - 1;
  const grey = {
    width: options.size,
    height: options.size,
    levels: Float32Array.from(image.levels, (level) => level / steps),
    step: 1 / steps,
  };
  const back = values.slice().fill(0.987);
  const range = { kind: 'maxDistance', low: 0, high: options.high } as const;
  const { indices, after } = readMapImage(back, mesh, buildPointNeighbours(section), grey, range);
  indices.forEach((index, k) => {
    back[index] = after[k]!;
  });
  const isSeam = findSeamPoints(mesh);
  const worst = { away: 0, atSeams: 0 };
  back.forEach((value, point) => {
    const key = isSeam[point] ? 'atSeams' : 'away';
    worst[key] = Math.max(worst[key], (Math.abs(value - values[point]!) / options.high) * steps);
  });
  expect(image.worst.away).closeTo(worst.away, 0.02);
  expect(image.worst.atSeams).closeTo(worst.atSeams, 0.02);
  return { ...worst, back };
}

describe('a map as an image', () => {
  for (const depth of [8, 16] as const) {
    for (const size of [512, 1024]) {
      it(`comes back within one grey step, two at seams, at ${depth} bit and ${size} texels`, () => {
        for (let seed = 1; seed <= 4; seed++) {
          const section = createTube(seed);
          const values = createMap(section, seed);
          const { away, atSeams, back } = roundTrip(section, values, {
            size,
            depth,
            high: Math.max(...values),
          });
          expect(away).at.most(1);
          expect(atSeams).at.most(2);
          values.forEach((value, point) => {
            if (value === 0) expect(back[point]).equal(0);
          });
        }
      });
    }
  }

  it('says how far off it is where a mesh is finer than the texels', () => {
    const section = createTube(1, 64, 64);
    const mesh = createUvMesh(section);
    const values = createMap(section, 1);
    const worst = (size: number): number =>
      writeMapImage(mesh, values, { size, depth: 8, low: 0, high: 0.8, name: 'tube' }).worst.away;
    expect(worst(32)).above(2);
    expect(worst(512)).at.most(1);
  });

  it('counts values beyond its range, and cuts them off', () => {
    const section = createTube(1);
    const values = createMap(section, 1);
    const image = writeMapImage(createUvMesh(section), values, {
      size: 128,
      depth: 8,
      low: 0,
      high: 0.3,
      name: 't',
    });
    expect(image.cutOff).equal(values.filter((value) => value > 0.3 + 1e-6).length);
    expect(Math.max(...image.levels)).equal(255);
    expect(() => roundTrip(section, values, { size: 64, depth: 8, high: 0 })).throw(
      'must stand for more than black',
    );
  });

  it('is bled: every texel beside an island has what lies nearest, also in copies half and a quarter as large', () => {
    const section = createTube(3);
    const mesh = createUvMesh(section);
    const values = new Float32Array(mesh.pointCount).fill(0.4);
    const { levels } = writeMapImage(mesh, values, { size: 256, depth: 8, low: 0, high: 0.8, name: 'tube' });
    expect(new Set(levels)).deep.equal(new Set([Math.round(255 / 2)]));
  });

  it('read with softening is smoother and keeps its held points', () => {
    const section = createTube(1);
    const mesh = createUvMesh(section);
    const values = createMap(section, 1);
    const image = writeMapImage(mesh, values, { size: 512, depth: 8, low: 0, high: 0.8, name: 'tube' });
    const grey = {
      width: 512,
      height: 512,
      levels: Float32Array.from(image.levels, (l) => l / 255),
      step: 1 / 255,
    };
    const neighbours = buildPointNeighbours(section);
    const rough = (soften: number): number => {
      const read = new Float32Array(values.length);
      const change = readMapImage(read, mesh, neighbours, grey, {
        kind: 'maxDistance',
        low: 0,
        high: 0.8,
        soften,
      });
      change.indices.forEach((index, k) => {
        read[index] = change.after[k]!;
      });
      expect(read.filter((value) => value === 0).length).equal(values.filter((value) => value === 0).length);
      return read.reduce((sum, value, i) => {
        const [from, to] = [neighbours.start[i]!, neighbours.start[i + 1]!];
        for (let k = from; k < to; k++) sum += Math.abs(value - read[neighbours.list[k]!]!);
        return sum;
      }, 0);
    };
    expect(rough(8)).below(0.85 * rough(0));
  });

  it('of any form and range is read where the UVs say', () => {
    const section = createTube(1);
    const mesh = createUvMesh(section);
    // Rises from left to right: the left island from 3 % to 48 % of the way.
    const levels = Float32Array.from({ length: 100 * 10 }, (_, i) => ((i % 100) + 0.5) / 100);
    const values = new Float32Array(mesh.pointCount);
    const image = { width: 100, height: 10, levels, step: 1 / 255 };
    const { after, indices } = readMapImage(values, mesh, buildPointNeighbours(section), image, {
      kind: 'stiffness',
      low: 1,
      high: 3,
    });
    indices.forEach((point, k) => {
      const vertex = mesh.pointOfVertex.indexOf(point);
      if (vertex !== mesh.pointOfVertex.lastIndexOf(point)) return;
      expect(after[k]).closeTo(1 + 2 * section.uvs[2 * vertex]!, 1e-5);
    });
  });
});

describe('UVs for images', () => {
  const refuse = (section: TestSection): UvError => {
    try {
      const mesh = createUvMesh(section);
      writeMapImage(mesh, new Float32Array(mesh.pointCount), {
        size: 256,
        depth: 8,
        low: 0,
        high: 1,
        name: 'tube',
      });
    } catch (error) {
      return error as UvError;
    }
    throw new Error('it was taken');
  };

  it('are refused where they are missing, outside the square, or over one another, with the place', () => {
    const section = createTube(1);
    expect(refuse({ ...section, uvs: null as unknown as Float32Array }).code).equal('missing');
    const outside = refuse({ ...section, uvs: section.uvs.map((value) => value + 0.1) });
    expect(outside.code).equal('outside');
    expect(outside.message).match(/vertices of "tube" have UVs outside the square.*Move its islands/);
    expect(outside.vertices.length).above(10);
    const onTop = section.uvs.slice();
    const count = onTop.length / 4;
    // The second island laid over the first.
    for (let i = 0; i < count; i++)
      onTop.set([section.uvs[2 * i]!, section.uvs[2 * i + 1]!], 2 * (count + i));
    const overlap = refuse({ ...section, uvs: onTop });
    expect(overlap.code).equal('overlap');
    expect(overlap.message).match(/triangles of "tube" share UV area with others \(9\d\.\d % of it/);
    expect(overlap.vertices.length).above(50);
  });

  it('that overlap only with the lining are taken', () => {
    const section = createTube(1);
    const inside = section.positions.map((value, i) => (i % 3 === 1 ? value : 0.95 * value));
    const count = section.positions.length / 3;
    const both = {
      ...section,
      positions: Float32Array.of(...section.positions, ...inside),
      triangles: Uint32Array.of(...section.triangles, ...section.triangles.map((i) => i + count)),
      uvs: Float32Array.of(...section.uvs, ...section.uvs),
    };
    expect(refuse(both).code).equal('overlap');
    const { pointOfVertex, pointCount } = weldPoints(both.positions);
    const isLining = new Uint8Array(pointCount);
    for (let v = count; v < 2 * count; v++) isLining[pointOfVertex[v]!] = 1;
    const mesh = createUvMesh(both, isLining);
    expect(mesh.triangles).deep.equal(section.triangles);
    const values = new Float32Array(pointCount).fill(0.5);
    const image = writeMapImage(mesh, values, { size: 256, depth: 8, low: 0, high: 1, name: 'tube' });
    expect(image.worst.away).at.most(1);
  });

  it('are drawn as edges, outlines darker', () => {
    const mesh = createUvMesh(createTube(1));
    const picture = drawLayout(mesh, 256);
    const at = (u: number, v: number): number => picture[Math.floor(v * 256) * 256 + Math.floor(u * 256)]!;
    expect(at(0.03, 0.5)).below(100);
    expect(at(0.52, 0.5)).equal(255);
    const greys = picture.filter((grey) => grey < 255);
    expect(greys.length / picture.length).within(0.05, 0.4);
    expect(greys.filter((grey) => grey >= 185).length).above(greys.length / 2);
  });
});
