import { expect } from 'chai';
import { quat, vec3 } from 'gl-matrix';
import { buildEdgeTable } from '../../core/mesh/index.ts';
import { PILOT_CLIPS } from '../motion/clips.ts';
import { solveFigurePose } from '../motion/figure-pose.ts';
import { createBodyField, createFastBodyField, describePosition } from './body-field.ts';
import { gradient, smoothMin } from './distance.ts';
import { getJointPosition, JOINT_INDEX, JOINTS } from './joints.ts';
import { polygonise } from './polygonise.ts';
import { projectOnto } from './refine-surface.ts';

describe('polygonising', () => {
  const sphere = (x: number, y: number, z: number): number => Math.hypot(x - 0.01, y, z + 0.02) - 0.3;

  it('gives a closed surface that faces outward, on the zero set', () => {
    const surface = polygonise(() => sphere, [-0.4, -0.4, -0.4, 0.4, 0.4, 0.4], 0.03);
    const { triangles: neighbours, nonManifold } = buildEdgeTable(
      surface.triangles,
      surface.positions.length / 3,
    );
    expect(neighbours.every((triangle) => triangle >= 0)).equal(true);
    expect(nonManifold.length).equal(0);
    projectOnto(surface, sphere, 0.05);
    let volume = 0;
    const at = (v: number): vec3 =>
      vec3.fromValues(
        ...(surface.positions.subarray(3 * v, 3 * v + 3) as unknown as [number, number, number]),
      );
    for (let t = 0; t < surface.triangles.length; t += 3) {
      const [a, b, c] = [0, 1, 2].map((k) => at(surface.triangles[t + k]!)) as [vec3, vec3, vec3];
      volume += vec3.dot(a, vec3.cross(vec3.create(), b, c)) / 6;
    }
    expect(volume / ((4 / 3) * Math.PI * 0.3 ** 3)).closeTo(1, 0.02);
    for (let i = 0; i < surface.positions.length; i += 3) {
      expect(
        Math.abs(sphere(surface.positions[i]!, surface.positions[i + 1]!, surface.positions[i + 2]!)),
      ).below(1e-4);
    }
  });

  it('joins shapes smoothly: never less deep than either, and the same far from both', () => {
    expect(smoothMin(1, 3, 0.5)).equal(1);
    expect(smoothMin(0.1, 0.1, 0.06)).closeTo(0.1 - 0.01, 1e-12);
    expect(gradient((x) => 2 * x, 0, 0, 0)).deep.equal([1, 0, 0]);
  });
});

describe('the figure', () => {
  it('is the same on both sides, and the fast distance agrees near the skin', () => {
    const [whole, fast] = [createBodyField(), createFastBodyField()];
    for (let i = 0; i < 4000; i++) {
      const [x, y, z] = [0.5 * Math.sin(i), 0.9 + 0.8 * Math.cos(1.7 * i), 0.15 * Math.sin(2.3 * i)];
      const d = whole(x, y, z);
      if (Math.abs(d) > 0.02) continue;
      // Parts are joined left before right, which matters by less than a millimetre.
      expect(whole(-x, y, z)).closeTo(d, 1e-3);
      expect(fast(x, y, z)).closeTo(d, 1e-5);
    }
  });

  it('names a joint that exists for every place of its skin', () => {
    for (let y = 0.05; y < 1.75; y += 0.03) {
      for (const x of [-0.4, -0.1, 0, 0.1, 0.4])
        expect(
          JOINT_INDEX.has(describePosition(x, y, 0.05).joint) ||
            /^(thumb|index|middle|ring|little)/.test(describePosition(x, y, 0.05).joint),
        ).equal(true);
    }
    expect(describePosition(0.08, 1.62, 0).joint).equal('head');
    expect(JOINTS.length).equal(53);
  });
});

describe('poses of the figure', () => {
  it('put the ankles where they are asked to be, whenever a leg can reach', () => {
    for (const recipe of PILOT_CLIPS) {
      for (const time of [0, 0.21, 0.4, 0.63].filter((t) => t < recipe.seconds)) {
        const goal = recipe.goalAt(time);
        const pose = solveFigurePose(goal);
        const rotations = JOINTS.map(() => quat.create());
        const places = JOINTS.map(() => vec3.create());
        JOINTS.forEach((joint, i) => {
          const local = pose.rotations.subarray(4 * i, 4 * i + 4) as unknown as quat;
          const parent = joint.parent === null ? -1 : JOINT_INDEX.get(joint.parent)!;
          if (parent < 0) {
            quat.copy(rotations[i]!, local);
            vec3.copy(places[i]!, pose.rootPosition as unknown as vec3);
            return;
          }
          const offset =
            joint.name === 'hips'
              ? vec3.clone(pose.hipsPosition as unknown as vec3)
              : vec3.subtract(
                  vec3.create(),
                  joint.position as unknown as vec3,
                  getJointPosition(joint.parent!) as unknown as vec3,
                );
          vec3.transformQuat(offset, offset, rotations[parent]!);
          vec3.add(places[i]!, places[parent]!, offset);
          quat.multiply(rotations[i]!, rotations[parent]!, local);
        });
        for (const side of ['l', 'r'] as const) {
          const ankle = places[JOINT_INDEX.get(`heel_${side}`)!]!;
          const wanted = goal.feet[side].ankle as unknown as vec3;
          // A straight leg may fall short of a foot in the air; one on the ground is reached.
          const tolerance = recipe.isPlanted(side, time) ? 0.003 : 0.12;
          expect(vec3.distance(ankle, wanted), `${recipe.name} ${side} at ${time}`).below(tolerance);
        }
      }
    }
  });
});
