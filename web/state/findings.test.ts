import { expect } from 'chai';
import { createSheet, createTestCharacter } from '../../core/cloth/test-cloth.ts';
import {
  createDiff,
  createDocument,
  findChannel,
  listGarments,
  type RecordId,
} from '../../core/document/index.ts';
import type { WeldedIndex } from '../../core/mesh/index.ts';
import { checkSection } from '../../core/prepare/index.ts';
import { createFrame } from '../../core/trials/test-frame.ts';
import { Editor } from './editor.ts';
import { listFindings } from './findings.ts';
import { ReachWatch } from './reach-watch.ts';
import { Store } from './store.ts';

function createEditor(): Editor {
  const sheet = createSheet(6, 6, (u, v) => [u, v < 1 ? -v : -0.836, 0]);
  return new Editor(createTestCharacter(sheet.positions, sheet.triangles), createDocument());
}

function kinds(editor: Editor, frames: Parameters<typeof listFindings>[2] = []): string[] {
  const garment = listGarments(editor.document)[0]!;
  const watch = new ReachWatch(editor, { get: () => null, store: new Store({ known: 0 }) });
  watch.check();
  return listFindings(editor, garment, frames, null, watch.get(garment.id)).map(({ kind }) => kind);
}

function paint(editor: Editor, values: number[]): void {
  const channel = findChannel(editor.document, listGarments(editor.document)[0]!.id)!;
  const diff = createDiff();
  const before = editor.document.arrays.get(channel.id)!;
  diff.arrays.set(channel.id, {
    indices: Uint32Array.from(values.keys()),
    before: before.slice(),
    after: Float32Array.from(values),
  });
  editor.change('paint', diff);
}

describe('findings', () => {
  it('tell of a garment whose section the file does not have', () => {
    const editor = createEditor();
    editor.addGarment(0);
    expect(kinds(editor)).not.include('no-section');
    const garment = listGarments(editor.document)[0]!;
    editor.updateRecord('lose', garment, { sectionName: 'gone' });
    const [first] = listFindings(editor, listGarments(editor.document)[0]!, [], null, []);
    expect(first).include({ kind: 'no-section', severity: 'severe', stage: 'intake' });
    expect(first!.details).include('"gone"');
  });

  it('say that all or nothing is held, and that there are no bodies', () => {
    const editor = createEditor();
    editor.addGarment(0);
    expect(kinds(editor)).include.members(['all-held', 'no-bodies']);
    paint(editor, new Array<number>(49).fill(0.2));
    expect(kinds(editor)[0]).equal('nothing-held');
    paint(editor, [0, ...new Array<number>(48).fill(0.2)]);
    expect(kinds(editor)).not.include.members(['nothing-held']);
    editor.undo();
    expect(kinds(editor)).include('nothing-held');
  });

  it('tell what is wrong with the mesh that is simulated, and where it is mended', () => {
    const sheet = createSheet(12, 12, (u, v) => [u, v < 1 ? -v : -0.92, 0]);
    const editor = new Editor(createTestCharacter(sheet.positions, sheet.triangles), createDocument());
    editor.addGarment(0);
    const garment = listGarments(editor.document)[0]!;
    const mesh = checkSection(editor.character, 0);
    // The last row is 3 mm high: twelve squares of two triangles.
    const thin = listFindings(editor, garment, [], mesh, []).find(({ kind }) => kind === 'thinRow')!;
    expect(thin).include({ severity: 'warning', title: 'Thin rows', stage: 'garment' });
    expect(thin.details).contain('24 triangles');
    const bound = { ...garment, renders: [{ sectionIndex: 1, sectionName: 'drawn' }] };
    expect(listFindings(editor, bound, [], mesh, []).find(({ kind }) => kind === 'thinRow')!.stage).equal(
      'simMesh',
    );
    // Notes stay in the stage itself.
    expect(mesh.map(({ kind }) => kind)).include('uvMissing');
    expect(listFindings(editor, garment, [], mesh, []).map(({ kind }) => kind)).not.include('uvMissing');
  });

  it('tell the worst frame of the reel, with its place', () => {
    const editor = createEditor();
    const garmentId = editor.addGarment(0);
    const frame = (time: number, penetration: number) => {
      const place = { point: 7 as WeldedIndex, position: [time, 0, 0] as [number, number, number] };
      const places = { penetration: { ...place, amount: penetration } };
      return createFrame(time, [{ garmentId, penetration, places }]);
    };
    const [worst] = listFindings(
      editor,
      listGarments(editor.document)[0]!,
      [frame(0.1, 0.006), frame(0.2, 0.031), frame(0.3, 0.001)],
      null,
      [],
    );
    expect(worst).include({ kind: 'penetration', severity: 'severe', title: '31.0 mm into the body' });
    expect(worst!.at).deep.equal({ time: 0.2, position: [0.2, 0, 0] });
    expect(kinds(editor, [frame(0.1, 0.001)])).not.include('penetration');
  });

  it('tell the frame in which most of what a garment covers shows, with its place', () => {
    const editor = createEditor();
    const garmentId = editor.addGarment(0);
    const other = 'another' as typeof garmentId;
    const frame = (time: number, area: number, of = garmentId) => {
      const place = { point: null, position: [time, 1, 0] as [number, number, number], amount: 0.01 };
      return createFrame(time, [{ garmentId: of, showThrough: area, places: { showThrough: place } }]);
    };
    const [garment] = listGarments(editor.document);
    const frames = [frame(0.1, 0.0004), frame(0.2, 0.0047), frame(0.3, 0.09, other)];
    const [worst] = listFindings(editor, garment!, frames, null, []);
    expect(worst).include({ kind: 'show-through', severity: 'severe', title: '47 cm² show through' });
    expect(worst!.at).deep.equal({ time: 0.2, position: [0.2, 1, 0] });
    expect(kinds(editor, [frame(0.1, 0.0001)])).not.include('show-through');
  });
});

