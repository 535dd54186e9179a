import { expect } from 'chai';
import { createSheet } from '../cloth/test-cloth.ts';
import { weldPoints } from '../mesh/index.ts';
import { Mirror, mirrorValues } from './mirror-place.ts';
import { readVertexColors } from './vertex-colors.ts';

/** A bent sheet about x = 0, whose points do not lie opposite each other. */
function createSurface() {
  return createSheet(11, 8, (u, v) => {
    const x = u - 0.5 + 0.02 * Math.sin(9 * u + 3 * v);
    return [x, -v, 0.4 * x * x];
  });
}

describe('the other side of a garment', () => {
  it('is found at the mirrored place, on any mesh', () => {
    const surface = createSurface();
    const mirror = new Mirror(surface);
    const { positions, triangles } = surface;
    for (let t = 0; t < triangles.length; t += 51) {
      const corners = [triangles[t]!, triangles[t + 1]!, triangles[t + 2]!] as const;
      const shares = [0.2, 0.5, 0.3] as const;
      const at = (axis: number, where: { corners: readonly number[]; shares: readonly number[] }): number =>
        where.corners.reduce((sum, corner, c) => sum + where.shares[c]! * positions[3 * corner + axis]!, 0);
      const found = mirror.find({ corners, shares })!;
      if (Math.abs(at(0, { corners, shares })) > 0.46) continue;
      expect(at(0, found)).closeTo(-at(0, { corners, shares }), 4e-3);
      expect(at(1, found)).closeTo(at(1, { corners, shares }), 4e-3);
      expect(found.shares.reduce((sum, share) => sum + share, 0)).closeTo(1, 1e-6);
    }
  });

  it('is none where the garment has nothing', () => {
    const sheet = createSheet(4, 4, (u, v) => [0.2 + u, -v, 0]);
    expect(new Mirror(sheet).find({ corners: [0, 1, 5], shares: [0.4, 0.3, 0.3] })).equal(null);
  });

  it('takes the values of one side, which stay', () => {
    const surface = createSurface();
    const values = Float32Array.from({ length: surface.positions.length / 3 }, (_, p) => {
      const [x, y] = [surface.positions[3 * p]!, surface.positions[3 * p + 1]!];
      return x > 0 ? x - y : 7;
    });
    const mirrored = mirrorValues(surface, values, 'left');
    mirrored.forEach((value, p) => {
      const [x, y] = [surface.positions[3 * p]!, surface.positions[3 * p + 1]!];
      if (x >= 0) expect(value).equal(values[p]);
      else if (x > -0.46 && x < -0.12) expect(value).closeTo(-x - y, 0.02);
    });
    const other = mirrorValues(surface, values, 'right');
    expect(other.filter((_, p) => surface.positions[3 * p]! > 0.12).every((value) => value > 6.9)).equal(
      true,
    );
  });
});

describe('vertex colours', () => {
  const positions = Float32Array.of(0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0, 0);
  const { pointOfVertex, pointCount } = weldPoints(positions);
  const colors = Float32Array.of(1, 0, 0, 0.5, 1, 0, 0, 0, 1, 0, 0, 0.5);
  const read = (part: 'grey' | 'red' | 'blue', mask: Uint8Array | null = null): number[] => {
    const values = new Float32Array(pointCount).fill(9);
    const options = { kind: 'maxDistance', part, low: 0, high: 0.4, mask } as const;
    const change = readVertexColors(values, { colors, name: 'scarf' }, pointOfVertex, options);
    change.indices.forEach((index, k) => {
      values[index] = change.after[k]!;
    });
    return [...values].map((value) => Number(value.toFixed(4)));
  };

  it('become values, the mean where vertices share a point', () => {
    expect(read('red')).deep.equal([0.2, 0.2, 0]);
    expect(read('blue')).deep.equal([0.1, 0, 0.4]);
    expect(read('grey')[0]).closeTo(0.4 * 0.5 * (0.2126 + 0.5 * 0.0722), 1e-4);
    expect(read('red', Uint8Array.of(0, 1, 1))).deep.equal([9, 0.2, 0]);
  });

  it('are refused where there are none, or their range is upside down', () => {
    const values = new Float32Array(pointCount);
    const options = { kind: 'maxDistance', part: 'red', low: 0, high: 1 } as const;
    expect(() => readVertexColors(values, { colors: null, name: 'scarf' }, pointOfVertex, options)).throw(
      '"scarf" has no vertex colours',
    );
    expect(() =>
      readVertexColors(values, { colors, name: 'scarf' }, pointOfVertex, { ...options, low: 2 }),
    ).throw('must stand for more than dark');
  });
});
