import { expect } from 'chai';
import { createSheet, createTestCharacter } from '../../core/cloth/test-cloth.ts';
import {
  createDocument,
  findChannel,
  listGarments,
  listMaps,
  type RecordId,
} from '../../core/document/index.ts';
import { createRandom } from '../../core/math/index.ts';
import {
  BRUSH_MODES,
  CHANNEL_KINDS,
  CHANNELS,
  computeClamped,
  computeDab,
  computeFlood,
  computeInverted,
  computeOffset,
  computeScaled,
  computeSmoothAll,
  moveKnot,
} from '../../core/reach/index.ts';
import { Editor } from './editor.ts';
import { addMap, duplicateMap, useMap as putInUse, removeMap } from './maps.ts';
import { ReachWork } from './reach-work.ts';
import { SESSION_START, type Session } from './session.ts';
import { stepBrushRadius, stepBrushValue } from './step-brush.ts';
import { Store } from './store.ts';

/** A page's editor with one garment of 9 × 9 points, its top row first. */
function open(): { editor: Editor; session: Store<Session>; reach: ReachWork } {
  const sheet = createSheet(8, 8, (u, v) => [u - 0.5, -v, 0]);
  const editor = new Editor(createTestCharacter(sheet.positions, sheet.triangles), createDocument());
  const garmentId = editor.addGarment(0);
  const session = new Store<Session>({ ...SESSION_START, garmentId });
  return { editor, session, reach: new ReachWork(editor, session) };
}

const row = (r: number): number[] => Array.from({ length: 9 }, (_, c) => 9 * r + c);
const listPicked = (set: Uint8Array | null): number[] => (set ? [...set.keys()].filter((p) => set[p]) : []);

describe('maps of a garment', () => {
  it('are several of a channel, one in use', () => {
    const { editor, reach } = open();
    const garment = listGarments(editor.document)[0]!;
    const first = reach.painted!.map;
    reach.change('flood', ({ values, kind }) => computeFlood(values, 0.3, { kind }));
    const copy = duplicateMap(editor, first);
    expect(reach.painted!.map.id).equal(copy.id);
    expect([...reach.painted!.values]).deep.equal([...editor.document.arrays.get(first.id)!]);
    reach.change('flood', ({ values, kind }) => computeFlood(values, 0.1, { kind }));
    expect(editor.document.arrays.get(first.id)![0]).closeTo(0.3, 1e-6);
    const third = addMap(editor, garment, 'maxDistance', 81);
    expect(listMaps(editor.document, garment.id).map(({ name, isInUse }) => [name, isInUse])).deep.equal([
      ['first', false],
      ['first copy', false],
      ['third', true],
    ]);
    putInUse(editor, editor.document.records.get(first.id) as typeof first);
    expect(findChannel(editor.document, garment.id)!.id).equal(first.id);
    removeMap(editor, editor.document.records.get(first.id) as typeof first);
    // Another takes its place.
    expect(findChannel(editor.document, garment.id)!.id).equal(copy.id);
    expect(editor.document.arrays.has(first.id)).equal(false);
    for (let step = 0; step < 3; step++) editor.undo();
    expect(listMaps(editor.document, garment.id).map(({ id }) => id)).not.include(third.id);
    expect(findChannel(editor.document, garment.id)!.id).equal(copy.id);
  });

  it('of a channel without one are made by the first change, as one step with it', () => {
    const { editor, session, reach } = open();
    reach.choose('drag');
    expect(reach.painted).equal(null);
    const before = [...editor.document.records.keys()];
    reach.change('flood', ({ values, kind }) => computeFlood(values, 2, { kind }));
    expect([...reach.painted!.values]).deep.equal(new Array(81).fill(2));
    editor.undo();
    expect([...editor.document.records.keys()]).deep.equal(before);
    editor.redo();
    expect(reach.painted!.kind).equal('drag');
    expect(session.state.channel).equal('drag');
  });

  it('are compared, as long as both are there', () => {
    const { editor, reach } = open();
    const first = reach.painted!.map;
    duplicateMap(editor, first);
    reach.change('flood', ({ values, kind }) => computeFlood(values, 0.25, { kind }));
    reach.store.set({ comparedId: first.id });
    expect(new Set(reach.comparison)).deep.equal(new Set([-0.25]));
    reach.choose('drag');
    expect(reach.store.state.comparedId).equal(null);
    reach.choose('maxDistance');
    reach.store.set({ comparedId: first.id });
    removeMap(editor, editor.document.records.get(first.id) as typeof first);
    expect(reach.store.state.comparedId).equal(null);
    expect(reach.comparison).equal(null);
  });
});

