import { expect } from 'chai';
import { capsulesOfMesh, createDocument, type RecordId } from '../document/index.ts';
import { measureDeviation } from '../mesh/index.ts';
import { prepareCharacter } from '../prepare/index.ts';
import { addStep, createWardrobe } from '../prepare/test-wardrobe.ts';
import { bindSection, type Character } from '../rig/index.ts';
import type { StepAct } from './index.ts';
import { collectSkin, createSectionMesh } from './index.ts';

const LEG = 0;

function make(act: Partial<Extract<StepAct, { kind: 'makeBodyMesh' }>>) {
  const document = createDocument();
  const whole: StepAct = {
    kind: 'makeBodyMesh',
    name: 'Body mesh',
    vertexCount: 150,
    without: [],
    others: [],
    ...act,
  };
  addStep(document, 'Leg', whole, LEG);
  return prepareCharacter(createWardrobe(), document);
}

const lowest = (character: Character, section: number): number =>
  bindSection(character, section).reduce((low, value, i) => (i % 3 === 1 ? Math.min(low, value) : low), 0);

describe('a body mesh over the skin', () => {
  it('has few vertices, weights and the space of the skin, and is not drawn', () => {
    const { character, problems, faults } = make({});
    expect([problems, faults]).deep.equal([[], []]);
    const mesh = character.sections[2]!;
    expect(mesh).include({ name: 'Body mesh', isSimMesh: true, skin: 0, uvs: null, colors: null });
    expect(mesh.positions.length / 3).within(148, 150);
    const { pointPositions: positions, faces: triangles } = createSectionMesh(character, 2);
    expect(measureDeviation({ positions, triangles }, collectSkin(character, [LEG])).most).below(0.006);
    // Down the leg the knee has more and more of it.
    const places = bindSection(character, 2);
    for (let v = 0; v < mesh.positions.length / 3; v++) {
      let knee = 0;
      for (let i = 4 * v; i < 4 * v + 4; i++) if (mesh.jointIndices[i] === 1) knee += mesh.jointWeights[i]!;
      expect(knee).closeTo(Math.min(1, Math.max(0, -places[3 * v + 1]! / 0.7)), 0.03);
    }
  });

  it('leaves out what the named joints move most', () => {
    const whole = make({}).character;
    expect(lowest(whole, 2)).closeTo(-0.7, 0.005);
    // The knee has more than half of what lies below the middle.
    const { character } = make({ without: ['knee'] });
    expect(lowest(character, 2)).closeTo(-0.35, 0.02);
    expect(make({ without: ['hip', 'knee'] }).problems[0]!.reason).contain('all of the skin is left out');
  });

  it('of more vertices than the skin has is the skin itself', () => {
    const { character } = make({ vertexCount: 20_000 });
    const skin = collectSkin(character, [LEG]);
    expect(character.sections[2]!.positions.length).equal(skin.positions.length);
  });

  it('becomes tapered capsules, one for each joint, that fill the skin', () => {
    const { character } = make({ vertexCount: 400 });
    let count = 0;
    const bodies = capsulesOfMesh(
      character,
      {
        type: 'bodyMesh',
        id: 'm' as RecordId,
        bodySetId: 's' as RecordId,
        name: 'Leg',
        stepId: null,
        sectionIndex: 2,
        sectionName: 'Body mesh',
        margin: 0.002,
        group: 3,
      },
      () => `b-${++count}` as RecordId,
    );
    expect(bodies.map(({ jointName, margin, group }) => [jointName, margin, group])).deep.equal([
      ['hip', 0.002, 3],
      ['knee', 0.002, 3],
    ]);
    for (const { shape } of bodies) {
      expect(shape.kind).equal('taperedCapsule');
      if (shape.kind !== 'taperedCapsule') continue;
      // The joints' own space is half as large as the world.
      for (const radius of [shape.radiusA, shape.radiusB]) expect(radius).closeTo(0.1, 0.006);
    }
  });
});