describe('editor', () => {
  it('removes a garment with what belongs to it, and brings all back', () => {
    const editor = createEditor();
    const before = [...editor.document.records.keys()];
    const id = editor.addGarment(0);
    paint(editor, new Array<number>(49).fill(0.3));
    const garment = listGarments(editor.document)[0]!;
    editor.removeGarment(garment);
    expect(editor.document.arrays.size).equal(0);
    // The body set stays: other garments may wear it.
    expect([...editor.document.records.values()].map((record) => record.type).sort()).deep.equal([
      'bodySet',
      'scene',
    ]);
    editor.undo();
    expect([...editor.document.arrays.values()][0]![5]).closeTo(0.3, 1e-6);
    expect(editor.document.records.get(id)).deep.equal(garment);
    editor.undo();
    editor.undo();
    expect([...editor.document.records.keys()]).deep.equal(before);
  });

  it('takes a stroke of many changes back as one', () => {
    const editor = createEditor();
    editor.addGarment(0);
    editor.beginStroke();
    paint(editor, new Array<number>(49).fill(0.1));
    paint(editor, new Array<number>(49).fill(0.2));
    editor.endStroke();
    paint(editor, new Array<number>(49).fill(0.4 as number));
    const [values] = [...editor.document.arrays.values()];
    editor.undo();
    expect(values![0]).closeTo(0.2, 1e-6);
    editor.undo();
    expect(values![0]).equal(0);
    expect(editor.undoLabel).equal('Make cloth a garment');
  });

  it('keeps the order from the skin outward', () => {
    const editor = createEditor();
    editor.character.sections.push({ ...editor.character.sections[0]!, name: 'coat' });
    const ids = [editor.addGarment(0), editor.addGarment(1)];
    editor.reorderGarments([ids[1]!, ids[0]!] as RecordId[]);
    expect(listGarments(editor.document).map((garment) => garment.name)).deep.equal(['coat', 'cloth']);
    editor.undo();
    expect(listGarments(editor.document).map((garment) => garment.name)).deep.equal(['cloth', 'coat']);
  });
});
