import { expect } from 'chai';
import type { BodyShape } from '../../core/bodies/index.ts';
import { createSheet, createTestCharacter } from '../../core/cloth/test-cloth.ts';
import {
  type BodyRecord,
  createDocument,
  findChannel,
  groupBit,
  listGarments,
  PLAIN_LEVEL,
  type RecordId,
  toPatch,
  toWholePatch,
} from '../../core/document/index.ts';
import { createWardrobe } from '../../core/prepare/test-wardrobe.ts';
import type { Character } from '../../core/rig/index.ts';
import type { CharacterRun } from '../../core/run/index.ts';
import { Editor } from '../state/editor.ts';
import { addMap, removeMap, useMap } from '../state/maps.ts';
import { PreviewRun } from './preview-run.ts';

const SKIRT = 1;

/** An editor with one hanging garment, and the preview that follows it. */
function createPair(): { editor: Editor; preview: PreviewRun; newRuns: number[] } {
  const sheet = createSheet(8, 8, (u, v) => [u, -v, 0]);
  const editor = new Editor(createTestCharacter(sheet.positions, sheet.triangles), createDocument());
  editor.addGarment(0);
  const channel = findChannel(editor.document, listGarments(editor.document)[0]!.id)!;
  const values = editor.document.arrays.get(channel.id)!;
  editor.paint('reach', channel.id, {
    indices: Uint32Array.from({ length: 72 }, (_, i) => i + 9),
    before: new Float32Array(72),
    after: new Float32Array(72).fill(0.4),
  });
  expect(values[9]).closeTo(0.4, 1e-6);
  const preview = new PreviewRun(editor.character, toWholePatch(editor.document));
  const newRuns: number[] = [];
  editor.onDiff((diff) => newRuns.push(preview.apply(toPatch(diff)) ? 1 : 0));
  return { editor, preview, newRuns };
}