describe('picked points', () => {
  it('are picked and taken off, grow and shrink, and belong to one garment', () => {
    const { session, reach } = open();
    reach.pick(row(3));
    reach.grow('mask');
    expect(listPicked(reach.mask)).deep.equal([...row(2), ...row(3), ...row(4)]);
    reach.shrink('mask');
    expect(listPicked(reach.mask)).deep.equal(row(3));
    reach.invert('mask');
    expect(listPicked(reach.mask).length).equal(72);
    reach.pick(row(0), 'mask', true);
    expect(listPicked(reach.mask).length).equal(63);
    reach.pickPiece('mask');
    expect(listPicked(reach.mask).length).equal(81);
    reach.pick([...Array(81).keys()], 'mask', true);
    expect(reach.mask).equal(null);
    reach.pick([5]);
    session.set({ garmentId: null });
    expect(reach.mask).equal(null);
  });

  it('are those of a joint, or the held ones', () => {
    const { reach } = open();
    reach.pickJoint('mask', 0);
    expect(listPicked(reach.mask).length).equal(81);
    reach.pickJoint('mask', 7);
    expect(reach.mask).equal(null);
    reach.change('flood', ({ values, kind }) => computeFlood(values, 0.3, { kind }));
    reach.pick(row(0));
    reach.hold();
    reach.setPoints('mask', null);
    reach.pickHeld('mask');
    expect(listPicked(reach.mask)).deep.equal(row(0));
  });

  it('are held whatever channel is looked at', () => {
    const { session, reach } = open();
    reach.change('flood', ({ values, kind }) => computeFlood(values, 0.3, { kind }));
    reach.choose('drag');
    reach.pick(row(0));
    reach.hold();
    expect(session.state.channel).equal('drag');
    expect([...reach.find('maxDistance')!.values].filter((value) => value === 0).length).equal(9);
    expect(reach.find('drag')).equal(null);
  });
});

describe('a ramp on the page', () => {
  it('is written between its ends, live in one step while its curve is dragged', () => {
    const { editor, reach } = open();
    reach.store.set({ tab: 'ramp', end: 'low' });
    expect(() => reach.writeRamp()).throw('low end of the ramp has no vertices');
    reach.pick(row(0));
    reach.store.set({ end: 'high' });
    reach.pick(row(8));
    reach.writeRamp();
    for (let r = 0; r <= 8; r++) expect(reach.painted!.values[9 * r + 4]).closeTo(0.05 * r, 1e-4);
    const even = reach.painted!.values.slice();
    editor.beginStroke();
    for (let y = 0.6; y > 0.1; y -= 0.1) {
      const { ramp } = reach.store.state;
      reach.store.set({ ramp: { ...ramp, curve: moveKnot(ramp.curve, 'second', 0.67, y) } });
      reach.writeRamp('ramp');
    }
    editor.endStroke();
    expect(reach.painted!.values[9 * 4 + 4]).below(0.15);
    editor.undo();
    expect(reach.painted!.values).deep.equal(even);
  });
});

describe('undo and redo of painting', () => {
  for (const seed of [1, 2, 3]) {
    it(`of 200 mixed operations gives the exact bytes (seed ${seed})`, () => {
      const { editor, reach } = open();
      const start = snapshot(editor);
      const random = createRandom(seed);
      const states: string[] = [];
      for (let i = 0; i < 200; i++) {
        actAtRandom(editor, reach, random);
        states.push(snapshot(editor));
      }
      expect(new Set(states).size).above(120);
      let steps = 0;
      // The garment itself was made before.
      while (!editor.undoLabel!.startsWith('Make')) {
        editor.undo();
        steps++;
      }
      expect(steps).within(110, 260);
      expect(snapshot(editor)).equal(start);
      for (let step = 0; step < steps; step++) editor.redo();
      expect(snapshot(editor)).equal(states.at(-1));
      expect(editor.redo()).equal(null);
    });
  }
});

/** All records and the bits of all values. The garment itself stays when all else is taken back. */
function snapshot({ document }: Editor): string {
  const bits = [...document.arrays].map(([id, values]) => [id, [...new Uint32Array(values.slice().buffer)]]);
  return JSON.stringify([[...document.records].sort(), bits.sort()]);
}

type Random = () => number;

