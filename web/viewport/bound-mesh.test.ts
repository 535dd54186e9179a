import { expect } from 'chai';
import { Color, Ray, Vector3 } from 'three';
import { createDocument } from '../../core/document/index.ts';
import { createWardrobe } from '../../core/prepare/test-wardrobe.ts';
import { computeSkinMatrices, Pose, turnJoints } from '../../core/rig/index.ts';
import { BoundSection } from '../state/bound-section.ts';
import { openWorkshop } from '../state/test-preparation.ts';
import { WeightWork } from '../state/weight-work.ts';
import { BoundMesh } from './bound-mesh.ts';
import { colorWeights, getJointColor, WEIGHT_STOPS } from './weight-colors.ts';

const SKIRT = { sectionIndex: 1, sectionName: 'Skirt' };

describe('a section that is worked on by hand, as it is drawn', () => {
  const character = createWardrobe();
  const bound = new BoundSection(character, SKIRT);

  function matricesOf(turn: number): Float32Array {
    const pose = new Pose(character);
    pose.setBind();
    turnJoints(pose, [{ node: 0, angles: [0, turn, 0] }]);
    return computeSkinMatrices(character.skins[0]!, pose.worldMatrices, new Float32Array(32));
  }

  it('stands in bind pose where it was bound, and follows its joints', () => {
    const mesh = new BoundMesh(bound);
    mesh.update(matricesOf(0));
    mesh.pointPositions.forEach((value, i) => {
      expect(value).closeTo(bound.mesh.pointPositions[i]!, 1e-5);
    });
    mesh.update(matricesOf(Math.PI));
    for (let i = 0; i < mesh.pointPositions.length; i += 3) {
      expect(mesh.pointPositions[i]).closeTo(-bound.mesh.pointPositions[i]!, 1e-5);
      expect(mesh.pointPositions[i + 1]).closeTo(bound.mesh.pointPositions[i + 1]!, 1e-5);
    }
    // Normals point away from the leg.
    const n = 3 * 500;
    const outward =
      mesh.pointNormals[n]! * mesh.pointPositions[n]! +
      mesh.pointNormals[n + 2]! * mesh.pointPositions[n + 2]!;
    expect(Math.abs(outward)).above(0.05);
    mesh.dispose();
  });

  it('is hit where it is drawn, and tells the nearest point', () => {
    const mesh = new BoundMesh(bound);
    mesh.update(matricesOf(0));
    const hit = mesh.hit(new Ray(new Vector3(0.02, -0.3, 5), new Vector3(0, 0, -1)))!;
    expect(hit.point[2]).closeTo(0.17, 0.01);
    const point = mesh.findNearestPoint(hit);
    const away = Math.hypot(...[0, 1, 2].map((k) => mesh.pointPositions[3 * point + k]! - hit.point[k]!));
    for (let p = 0; p < bound.mesh.pointCount; p++) {
      const other = Math.hypot(...[0, 1, 2].map((k) => mesh.pointPositions[3 * p + k]! - hit.point[k]!));
      if (other < 0.5 * away) throw new Error(`point ${p} is much nearer`);
    }
    expect(mesh.hit(new Ray(new Vector3(2, 0, 5), new Vector3(0, 0, -1)))).equal(null);
  });

  it('shows the weight of one joint from undyed to ink, and which joint leads in its own colour', () => {
    const { editor, preparing } = openWorkshop(character, createDocument());
    const work = new WeightWork(editor, preparing, SKIRT);
    work.store.set({ joint: 1 });
    work.select([5], false);
    const rgb = (colors: Float32Array, p: number): string =>
      `#${new Color().fromArray(colors, 3 * p).getHexString()}`;
    // Nothing follows the knee yet.
    expect(rgb(colorWeights(work), 5)).equal(WEIGHT_STOPS[0].toLowerCase());
    work.store.set({ joint: 0 });
    expect(rgb(colorWeights(work), 5)).equal(WEIGHT_STOPS[2].toLowerCase());
    work.store.set({ view: 'leading' });
    const dominantJoint = colorWeights(work);
    expect(rgb(dominantJoint, 5)).equal(getJointColor(0));
    expect(new Set(Array.from({ length: 12 }, (_, joint) => getJointColor(joint))).size).equal(12);
  });
});
