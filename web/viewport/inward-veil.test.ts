import { expect } from 'chai';
import { type LineSegments, Mesh } from 'three';
import { createSheet } from '../../core/cloth/test-cloth.ts';
import { InwardVeil } from './inward-veil.ts';

describe('the veil of the inward limit', () => {
  const { positions, triangles } = createSheet(4, 4, (u, v) => [u, -v, 0]);
  const count = positions.length / 3;
  const targets = Float32Array.from({ length: 4 * count }, (_, i) =>
    i % 4 === 3 ? 0 : positions[3 * Math.floor(i / 4) + (i % 4)]! + (i % 4 === 2 ? 2 : 0),
  );
  const open = (depths: Float32Array): { veil: InwardVeil; mesh: Mesh; ticks: LineSegments } => {
    const veil = new InwardVeil(triangles, count);
    veil.show(depths);
    veil.update(targets);
    const [mesh, ticks] = veil.group.children as [Mesh, LineSegments];
    expect(mesh).instanceof(Mesh);
    return { veil, mesh, ticks };
  };

  it('lies as deep below the skinned places as the limit says, with a tick down to it from each', () => {
    const { veil, mesh, ticks } = open(new Float32Array(count).fill(0.05));
    const place = mesh.geometry.attributes.position!;
    const line = ticks.geometry.attributes.position!;
    for (let p = 0; p < count; p++) {
      expect(place.getX(p)).closeTo(positions[3 * p]!, 1e-6);
      expect(place.getZ(p)).closeTo(1.95, 1e-6);
      expect([line.getZ(2 * p), line.getZ(2 * p + 1)].map((z) => Number(z.toFixed(4)))).deep.equal([2, 1.95]);
    }
    expect(mesh.geometry.drawRange.count).equal(triangles.length);
    veil.dispose();
  });

  it('covers only what has a limit, and is gone where nothing has', () => {
    // The last row has none: a row of eight triangles is left out.
    const depths = Float32Array.from({ length: count }, (_, p) => (p >= 20 ? 0.3 : 0.05));
    const { veil, mesh, ticks } = open(depths);
    expect(mesh.geometry.drawRange.count).equal(3 * 24);
    expect(ticks.geometry.drawRange.count).equal(2 * 20);
    expect(veil.group.visible).equal(true);
    veil.show(new Float32Array(count).fill(0.3));
    expect(veil.group.visible).equal(false);
    veil.show(null);
    expect(veil.group.visible).equal(false);
    veil.dispose();
  });
});
