import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect } from 'chai';
import { visitStrains } from '../core/cloth/index.ts';
import { listBodySections, listGarments, type RecordId } from '../core/document/index.ts';
import { percentile } from '../core/math/index.ts';
import { measureBorderDeviation, measureSurface } from '../core/mesh/index.ts';
import { checkSection, checkShapes, prepareCharacter } from '../core/prepare/index.ts';
import {
  bindSection,
  type Character,
  listMorphNames,
  Pose,
  poseSection,
  shapeCharacter,
} from '../core/rig/index.ts';
import { type CharacterRun, createRun } from '../core/run/index.ts';
import { collectOuterSurface, makeSimSurface } from '../core/steps/index.ts';
import { validateGlb } from '../formats/gltf/validate-glb.ts';
import { readCharacter } from '../formats/index.ts';
import { findProjectRoot } from '../server/project-root.ts';
import { getLamplighterFile } from '../server/seed-demo.ts';
import { createLamplighterDocument } from './demo-documents.ts';

describe('Lamplighter', () => {
  let bytes: Uint8Array;
  let character: Character;
  const sectionNamed = (name: string): number => character.sections.findIndex((one) => one.name === name);

  before(async () => {
    bytes = readFileSync(await getLamplighterFile(join(findProjectRoot(), '.cobweb', 'cache')));
    character = (await readCharacter([{ name: 'Lamplighter.glb', bytes }])).character;
  });

  it('is a valid file with three body shapes, followed by smock and apron', async () => {
    expect(await validateGlb(bytes)).deep.equal({ errors: 0, warnings: 0, messages: [] });
    for (const name of ['Body', 'Hat', 'Under-smock', 'Work apron'])
      expect(listMorphNames({ sections: [character.sections[sectionNamed(name)]!] })).deep.equal([
        'broad',
        'slight',
        'stooped',
      ]);
    expect(listMorphNames({ sections: [character.sections[sectionNamed('Neck scarf')]!] })).deep.equal([]);
  });

  it('wears garments without faults, one layer outside the other', () => {
    const body = [sectionNamed('Body')];
    for (const name of ['Under-smock', 'Work apron', 'Neck scarf']) {
      const findings = checkSection(character, sectionNamed(name), body);
      expect(
        findings.filter(({ severity }) => severity !== 'note'),
        name,
      ).deep.equal([]);
    }
    const [smock, apron] = ['Under-smock', 'Work apron'].map((name) =>
      bindSection(character, sectionNamed(name)),
    );
    // At the same height and angle the apron is farther from the spine.
    let compared = 0;
    for (let i = 0; i < apron!.length; i += 3) {
      const angle = Math.atan2(apron![i]!, apron![i + 2]!);
      let nearest = 0.03;
      let within = 0;
      for (let j = 0; j < smock!.length; j += 3) {
        const displacement = Math.hypot(
          smock![j + 1]! - apron![i + 1]!,
          0.2 * (Math.atan2(smock![j]!, smock![j + 2]!) - angle),
        );
        if (displacement >= nearest) continue;
        nearest = displacement;
        within = Math.hypot(smock![j]!, smock![j + 2]!);
      }
      if (within === 0) continue;
      compared++;
      expect(Math.hypot(apron![i]!, apron![i + 2]!)).above(within - 0.007);
    }
    expect(compared).above(120);
  });

  it('gets even sim meshes over its garments', () => {
    for (const name of ['Under-smock', 'Work apron']) {
      const index = sectionNamed(name);
      const target = 0.025;
      const surface = makeSimSurface(collectOuterSurface(character, [index]), {
        edgeLength: target,
        borderDetail: 0.5,
      });
      const figures = measureSurface(surface, target);
      expect(figures.withinTarget, name).above(0.95);
      expect(figures.smallestAngleP99, name).above(25);
      const border = measureBorderDeviation(surface, collectOuterSurface(character, [index]));
      expect(border, name).below(0.35 * target);
    }
  });

  it('stands in every shape with smock and apron clear of the body', () => {
    for (const name of ['Under-smock', 'Work apron']) {
      const fits = checkShapes(character, sectionNamed(name), [sectionNamed('Body')]);
      expect(fits.map((fit) => fit.name)).deep.equal([null, 'broad', 'slight', 'stooped']);
      for (const { deepest } of fits) expect(deepest).below(0.004);
    }
    const broad = bindSection(shapeCharacter(character, { broad: 1 }), sectionNamed('Body'));
    const plain = bindSection(character, sectionNamed('Body'));
    // Of the trunk, at the waist: the hands hang farther out.
    const widest = (positions: Float32Array): number =>
      positions.reduce(
        (most, x, i) =>
          i % 3 === 0 && x < 0.3 && Math.abs(positions[i + 1]! - 1.08) < 0.02 ? Math.max(most, x) : most,
        0,
      );
    expect(widest(broad) - widest(plain)).within(0.015, 0.035);
  });

  it('gives the scarf the shapes of the body by one step, and it then stays on the neck', () => {
    const scarf = sectionNamed('Neck scarf');
    const document = createLamplighterDocument(character);
    const stooped = { stooped: 1 };
    const before = checkShapes(character, scarf, [0])[3]!;
    const id = 'step' as RecordId;
    document.records.set(id, {
      type: 'step',
      id,
      order: 0,
      sectionIndex: scarf,
      sectionName: 'Neck scarf',
      act: { kind: 'transferMorphs', maxDistance: 0.05, maxAngle: 0.52 },
    });
    const { character: prepared, problems } = prepareCharacter(character, document);
    expect(problems).deep.equal([]);
    const after = checkShapes(prepared, scarf, listBodySections(document, prepared))[3]!;
    expect(before.name).equal('stooped');
    expect(before.sunk).above(20);
    expect(after.sunk).below(4);
    const moved = bindSection(shapeCharacter(prepared, stooped), scarf);
    const still = bindSection(prepared, scarf);
    expect(moved[2]! - still[2]!).above(0.05);
  });

  it('stands upright through the walk: the joints are those that the clip moves', () => {
    const pose = new Pose(character);
    const clip = character.clips.find(({ name }) => name === 'walk')!;
    for (const time of [0, 0.3, 0.7]) {
      pose.setClip(clip, time);
      const posed = poseSection(character, sectionNamed('Body'), pose);
      let [low, high, left, right] = [9, -9, 9, -9];
      for (let i = 0; i < posed.length; i += 3) {
        [low, high] = [Math.min(low, posed[i + 1]!), Math.max(high, posed[i + 1]!)];
        [left, right] = [Math.min(left, posed[i]!), Math.max(right, posed[i]!)];
      }
      expect(low).within(-0.03, 0.03);
      expect(high).within(1.68, 1.78);
      expect(right - left).within(0.4, 0.8);
    }
  });

  it('walks with its layers in order, and every garment near its skinned place', () => {
    const document = createLamplighterDocument(character);
    expect(listGarments(document).map(({ name }) => name)).deep.equal([
      'Under-smock',
      'Work apron',
      'Neck scarf',
      'Tool roll',
    ]);
    const run = createRun(document, character);
    run.play(character.clips.findIndex(({ name }) => name === 'walk'));
    run.reset();
    for (let frame = 0; frame < 120; frame++) run.step();
    for (const garment of run.garments) {
      const { pointCount } = garment.setup.compiled;
      for (let i = 0; i < 4 * pointCount; i += 4) {
        const displacement = Math.hypot(
          ...[0, 1, 2].map((k) => garment.shown[i + k]! - garment.targets[i + k]!),
        );
        expect(displacement).below(0.33);
      }
    }
  });

  it('crouches and pulls without an apron that is crushed in the crease of the hip', () => {
    const run = createRun(createLamplighterDocument(character), character);
    run.play(character.clips.findIndex(({ name }) => name === 'crouch and pull'));
    run.reset();
    const apron = run.garments[1]!;
    const strains: number[] = [];
    for (let frame = 0; frame < run.duration * 120; frame++) {
      run.step();
      strains.push(measureHighStrain(apron));
    }
    expect(strains.reduce((sum, strain) => sum + strain, 0) / strains.length).below(0.27);
    expect(Math.max(...strains)).below(0.45);
  });
});

/** Strain that 99 of 100 edges of a garment stay below. */
function measureHighStrain({ solver, setup }: CharacterRun['garments'][number]): number {
  const strains: number[] = [];
  visitStrains(setup.compiled, solver.positions, (strain) => strains.push(strain));
  return percentile(strains, 0.99);
}