/** One thing that an artist may do. */
function actAtRandom(editor: Editor, reach: ReachWork, random: Random): void {
  const pick = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)]!;
  const garment = listGarments(editor.document)[0]!;
  const options = { kind: reach.channel, mask: reach.mask };
  const acts: (() => void)[] = [
    () => reach.choose(pick(CHANNEL_KINDS)),
    () => stroke(editor, reach, random),
    () => stroke(editor, reach, random),
    () => stroke(editor, reach, random),
    () => reach.change('flood', ({ values }) => computeFlood(values, random(), options)),
    () => reach.change('offset', ({ values }) => computeOffset(values, random() - 0.5, options)),
    () => reach.change('scale', ({ values }) => computeScaled(values, 2 * random(), options)),
    () => reach.change('clamp', ({ values }) => computeClamped(values, 0.1, 0.1 + random(), options)),
    () => reach.change('invert', ({ values }) => computeInverted(values, options)),
    () =>
      reach.change('smooth', ({ values, reachMesh }) =>
        computeSmoothAll(values, reachMesh.neighbours, random(), 3, options),
      ),
    () => reach.pick(row(Math.floor(9 * random())), 'mask', random() < 0.5),
    () => reach.hold(),
    () => {
      reach.setPoints(
        'low',
        Uint8Array.from({ length: 81 }, (_, p) => (p < 9 ? 1 : 0)),
      );
      reach.setPoints(
        'high',
        Uint8Array.from({ length: 81 }, (_, p) => (p >= 9 * (3 + Math.floor(5 * random())) ? 1 : 0)),
      );
      reach.writeRamp();
    },
    () => addMap(editor, garment, reach.channel, 81),
    () => reach.painted && duplicateMap(editor, reach.painted.map),
    () => {
      const maps = listMaps(editor.document, garment.id, reach.channel);
      if (maps.length > 0) putInUse(editor, pick(maps));
    },
    () => {
      const maps = listMaps(editor.document, garment.id, reach.channel);
      if (maps.length > 1) removeMap(editor, pick(maps));
    },
    () => reach.painted && editor.updateRecord('rename', reach.painted.map, { name: `map ${random()}` }),
  ];
  pick(acts)();
}

function stroke(editor: Editor, reach: ReachWork, random: Random): void {
  editor.beginStroke();
  const mode = BRUSH_MODES[Math.floor(6 * random())]!;
  for (let dab = 0; dab < 4; dab++) {
    const { values, map, kind, reachMesh } = reach.ensure(reach.channel)!;
    const { mesh, neighbours } = reachMesh;
    const surface = { positions: mesh.pointPositions, stride: 3, normals: mesh.pointPositions, neighbours };
    const { range, defaultValue } = CHANNELS[kind];
    const change = computeDab(values, surface, {
      center: [random() - 0.5, -random(), 0],
      radius: 0.1 + 0.4 * random(),
      strength: random(),
      falloff: 'smooth',
      mode,
      value: random(),
      range,
      defaultValue,
      mask: reach.mask,
    });
    editor.paint('stroke', map.id, change);
  }
  editor.endStroke();
}

describe('stepping the brush', () => {
  it('by keys and wheel keeps to the range of its channel, and leaves 0 again', () => {
    const { session } = open();
    const value = (): number => session.state.brush.values[session.state.channel];
    for (let step = 0; step < 80; step++) stepBrushValue(session, -1);
    expect(value()).equal(0);
    stepBrushValue(session, 1);
    expect(value()).closeTo(0.005, 1e-9);
    session.set({ channel: 'lining' });
    for (let step = 0; step < 40; step++) stepBrushValue(session, 1);
    expect(value()).equal(1);
    session.set({ channel: 'maxDistance', brush: { ...session.state.brush, mode: 'raise' } });
    for (let step = 0; step < 3; step++) stepBrushValue(session, -1);
    expect(value()).below(0);
    session.set({ brush: { ...session.state.brush, mode: 'multiply' } });
    stepBrushValue(session, -1);
    expect(session.state.brush.factor).closeTo(1.15, 1e-9);
    for (let step = 0; step < 99; step++) stepBrushRadius(session, 1);
    expect(session.state.brush.radius).equal(1);
    for (let step = 0; step < 99; step++) stepBrushRadius(session, -1);
    expect(session.state.brush.radius).equal(0.005);
  });
});

describe('a page without a worn garment', () => {
  it('paints nothing and breaks nothing', () => {
    const { editor, session, reach } = open();
    session.set({ garmentId: 'gone' as RecordId });
    expect([reach.garment, reach.reachMesh, reach.painted, reach.mask]).deep.equal([null, null, null, null]);
    const before = snapshot(editor);
    reach.change('flood', ({ values, kind }) => computeFlood(values, 1, { kind }));
    reach.pick([1, 2]);
    reach.grow('mask');
    reach.hold();
    reach.writeRamp();
    expect(snapshot(editor)).equal(before);
  });
});