describe('the run behind the live preview', () => {
  const lowest = ({ run }: PreviewRun): number => {
    const x = run.garments[0]!.solver.positions;
    let low = 0;
    for (let i = 1; i < 4 * run.garments[0]!.setup.compiled.pointCount; i += 4) low = Math.min(low, x[i]!);
    return low;
  };

  it('takes painted values, fabric, bodies and wind into the running solver', () => {
    const { editor, preview, newRuns } = createPair();
    const { run } = preview;
    const garment = listGarments(editor.document)[0]!;
    const fabric = editor.document.records.get(garment.fabricId)!;
    if (fabric.type !== 'fabric') throw new Error('The garment has no fabric.');
    editor.updateRecord('soft', fabric, {
      settings: { ...fabric.settings, stretchWarp: 10, stretchWeft: 10, shearStiffness: 5, stretchCap: 2 },
    });
    for (let i = 0; i < 60; i++) run.step();
    const hanging = lowest(preview);
    expect(hanging).below(-1.05);
    editor.updateScene('wind', { windSpeed: 8, windDirection: 0 });
    expect(run.wind.windSpeed).equal(8);
    const id = 'b' as RecordId;
    editor.changeRecords('body', [
      [
        id,
        {
          type: 'body',
          id,
          bodySetId: garment.bodySetId,
          name: 'b',
          jointName: 'root',
          shape: { kind: 'sphere', a: [0.5, -1, 0], b: [0, 0, 0], radiusA: 0.2, radiusB: 0.2 },
          margin: 0,
          group: 1,
        },
      ],
    ]);
    run.step();
    expect(run.garments[0]!.bodies.capsules.length).equal(8);
    // Another kind, larger by a margin, and a group that the garment does not meet, at once.
    const body = editor.document.records.get(id) as BodyRecord;
    const box: BodyShape = {
      kind: 'box',
      centre: [0.5, -1, 0],
      rotation: [0, 0, 0, 1],
      halfSize: [0.1, 0.1, 0.1],
    };
    editor.updateRecord('box', body, { shape: box, margin: 0.02 });
    expect(run.garments[0]!.bodies.capsules.length).equal(0);
    expect([...run.garments[0]!.bodies.sizes].map((size) => size.toFixed(3))).deep.equal(['0.120']);
    const worn = listGarments(editor.document)[0]!;
    editor.updateRecord('groups', worn, { bodyGroups: groupBit(2) });
    expect(run.garments[0]!.bodies.sizes.length).equal(0);
    for (let i = 0; i < 2; i++) editor.undo();
    expect(run.garments[0]!.bodies.capsules.length).equal(8);
    editor.undo();
    expect(run.garments[0]!.bodies.capsules.length).equal(0);
    const channel = findChannel(editor.document, garment.id)!;
    const values = editor.document.arrays.get(channel.id)!;
    editor.paint('hold', channel.id, {
      indices: Uint32Array.from(values.keys()),
      before: values.slice(),
      after: new Float32Array(values.length),
    });
    run.step();
    expect(lowest(preview)).equal(-1);
    expect(newRuns.every((isNew) => isNew === 0)).equal(true);
    expect(preview.run).equal(run);
  });

  it('takes every channel into the running solver: made, painted, changed for another map, taken away', () => {
    const { editor, preview, newRuns } = createPair();
    const { run } = preview;
    const garment = listGarments(editor.document)[0]!;
    const { solver } = run.garments[0]!;
    const stiffnessOfPairs = (): number =>
      solver.state.pairSoftness.reduce((sum, softness) => sum + (softness > 0 ? 1 / softness : 0), 0);
    run.step();
    const plain = stiffnessOfPairs();
    const stiff = addMap(editor, garment, 'stiffness', 81, new Float32Array(81).fill(0.001));
    run.step();
    const soft = stiffnessOfPairs();
    expect(soft).below(0.9 * plain);
    editor.paint('stiff again', stiff.id, {
      indices: Uint32Array.from({ length: 81 }, (_, i) => i),
      before: new Float32Array(81).fill(0.001),
      after: new Float32Array(81).fill(1),
    });
    run.step();
    expect(stiffnessOfPairs() / plain).closeTo(1, 1e-4);
    addMap(editor, garment, 'stiffness', 81, new Float32Array(81).fill(0.001));
    run.step();
    expect(stiffnessOfPairs() / soft).closeTo(1, 1e-4);
    useMap(editor, editor.document.records.get(stiff.id) as typeof stiff);
    run.step();
    expect(stiffnessOfPairs() / plain).closeTo(1, 1e-4);
    const limits = addMap(editor, garment, 'inwardLimit', 81, new Float32Array(81).fill(0.02));
    run.step();
    expect(solver.state.inwardDepths[5]).closeTo(0.02, 1e-6);
    removeMap(editor, limits);
    run.step();
    expect(solver.state.inwardDepths[5]).equal(-1);
    addMap(editor, garment, 'drag', 81, new Float32Array(81));
    addMap(editor, garment, 'damping', 81, new Float32Array(81));
    run.step();
    expect(solver.state.aeroScale.every((share) => share === 0)).equal(true);
    expect(solver.state.velocityRetention.every((keep) => keep === 1)).equal(true);
    addMap(editor, garment, 'lining', 81, new Float32Array(81).fill(0).fill(1, 72));
    run.step();
    expect(run.garments[0]!.setup.lining!.reduce((sum, one) => sum + one, 0)).equal(9);
    expect(newRuns.every((isNew) => isNew === 0)).equal(true);
    expect(preview.run).equal(run);
  });

  it('has other places only for another list of garments', () => {
    const { editor, preview, newRuns } = createPair();
    const garment = preview.run.garments[0]!;
    editor.removeGarment(listGarments(editor.document)[0]!);
    expect(newRuns).deep.equal([1]);
    expect(preview.run.garments).deep.equal([]);
    const { reach } = garment.solver.state;
    editor.undo();
    expect(newRuns).deep.equal([1, 1]);
    expect(preview.run.garments[0]!.solver.state.reach).deep.equal(reach);
  });

  it('makes the garment anew that is told as clear of another; the other goes on', () => {
    const editor = new Editor(createWardrobe(), createDocument());
    editor.addGarment(SKIRT);
    const [lower] = listGarments(editor.document);
    editor.addGarment(0);
    const preview = new PreviewRun(editor.character, toWholePatch(editor.document));
    editor.onDiff((diff) => preview.apply(toPatch(diff)));
    const [beneath, upper] = preview.run.garments;
    expect(upper!.layers).deep.equal([beneath]);
    const over = listGarments(editor.document)[1]!;
    editor.updateRecord('clear', over, { clearOf: [lower!.id] });
    expect(preview.run.garments[0]).equal(beneath);
    expect(preview.run.garments[1]!.layers).deep.equal([]);
    editor.undo();
    expect(preview.run.garments[1]!.layers).deep.equal([beneath]);
  });

  it('gives the same numbers as a run made of the finished document', () => {
    const { editor, preview } = createPair();
    const garment = listGarments(editor.document)[0]!;
    const fabric = editor.document.records.get(garment.fabricId)!;
    if (fabric.type === 'fabric')
      editor.updateRecord('heavy', fabric, { settings: { ...fabric.settings, density: 1.1 } });
    const fresh = new PreviewRun(editor.character, toWholePatch(editor.document));
    for (const { run } of [preview, fresh]) for (let i = 0; i < 30; i++) run.step();
    expect(preview.run.garments[0]!.solver.positions).deep.equal(fresh.run.garments[0]!.solver.positions);
  });

  describe('with other skin weights', () => {
    /** A leg and a skirt on hip and knee; the skirt hangs and has settled for a while. */
    const createSkirtPair = () => {
      const character = createWardrobe();
      const editor = new Editor(character, createDocument());
      editor.addGarment(SKIRT);
      const channel = findChannel(editor.document, listGarments(editor.document)[0]!.id)!;
      const { pointCount } = channel;
      editor.paint('reach', channel.id, {
        indices: Uint32Array.from({ length: pointCount - 45 }, (_, i) => i + 45),
        before: new Float32Array(pointCount - 45),
        after: new Float32Array(pointCount - 45).fill(0.2),
      });
      const preview = new PreviewRun(character, toWholePatch(editor.document));
      preview.run.setTurns([{ node: character.skins[0]!.joints[1]!, angles: [0.6, 0, 0] }]);
      for (let i = 0; i < 20; i++) preview.run.step();
      return { character, editor, preview };
    };
    /** All of the skirt follows the knee, or the hip. */
    const weigh = (character: Character, joint: number): Character => {
      const skirt = character.sections[SKIRT]!;
      const jointIndices = new Uint16Array(skirt.jointIndices.length).fill(joint);
      const jointWeights = Float32Array.from(skirt.jointWeights, (_, i) => (i % 4 === 0 ? 1 : 0));
      const sections = character.sections.slice();
      sections[SKIRT] = { ...skirt, jointIndices, jointWeights };
      return { ...character, sections };
    };
    const NOTHING = { records: [], arrays: [] };

    it('goes on as it is: no new run, no jump, and follows the new joints', () => {
      const { character, preview } = createSkirtPair();
      const { run } = preview;
      const garment = run.garments[0]!;
      const before = garment.solver.positions.slice();
      const targets = garment.targets.slice();
      expect(preview.apply(NOTHING, weigh(character, 1))).equal(false);
      expect(preview.run).equal(run);
      expect(garment.solver.positions).deep.equal(before);
      for (let i = 0; i < 60; i++) run.step();
      expect(garment.targets).not.deep.equal(targets);
      // The same places that a run made of that character skins to.
      const fresh = new PreviewRun(weigh(character, 1), toWholePatch(createSkirtPair().editor.document));
      fresh.run.setTurns([{ node: character.skins[0]!.joints[1]!, angles: [0.6, 0, 0] }]);
      for (let i = 0; i < 80; i++) fresh.run.step();
      const { pointCount } = garment.setup.compiled;
      for (let i = 0; i < 4 * pointCount; i++)
        expect(garment.targets[i]).closeTo(fresh.run.garments[0]!.targets[i]!, 1e-5);
      // In its steady state it hangs as that one does; folds may have fallen otherwise.
      for (let i = 0; i < 240; i++) for (const each of [run, fresh.run]) each.step();
      const middle = (each: typeof run, k: number): number => {
        const { positions } = each.garments[0]!.solver;
        let sum = 0;
        for (let i = k; i < 4 * pointCount; i += 4) sum += positions[i]!;
        return sum / pointCount;
      };
      for (const k of [0, 1, 2]) expect(middle(run, k)).closeTo(middle(fresh.run, k), 0.02);
    });

    it('is made anew when places change too, or the number of sections', () => {
      const { character, preview } = createSkirtPair();
      const moved = weigh(character, 1);
      const skirt = moved.sections[SKIRT]!;
      moved.sections[SKIRT] = { ...skirt, positions: skirt.positions.map((value) => 1.02 * value) };
      expect(preview.apply(NOTHING, moved)).equal(true);
      const more = { ...moved, sections: [...moved.sections, character.sections[0]!] };
      expect(preview.apply(NOTHING, more)).equal(true);
      expect(preview.apply(NOTHING, weigh(more, 0))).equal(false);
    });

    it('takes those of what is not simulated as they come', () => {
      const { character, preview } = createSkirtPair();
      const leg = character.sections[0]!;
      const sections = character.sections.slice();
      sections[0] = { ...leg, jointIndices: new Uint16Array(leg.jointIndices.length) };
      expect(preview.apply(NOTHING, { ...character, sections })).equal(false);
      expect(preview.run.character.sections[0]).equal(sections[0]);
    });
  });

  describe('held at a level of detail', () => {
    const LEVELS = [
      { ...PLAIN_LEVEL, pixels: 400, edgeLength: 0.2 },
      { ...PLAIN_LEVEL, pixels: 100, edgeLength: 0.3, substepsPerSecond: 120 },
    ];

    function hold() {
      const pair = createPair();
      const [garment] = listGarments(pair.editor.document);
      pair.editor.updateRecord('levels', garment!, { levels: LEVELS });
      const count = (): number => pair.preview.run.garments[0]!.setup.compiled.pointCount;
      return { ...pair, garmentId: garment!.id, count, own: count() };
    }

    it('simulates its mesh and settings, draws the garment over it, and lets go of it again', () => {
      const { preview, count, own } = hold();
      preview.hold(100);
      expect(count()).below(own);
      const [{ setup }] = preview.run.garments as [CharacterRun['garments'][number]];
      expect(setup.renders!.map(({ sectionIndex }) => sectionIndex)).deep.equal([0]);
      preview.hold(400);
      expect(count()).equal(own);
      preview.hold(null);
      expect(count()).equal(own);
      expect(preview.run.character.sections.length).equal(1);
    });

    it('goes over from one size to another as it would in motion', () => {
      const { preview, count } = hold();
      preview.hold(100);
      for (let i = 0; i < 40; i++) preview.run.step();
      const before = lowest(preview);
      const points = count();
      preview.hold(0);
      expect(count()).below(points);
      expect(preview.run.isSwitching).equal(true);
      // It begins as far down as it was.
      expect(lowest(preview)).closeTo(before, 0.05);
      expect(preview.run.garments[0]!.solver.fabric.substepsPerSecond).equal(120);
      for (let i = 0; i < 40; i++) preview.run.step();
      expect(preview.run.isSwitching).equal(false);
    });

    it('follows edits when it is brought to them, maps and levels alike', () => {
      const { editor, preview, garmentId, count } = hold();
      preview.hold(100);
      const reach = (): number => Math.max(...preview.run.garments[0]!.setup.maxDistances);
      expect(reach()).closeTo(0.4, 1e-6);
      const points = count();
      expect(preview.refreshHeld()).equal(false);
      const channel = findChannel(editor.document, garmentId)!;
      editor.paint('hold', channel.id, {
        indices: Uint32Array.from({ length: 72 }, (_, i) => i + 9),
        before: new Float32Array(72).fill(0.4),
        after: new Float32Array(72),
      });
      expect(preview.refreshHeld()).equal(true);
      expect(preview.run.garments[0]!.setup.compiled.pointCount).equal(points);
      expect(reach()).equal(0);
      const [garment] = listGarments(editor.document);
      editor.updateRecord('finer', garment!, { levels: [{ ...LEVELS[0]!, edgeLength: 0.15 }] });
      expect(preview.refreshHeld()).equal(true);
      preview.hold(0);
      expect(count()).above(points);
    });
  });
});
