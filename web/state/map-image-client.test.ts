import { expect } from 'chai';
import { createSheet, createTestCharacter } from '../../core/cloth/test-cloth.ts';
import { createDocument } from '../../core/document/index.ts';
import { computeFlood, createSparseChange } from '../../core/reach/index.ts';
import { MapImageLoop } from '../workers/map-image-loop.ts';
import { Editor } from './editor.ts';
import { describeLegend, writeValue } from './legend.ts';
import { ImageRefused, MapImageClient } from './map-image-client.ts';
import { ReachWork } from './reach-work.ts';
import { SESSION_START, type Session } from './session.ts';
import { Store } from './store.ts';
import { installLocalWorkers } from './test-worker.ts';

const NO_PREPARATION = { findInnerSide: async () => new Uint8Array(0) };

function open(hasUvs = true) {
  const { positions, triangles } = createSheet(8, 8, (u, v) => [u - 0.5, -v, 0]);
  const character = createTestCharacter(positions, triangles);
  if (hasUvs)
    character.sections[0]!.uvs = Float32Array.from({ length: 162 }, (_, i) => {
      const point = Math.floor(i / 2);
      return 0.05 + (0.9 * (i % 2 === 0 ? point % 9 : Math.floor(point / 9))) / 8;
    });
  const editor = new Editor(character, createDocument());
  const garmentId = editor.addGarment(0);
  const session = new Store<Session>({ ...SESSION_START, garmentId });
  const reach = new ReachWork(editor, session);
  reach.change('grade', ({ values }) =>
    createSparseChange(
      values,
      [...values.keys()],
      Array.from(values, (_, p) => 0.05 * Math.floor(p / 9)),
    ),
  );
  return { editor, reach, client: new MapImageClient(editor, reach, NO_PREPARATION) };
}

const toFile = (bytes: Uint8Array, name = 'map.png'): File => new File([bytes as BlobPart], name);
const SETTINGS = { size: 256, depth: 16, low: 0, high: null } as const;
const READ = { part: 'grey', low: 0, high: 0.4, soften: 0 } as const;

describe('images of maps on the page', () => {
  let restore: () => void;
  before(() => {
    restore = installLocalWorkers(() => new MapImageLoop());
  });
  after(() => restore());

  it('go out with white where the legend ends, and come back as one step', async () => {
    const { editor, reach, client } = open();
    const values = reach.painted!.values.slice();
    const written = await client.write(SETTINGS);
    expect(written.high).equal(0.4);
    reach.change('flood', ({ values, kind }) => computeFlood(values, 0.1, { kind }));
    const opened = await client.open(toFile(written.png));
    expect(opened.range).deep.equal({ channel: 'maxDistance', low: 0, high: 0.4 });
    // Points that had 10 cm before may come back a hair beside it.
    expect(await client.read(READ)).within(81 - 9, 81);
    reach.painted!.values.forEach((value, p) => {
      expect(value).closeTo(values[p]!, 0.4 / 65535);
    });
    expect(client.store.state.isBusy).equal(false);
    expect(editor.undoLabel).equal('Take over map.png');
    editor.undo();
    expect(new Set(reach.painted!.values)).deep.equal(new Set([Math.fround(0.1)]));
  });

  it('keep to the picked points', async () => {
    const { reach, client } = open();
    const { png } = await client.write(SETTINGS);
    await client.open(toFile(png));
    reach.pick([80]);
    expect(await client.read({ ...READ, high: 0.2 })).equal(1);
    expect(reach.painted!.values[80]).closeTo(0.2, 1e-5);
  });

  it('are read anew when something was painted while they were being read', async () => {
    const { reach, client } = open();
    const { png } = await client.write(SETTINGS);
    await client.open(toFile(png));
    const reading = client.read({ ...READ, high: 0.2 });
    reach.change('flood', ({ values, kind }) => computeFlood(values, 7, { kind }));
    await reading;
    // Nothing of the flood is left: the image counts, whatever came between.
    expect(Math.max(...reach.painted!.values)).closeTo(0.2, 1e-5);
  });

  it('are refused with the reason, and nothing is changed', async () => {
    const { editor, client } = open(false);
    const { revision } = editor;
    const refuse = async (work: Promise<unknown>): Promise<ImageRefused> =>
      work.then(
        () => expect.fail('it was taken'),
        (error) => error as ImageRefused,
      );
    expect((await refuse(client.write(SETTINGS))).message).contain('has no UVs');
    expect((await refuse(client.drawLayout(64))).message).contain('has no UVs');
    const broken = await refuse(client.open(toFile(Uint8Array.of(1, 2), 'x.png')));
    expect(broken).instanceof(ImageRefused);
    expect(broken.message).contain('x.png: It is not a PNG image.');
    expect((await refuse(client.read(READ))).message).contain('No image is open');
    expect(editor.revision).equal(revision);
    expect(client.store.state).deep.equal({ isBusy: false, opened: null });
  });
});

describe('the legend', () => {
  it('fits the map, or ends where it is told, with lines at even or typed values', () => {
    const { reach } = open();
    const read = () => describeLegend(reach, reach.painted!.values);
    expect(read().top).equal(0.4);
    expect(read().contours.map((value) => writeValue('maxDistance', value))).deep.equal([
      '8',
      '16',
      '24',
      '32',
    ]);
    reach.store.set({ top: 0.25, contours: [0.1, 0.2] });
    expect(read()).deep.equal({ top: 0.25, contours: [0.1, 0.2] });
    reach.choose('stiffness');
    // What was set was for another channel.
    expect(describeLegend(reach, null)).deep.include({ top: 2 });
    expect(writeValue('stiffness', 1.25)).equal('1.25');
  });
});
