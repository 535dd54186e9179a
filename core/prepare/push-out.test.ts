import { expect } from 'chai';
import { createDocument } from '../document/index.ts';
import { bindSection } from '../rig/index.ts';
import { checkSection, prepareCharacter } from './index.ts';
import { addStep, createSkirt, createWardrobe } from './test-wardrobe.ts';

/** A skirt that is drawn into the leg (radius 10 cm) at one side around the middle. */
function createSunken() {
  const skirt = createSkirt();
  for (let v = 0; v < skirt.positions.length / 3; v++) {
    const [x, y] = [skirt.positions[3 * v]!, skirt.positions[3 * v + 1]!];
    const pull = x > 0.05 ? Math.max(0, 1 - Math.abs(y + 0.15) / 0.1) : 0;
    for (const k of [0, 2]) skirt.positions[3 * v + k] = (1 - 0.5 * pull) * skirt.positions[3 * v + k]!;
  }
  return createWardrobe(skirt);
}

const radiusAt = (p: Float32Array, v: number): number => Math.hypot(p[3 * v]!, p[3 * v + 2]!);

describe('a garment sunk into the body', () => {
  it('is found, with how deep, and not when it lies outside', () => {
    const found = checkSection(createSunken(), 1, [0]).find(({ kind }) => kind === 'sunkIn')!;
    expect(found.count).within(20, 120);
    expect(found.measured).within(15, 45);
    expect(found.fix).equal('pushOut');
    expect(checkSection(createSunken(), 1).map(({ kind }) => kind)).not.include('sunkIn');
    expect(checkSection(createWardrobe(), 1, [0]).map(({ kind }) => kind)).not.include('sunkIn');
  });

  it('is pushed out to the offset, smoothly, and left alone elsewhere', () => {
    const source = createSunken();
    const document = createDocument();
    addStep(document, 'Skirt', { kind: 'pushOut', offset: 0.004 });
    const { character, problems } = prepareCharacter(source, document);
    expect(problems).deep.equal([]);
    const [before, after] = [bindSection(source, 1), bindSection(character, 1)];
    let moved = 0;
    for (let v = 0; v < after.length / 3; v++) {
      // The leg is a prism of 40 sides: a little within its circle.
      expect(radiusAt(after, v)).above(0.1035);
      if (Math.abs(radiusAt(after, v) - radiusAt(before, v)) > 1e-5) moved++;
    }
    expect(moved).within(30, 400);
    // The hem never was near.
    expect(after.slice(-123)).deep.equal(before.slice(-123));
    expect(checkSection(character, 1, [0]).map(({ kind }) => kind)).not.include('sunkIn');
    // Both sides of the seam went together.
    expect(checkSection(character, 1, [0]).map(({ kind }) => kind)).not.include('unweldedSeam');
  });

  it('cannot be pushed out of nothing', () => {
    const source = createSunken();
    const document = createDocument();
    addStep(document, 'Skirt', { kind: 'pushOut', offset: 0.004 }, 0);
    const alone = { ...source, sections: [source.sections[1]!] };
    expect(prepareCharacter(alone, document).problems[0]!.reason).equal(
      'there is no body to push the garment out of',
    );
  });
});
