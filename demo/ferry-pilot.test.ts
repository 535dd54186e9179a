import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect } from 'chai';
import { mat4, quat, vec3 } from 'gl-matrix';
import { buildEdgeTable, SignedDistanceField, weldPoints, weldTriangles } from '../core/mesh/index.ts';
import { checkSection } from '../core/prepare/index.ts';
import { bindSection, type Character, findFront, Pose, poseSection } from '../core/rig/index.ts';
import { validateGlb } from '../formats/gltf/validate-glb.ts';
import { readCharacter } from '../formats/index.ts';
import { findProjectRoot } from '../server/project-root.ts';
import { getFerryPilotFile } from '../server/seed-demo.ts';
import { writeFerryPilot } from './index.ts';
import { PILOT_CLIPS } from './motion/clips.ts';

/** Bind matrices of a character that stands turned: sections stay where they are in their own space. */
function turnBinds(binds: Float32Array, turn: quat): Float32Array {
  const back = mat4.fromQuat(mat4.create(), quat.conjugate(quat.create(), turn));
  const out = binds.slice();
  for (let at = 0; at < binds.length; at += 16)
    out.set(mat4.multiply(mat4.create(), binds.subarray(at, at + 16) as never, back), at);
  return out;
}

describe('Ferry pilot', () => {
  let bytes: Uint8Array;
  let character: Character;

  before(async () => {
    bytes = readFileSync(await getFerryPilotFile(join(findProjectRoot(), '.cobweb', 'cache')));
    character = (await readCharacter([{ name: 'Ferry pilot.glb', bytes }])).character;
  });

  const sectionNamed = (name: string): number =>
    character.sections.findIndex((section) => section.name === name);

  it('is made the same, byte for byte, every time', async () => {
    expect(Buffer.compare(Buffer.from(await writeFerryPilot()), Buffer.from(bytes))).equal(0);
  });

  it('is a valid file that needed no repair', async () => {
    expect(await validateGlb(bytes)).deep.equal({ errors: 0, warnings: 0, messages: [] });
    const { report } = await readCharacter([{ name: 'Ferry pilot.glb', bytes }]);
    expect(report.repairs).deep.equal([]);
    expect(report.odd).deep.equal([]);
    expect(report.counts.joints).equal(53);
    expect(report.size.height).within(1.78, 1.88);
  });

  it('has a closed body of about 9,000 vertices, and garments that lie outside it', () => {
    const index = sectionNamed('Body');
    const section = character.sections[index]!;
    const { pointOfVertex, pointCount } = weldPoints(section.positions);
    expect(pointCount).within(8_000, 10_000);
    // Borders of charts are there twice.
    expect(section.positions.length / 3).within(pointCount, 1.3 * pointCount);
    const triangles = weldTriangles(section.triangles, pointOfVertex);
    const table = buildEdgeTable(triangles, pointCount);
    expect(table.triangles.every((triangle) => triangle >= 0)).equal(true);
    const field = new SignedDistanceField(bindSection(character, index), section.triangles);
    for (const name of ['Poncho', 'Sash tail']) {
      const points = bindSection(character, sectionNamed(name));
      for (let i = 0; i < points.length; i += 3) {
        expect(
          field.measure(points[i]!, points[i + 1]!, points[i + 2]!)!.distance,
          `${name} vertex ${i / 3}`,
        ).above(0.003);
      }
    }
  });

  it('wears garments of which no check of meshes finds anything', () => {
    for (const name of ['Sash tail', 'Poncho'])
      expect(checkSection(character, sectionNamed(name), [sectionNamed('Body')]), name).deep.equal([]);
  });

  it('faces where its feet point, however it is turned', () => {
    expect(findFront(character)).equal(0);
    for (const [angle, found] of [
      [90, 90],
      [170, 180],
      [-80, 270],
    ] as const) {
      const turn = quat.setAxisAngle(quat.create(), [0, 1, 0], (angle * Math.PI) / 180);
      const { skeleton } = character;
      const rotations = skeleton.rotations.slice();
      const translations = skeleton.translations.slice();
      skeleton.parents.forEach((parent, node) => {
        if (parent >= 0) return;
        rotations.set(
          quat.multiply(quat.create(), turn, rotations.subarray(4 * node, 4 * node + 4) as never),
          4 * node,
        );
        const at = translations.subarray(3 * node, 3 * node + 3);
        at.set(vec3.transformQuat(vec3.create(), at as never, turn));
      });
      // The bind pose is where the joints say, not where the file has them now.
      const skins = character.skins.map((skin) => ({
        ...skin,
        inverseBinds: turnBinds(skin.inverseBinds, turn),
      }));
      expect(
        findFront({ ...character, skins, skeleton: { ...skeleton, rotations, translations } }),
        `${angle}`,
      ).equal(found);
    }
  });

  it('stretches no edge of the body beyond reason in any clip', () => {
    const index = sectionNamed('Body');
    const { triangles } = character.sections[index]!;
    const bind = bindSection(character, index);
    const { edges } = buildEdgeTable(triangles, bind.length / 3);
    const lengths = (p: Float32Array): Float64Array =>
      Float64Array.from({ length: edges.length / 2 }, (_, e) => {
        const [a, b] = [3 * edges[2 * e]!, 3 * edges[2 * e + 1]!];
        return Math.hypot(p[b]! - p[a]!, p[b + 1]! - p[a + 1]!, p[b + 2]! - p[a + 2]!);
      });
    const rest = lengths(bind);
    const pose = new Pose(character);
    for (const clip of character.clips) {
      for (let time = 0; time < clip.duration; time += 0.2) {
        pose.setClip(clip, time);
        const ratios = lengths(poseSection(character, index, pose))
          .map((length, e) => length / rest[e]!)
          .sort();
        // A twisted joint that collapses would show as edges of no length.
        expect(ratios[Math.floor(0.005 * ratios.length)], `${clip.name} ${time}`).above(0.3);
        expect(ratios[Math.floor(0.995 * ratios.length)], `${clip.name} ${time}`).below(3);
      }
    }
  });

  for (const recipe of PILOT_CLIPS) {
    it(`keeps planted feet within 5 mm in "${recipe.name}"`, () => {
      const clip = character.clips.find(({ name }) => name === recipe.name)!;
      const pose = new Pose(character);
      let planted = 0;
      for (const side of ['l', 'r'] as const) {
        const heel = character.skeleton.names.indexOf(`heel_${side}`);
        let start: number[] | null = null;
        for (let time = 0; time <= clip.duration + 1e-6; time += 1 / 60) {
          if (!recipe.isPlanted(side, time)) {
            start = null;
            continue;
          }
          pose.setClip(clip, time);
          const position = [12, 13, 14].map((k) => pose.worldMatrices[16 * heel + k]!);
          start ??= position;
          planted++;
          expect(
            Math.hypot(...position.map((v, k) => v - start![k]!)),
            `${side} at ${time.toFixed(2)}`,
          ).below(0.005);
        }
      }
      expect(planted).above(4);
    });

    it(`closes the loop of "${recipe.name}" to 1 mm and 1°`, () => {
      const clip = character.clips.find(({ name }) => name === recipe.name)!;
      const [first, last] = [0, clip.duration].map((time) => {
        const pose = new Pose(character);
        pose.setClip(clip, time);
        return pose;
      }) as [Pose, Pose];
      const { names } = character.skeleton;
      const root = names.indexOf('root');
      const travel = [12, 14].map(
        (k) => last.worldMatrices[16 * root + k]! - first.worldMatrices[16 * root + k]!,
      );
      for (let node = 0; node < names.length; node++) {
        const displacement = [12, 13, 14].map(
          (k) =>
            last.worldMatrices[16 * node + k]! -
            first.worldMatrices[16 * node + k]! -
            (k === 12 ? travel[0]! : k === 14 && node < 53 ? travel[1]! : 0),
        );
        if (node < 53) expect(Math.hypot(...displacement), names[node]).below(0.001);
        const cosine = Math.abs(
          [0, 1, 2, 3].reduce(
            (sum, k) => sum + first.rotations[4 * node + k]! * last.rotations[4 * node + k]!,
            0,
          ),
        );
        expect((2 * Math.acos(Math.min(1, cosine)) * 180) / Math.PI, names[node]).below(1);
      }
    });
  }
});
