import { expect } from 'chai';
import { createSheet, createTestCharacter } from '../../core/cloth/test-cloth.ts';
import { createDocument, listGarments } from '../../core/document/index.ts';
import { computeFlood, createSparseChange } from '../../core/reach/index.ts';
import { Editor } from './editor.ts';
import { ReachWatch } from './reach-watch.ts';
import { ReachWork } from './reach-work.ts';
import { SESSION_START } from './session.ts';
import { Store } from './store.ts';

function open(): { editor: Editor; watch: ReachWatch; reach: ReachWork; kinds(): string[] } {
  const sheet = createSheet(8, 8, (u, v) => [u - 0.5, -v, 0]);
  const editor = new Editor(createTestCharacter(sheet.positions, sheet.triangles), createDocument());
  const garmentId = editor.addGarment(0);
  const watch = new ReachWatch(editor, { get: () => null, store: new Store({ known: 0 }) });
  const reach = new ReachWork(editor, new Store({ ...SESSION_START, garmentId }));
  return {
    editor,
    watch,
    reach,
    kinds: () => {
      watch.check();
      return watch.get(garmentId).map(({ kind }) => kind);
    },
  };
}

describe('the watch over max distances', () => {
  it('tells of each change, and no more when it is mended', () => {
    const { editor, reach, kinds } = open();
    expect(kinds()).deep.equal(['all-held']);
    reach.change('flood', ({ values, kind }) => computeFlood(values, 0.3, { kind }));
    expect(kinds()).deep.equal(['nothing-held']);
    reach.pick(Array.from({ length: 9 }, (_, p) => p));
    reach.hold();
    expect(kinds()).deep.equal(['out-of-reach']);
    reach.change('grade', ({ values }) =>
      createSparseChange(
        values,
        [...values.keys()],
        Array.from(values, (_, p) => 0.08 * Math.floor(p / 9)),
      ),
    );
    expect(kinds()).deep.equal([]);
    for (let step = 0; step < 3; step++) editor.undo();
    expect(kinds()).deep.equal(['all-held']);
  });

  it('does not ask points for a hold that ride on others', () => {
    const { editor, reach, kinds } = open();
    reach.change('flood', ({ values, kind }) => computeFlood(values, 0.3, { kind }));
    reach.choose('lining');
    reach.change('all ride', ({ values, kind }) => computeFlood(values, 1, { kind }));
    expect(kinds()).deep.equal([]);
    editor.undo();
    expect(kinds()).deep.equal(['nothing-held']);
  });

  it('checks again only what changed, and everything after a step', () => {
    const { editor, watch } = open();
    const garment = listGarments(editor.document)[0]!;
    watch.check();
    const before = watch.get(garment.id);
    editor.updateScene('wind', { windSpeed: 3 });
    watch.check();
    expect(watch.get(garment.id)).equal(before);
    editor.takeCharacter({ ...editor.character });
    watch.check();
    expect(watch.get(garment.id)).not.equal(before);
    editor.removeGarment(garment);
    watch.check();
    expect(watch.get(garment.id)).deep.equal([]);
  });
});
