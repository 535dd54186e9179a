import { expect } from 'chai';
import { type Group, type LineBasicMaterial, type LineSegments, type Mesh, Raycaster, Vector3 } from 'three';
import type { BodyMeshRecord, RecordId } from '../../core/document/index.ts';
import { createTube } from '../../core/mesh/test-surfaces.ts';
import { createRigidCharacter } from '../../core/rig/index.ts';
import type { PreviewFrame } from '../state/preview-client.ts';
import { themeStore } from '../state/theme.ts';
import { BodyMeshView } from './body-mesh-view.ts';

const RADIUS = 0.1;
const MESH: BodyMeshRecord = {
  type: 'bodyMesh',
  id: 'm' as RecordId,
  bodySetId: 's' as RecordId,
  name: 'Tube',
  stepId: null,
  sectionIndex: 0,
  sectionName: 'tube',
  margin: 0.01,
  group: 1,
};

describe('drawn body meshes', () => {
  const tube = createTube(24, 10, () => RADIUS);
  const character = createRigidCharacter('tube', tube.positions, tube.triangles);
  character.sections[0]!.name = 'tube';
  /** A frame in which its joint has gone one metre along x. */
  const frame = {
    layout: { skins: [0], morphs: [16] },
    floats: Float32Array.of(1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 1, 0, 0, 1),
  } as unknown as PreviewFrame;

  function show(records: readonly BodyMeshRecord[], selected: readonly RecordId[] = []): BodyMeshView {
    const view = new BodyMeshView({ isBeside: false });
    view.setMeshes(character, records, selected);
    view.update(frame, character);
    return view;
  }
  const parts = ({ group }: { group: Group }) => ({
    fill: group.children.find((part) => (part as Mesh).isMesh) as Mesh,
    lines: group.children.filter((part) => (part as LineSegments).isLineSegments) as LineSegments[],
  });
  const colorOf = ({ material }: LineSegments): string =>
    (material as LineBasicMaterial).color.getHexString();

  it('lie where the run has them, their margin farther out, with every edge once', () => {
    const { fill, lines } = parts(show([MESH]));
    const { array } = fill.geometry.attributes.position!;
    expect(array.length / 3).equal(tube.positions.length / 3);
    for (let i = 0; i < array.length; i += 3)
      expect(Math.hypot(array[i]! - 1, array[i + 2]!)).closeTo(RADIUS + MESH.margin, 2e-4);
    // Around, along and across each square, and the last ring.
    expect(lines[0]!.geometry.index!.count / 2).equal(24 * 10 * 3 + 24);
  });

  it('are met by a ray from where they are now', () => {
    const view = show([MESH]);
    const ray = (x: number): Raycaster => new Raycaster(new Vector3(x, -0.3, 2), new Vector3(0, 0, -1));
    for (const part of view.group.children) part.updateMatrixWorld();
    expect(view.find(ray(1))).equal('m');
    expect(view.find(ray(0))).equal(null);
  });

  describe('in the colours of a theme', () => {
    const shown = themeStore.state;
    const colors = { ...shown.colors, ink: 'rgb(35, 38, 45)', teal: 'rgb(19, 105, 106)' };
    beforeEach(() => themeStore.set({ ...shown, colors }));
    afterEach(() => themeStore.set(shown));

    it('have other lines when they are selected', () => {
      const view = show([MESH]);
      expect(colorOf(parts(view).lines[0]!)).equal('23262d');
      view.setMeshes(character, [MESH], [MESH.id]);
      expect(colorOf(parts(view).lines[0]!)).equal('13696a');
    });

    it('take those of another theme at once', () => {
      const view = show([MESH]);
      themeStore.set({ ...shown, isDusk: true, colors: { ...colors, ink: 'rgb(233, 228, 216)' } });
      expect(colorOf(parts(view).lines[0]!)).equal('e9e4d8');
    });
  });

  it('have stronger lines where they are touched, and go when they are no more', () => {
    const view = show([MESH]);
    const opacity = (): number => (parts(view).lines.at(-1)!.material as LineBasicMaterial).opacity;
    const before = opacity();
    view.setTouched(new Set([MESH.id]));
    expect(opacity()).above(before);
    view.setMeshes(character, [{ ...MESH, sectionName: 'gone' }], []);
    expect(view.group.children).deep.equal([]);
    view.setMeshes(character, [MESH], []);
    view.dispose();
    expect(view.group.children).deep.equal([]);
  });
});
