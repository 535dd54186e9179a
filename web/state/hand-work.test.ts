import { expect } from 'chai';
import { createDocument, listGarments, listSteps } from '../../core/document/index.ts';
import { createWardrobe } from '../../core/prepare/test-wardrobe.ts';
import { bindSection, toDenseWeights } from '../../core/rig/index.ts';
import { FitWork } from './fit-work.ts';
import { openWorkshop, until, useWorkshop, type Workshop } from './test-preparation.ts';
import { WeightWork } from './weight-work.ts';

const SKIRT = { sectionIndex: 1, sectionName: 'Skirt' };
const [HIP, KNEE] = [0, 1];

describe('work by hand on the page', () => {
  const read = useWorkshop(() => openWorkshop(createWardrobe(), createDocument()));
  let shop: Workshop;
  beforeEach(() => {
    shop = read();
  });

  describe('weights', () => {
    const open = (): WeightWork => {
      const work = new WeightWork(shop.editor, shop.preparing, SKIRT);
      shop.editor.subscribe(() => work.follow());
      return work;
    };
    const dabAt = (work: WeightWork, point: number): void => {
      const { mesh, hand } = work.bound;
      const center = [...mesh.pointPositions.subarray(3 * point, 3 * point + 3)] as [number, number, number];
      work.dab(
        {
          positions: mesh.pointPositions,
          stride: 3,
          normals: new Float32Array(mesh.pointPositions.length),
          neighbours: hand.neighbours,
        },
        { center },
      );
    };
    const readKnee = (point: number): number => {
      const section = shop.editor.character.sections[1]!;
      const vertex = new WeightWork(shop.editor, shop.preparing, SKIRT).bound.mesh.vertexOfPoint[point]!;
      return toDenseWeights(section, 2)[2 * vertex + KNEE]!;
    };

    it('begin with the joint that has most, and tell the shares of all', () => {
      const work = open();
      expect(work.jointNames).deep.equal(['hip', 'knee']);
      expect(work.store.state.joint).equal(HIP);
      expect(work.listShares()).deep.equal([{ joint: HIP, share: 1 }]);
    });

    it('painted in several strokes are one step, seen at once and kept as painted', async () => {
      const work = open();
      work.store.set({ joint: KNEE, value: 0.5, radius: 0.08, strength: 1 });
      dabAt(work, 500);
      expect(work.getColumn(KNEE)[500]).closeTo(0.5, 1e-5);
      expect(listSteps(shop.editor.document)).deep.equal([]);
      await work.keep();
      expect(readKnee(500)).closeTo(0.5, 1e-4);
      dabAt(work, 40);
      await work.keep();
      expect(listSteps(shop.editor.document)).length(1);
      expect(readKnee(500)).closeTo(0.5, 1e-4);
      expect(readKnee(40)).closeTo(0.5, 1e-4);
      shop.editor.undo();
      await until(() => readKnee(40) === 0);
      expect(readKnee(500)).closeTo(0.5, 1e-4);
      // What is worked on follows.
      await until(() => work.getColumn(KNEE)[40] === 0);
    });

    it('typed hold for the whole selection; a kept joint takes no part', async () => {
      const work = open();
      work.select([7], false);
      work.select([9], true);
      expect(work.store.state.selected).deep.equal([7, 9]);
      await work.type(KNEE, 0.2);
      expect(readKnee(7)).closeTo(0.2, 1e-5);
      expect(readKnee(9)).closeTo(0.2, 1e-5);
      expect(readKnee(8)).equal(0);
      work.store.set({ kept: new Set([KNEE]) });
      await work.type(KNEE, 0.9);
      expect(readKnee(7)).closeTo(0.2, 1e-5);
    });
  });

  describe('shape', () => {
    const lowest = (): number =>
      bindSection(shop.editor.character, 1).reduce((low, y, i) => (i % 3 === 1 ? Math.min(low, y) : low), 0);

    it('is pulled with what is around, kept at the end of the stroke, and pulled on from there', async () => {
      const work = new FitWork(shop.editor, shop.preparing, SKIRT, null);
      work.store.set({ radius: 0.2 });
      const { mesh } = work.bound;
      const hem = mesh.pointCount - 1;
      work.grip(hem);
      work.pull([0, -0.05, 0]);
      work.pull([0, -0.1, 0]);
      expect(work.positions[3 * hem + 1]).closeTo(mesh.pointPositions[3 * hem + 1]! - 0.1, 1e-6);
      expect(work.positions[1]).equal(mesh.pointPositions[1]);
      expect(lowest()).closeTo(-0.6, 1e-4);
      await work.keep();
      expect(lowest()).closeTo(-0.7, 1e-4);
      work.grip(hem);
      work.pull([0, -0.1, 0]);
      await work.keep();
      expect(lowest()).closeTo(-0.8, 1e-4);
      expect(listSteps(shop.editor.document)).length(1);
      // Lengths at rest are another kind of step.
      work.store.set({ keepsLengths: true });
      work.grip(hem);
      work.pull([0, 0.1, 0]);
      await work.keep();
      expect(listSteps(shop.editor.document)).length(2);
      expect(lowest()).closeTo(-0.7, 1e-4);
    });

    it('pulled again while a stroke is being kept, loses neither', async () => {
      const work = new FitWork(shop.editor, shop.preparing, SKIRT, null);
      const hem = work.bound.mesh.pointCount - 1;
      work.grip(hem);
      work.pull([0, -0.1, 0]);
      const keeping = work.keep();
      work.grip(hem);
      work.pull([0, -0.05, 0]);
      await keeping;
      expect(lowest()).closeTo(-0.75, 1e-4);
    });

    it('is smoothed around a place, and not kept when nothing moved', async () => {
      const work = new FitWork(shop.editor, shop.preparing, SKIRT, null);
      await work.keep();
      expect(listSteps(shop.editor.document)).deep.equal([]);
      work.grip(500);
      work.store.set({ radius: 0.05 });
      work.pull([0.05, 0, 0]);
      const pulled = work.positions.slice();
      work.store.set({ radius: 0.1, strength: 1 });
      const at = [...work.positions.subarray(1500, 1503)] as [number, number, number];
      for (let i = 0; i < 4; i++) work.smooth(at);
      const { pointPositions: positions } = work.bound.mesh;
      const away = (from: Float32Array): number =>
        Math.hypot(...[0, 1, 2].map((k) => from[1500 + k]! - positions[1500 + k]!));
      expect(away(work.positions)).below(0.8 * away(pulled));
    });

    it('of a drawn section takes the mesh along that is simulated for it', async () => {
      const { editor, preparing } = shop;
      editor.addGarment(1);
      await preparing.simMeshes.make(listGarments(editor.document)[0]!, {
        edgeLength: 0.05,
        borderDetail: 0.5,
      });
      const garment = listGarments(editor.document)[0]!;
      const work = new FitWork(editor, preparing, SKIRT, garment);
      work.store.set({ radius: 0.3 });
      work.grip(work.bound.mesh.pointCount - 1);
      work.pull([0, -0.1, 0]);
      await work.keep();
      const low = (index: number): number =>
        bindSection(editor.character, index).reduce(
          (least, y, i) => (i % 3 === 1 ? Math.min(least, y) : least),
          0,
        );
      expect(low(1)).closeTo(-0.7, 1e-3);
      expect(low(2)).within(-0.701, -0.68);
      expect(listSteps(editor.document).map(({ act }) => act.kind)).deep.equal([
        'makeSimMesh',
        'movePoints',
        'movePoints',
      ]);
    });
  });
});
