import { expect } from 'chai';
import { createSheet, createTestCharacter } from '../../core/cloth/test-cloth.ts';
import { createDocument, findChannel, getScene, listGarments, SCENE_ID } from '../../core/document/index.ts';
import { decodeSave } from '../wire/save-format.ts';
import { api, type CharacterInfo } from './api.ts';
import { Editor } from './editor.ts';
import { Saver } from './saver.ts';
import { sendSeen } from './send-seen.ts';

interface Sent {
  id: string;
  baseVersion: number;
  record: { type: string } | null;
  array?: { indices: Uint32Array | null; values: Float32Array };
}

const SOURCE = 'a'.repeat(64);
const SHIPMENT = {
  revision: 1,
  hash: SOURCE,
  name: 'shipped',
  bytes: 1,
  validation: { errors: 0, warnings: 0, messages: [] },
};

const ship = (saver: Saver, info: CharacterInfo) => sendSeen(saver, info, (seen) => api.ship(info.id, seen));

/** The server's part, played by the test: answers what it is told to, and remembers what came. */
class FakeServer {
  readonly sent: Sent[][] = [];
  /** Names of versions. */
  readonly kept: string[] = [];
  answer: (changes: Sent[]) => { status: number; body: unknown } = (changes) => ({
    status: 200,
    body: {
      versions: Object.fromEntries(changes.map(({ id, baseVersion }) => [id, baseVersion + 1])),
      revision: 10 + this.sent.length,
    },
  });
  readonly shipped: { source: string; versions: Record<string, number> }[] = [];
  /** Why a shipment is refused, with what was saved meanwhile; null when it is not. */
  refuse: (seen: { versions: Record<string, number> }) => Promise<string | null> = async () => null;
  /** Saves are answered once this is over. */
  gate: Promise<void> = Promise.resolve();

  install(): () => void {
    const original = globalThis.fetch;
    globalThis.fetch = (async (path: string, init: RequestInit) => {
      if (path.endsWith('/shipment')) {
        const seen = JSON.parse(init.body as string) as (typeof this.shipped)[number];
        const refusal = await this.refuse(seen);
        if (refusal) return new Response(JSON.stringify({ error: { message: refusal } }), { status: 409 });
        this.shipped.push(seen);
        return new Response(JSON.stringify(SHIPMENT));
      }
      if (path.endsWith('/versions')) {
        this.kept.push((JSON.parse(init.body as string) as { name: string }).name);
        return new Response('{}', { status: 201 });
      }
      const { header, arrays } = decodeSave(init.body as Uint8Array);
      const changes = (header as { changes: Sent[] }).changes.map(({ array: _array, ...change }, i): Sent => {
        const array = arrays[i];
        return { ...change, ...(array && { array }) };
      });
      this.sent.push(changes);
      await this.gate;
      const { status, body } = this.answer(changes);
      if (status === 0) throw new TypeError('no connection');
      return new Response(JSON.stringify(body), { status });
    }) as typeof fetch;
    return () => {
      globalThis.fetch = original;
    };
  }
}

describe('saving from the page', () => {
  let server: FakeServer;
  let restore: () => void;
  let editor: Editor;
  let saver: Saver;
  let info: CharacterInfo;

  beforeEach(() => {
    (globalThis as { addEventListener?: unknown }).addEventListener ??= () => {};
    server = new FakeServer();
    restore = server.install();
    const sheet = createSheet(2, 2, (u, v) => [u, v, 0]);
    editor = new Editor(createTestCharacter(sheet.positions, sheet.triangles), createDocument());
    info = {
      id: 'c',
      source: SOURCE,
      revision: 7,
      records: [{ record: getScene(editor.document), version: 4, arrayHash: null }],
    } as unknown as CharacterInfo;
    saver = new Saver(editor, info);
  });

  afterEach(() => restore());

  const until = async (condition: () => boolean): Promise<void> => {
    for (let i = 0; i < 100 && !condition(); i++) await new Promise((resolve) => setTimeout(resolve, 50));
    expect(condition()).equal(true);
  };

  const failureOf = (action: Promise<unknown>): Promise<string> =>
    action.then(
      () => 'it went through',
      (error: Error) => `${error.name}: ${error.message}`,
    );

  it('sends what changed once, a little later, with the versions it was made on', async () => {
    editor.updateScene('wind', { windSpeed: 1 });
    editor.updateScene('wind', { windSpeed: 2 });
    expect(saver.state.kind).equal('unsaved');
    const start = Date.now();
    await until(() => saver.state.kind === 'saved');
    expect(Date.now() - start).below(2000);
    expect(server.sent).length(1);
    expect(server.sent[0]).length(1);
    expect(server.sent[0]![0]).deep.include({ id: SCENE_ID, baseVersion: 4 });
    expect((server.sent[0]![0]!.record as { windSpeed?: number }).windSpeed).equal(2);
    editor.updateScene('wind', { windSpeed: 3 });
    await saver.flush();
    expect(server.sent[1]![0]!.baseVersion).equal(5);
  });

  it('sends the values of a channel only when they changed, and deletions as null', async () => {
    editor.addGarment(0);
    await saver.flush();
    const channel = findChannel(editor.document, listGarments(editor.document)[0]!.id)!;
    expect(server.sent[0]!.find(({ id }) => id === channel.id)!.array).deep.equal({
      indices: null,
      values: editor.document.arrays.get(channel.id),
    });
    editor.changeRecords('rename', [[channel.id, { ...channel, name: 'second' }]]);
    await saver.flush();
    expect(server.sent[1]).length(1);
    expect(server.sent[1]![0]!.array).equal(undefined);
    editor.paint('paint', channel.id, {
      indices: Uint32Array.of(1),
      before: Float32Array.of(0),
      after: Float32Array.of(0.5),
    });
    await saver.flush();
    // Of a stroke only what it changed.
    expect(server.sent[2]![0]!.array).deep.equal({
      indices: Uint32Array.of(1),
      values: Float32Array.of(0.5),
    });
    editor.removeGarment(listGarments(editor.document)[0]!);
    await saver.flush();
    expect(server.sent[3]!.every(({ record }) => record === null)).equal(true);
  });

  it('keeps what could not be sent and sends it again', async () => {
    server.answer = () => ({ status: 0, body: null });
    editor.updateScene('wind', { windSpeed: 7 });
    expect(await failureOf(saver.flush()))
      .contain('could not be saved')
      .and.contain('does not answer');
    expect(saver.state).deep.include({ kind: 'failed' });
    server.answer = (changes) => ({ status: 200, body: { versions: { [changes[0]!.id]: 5 }, revision: 9 } });
    await saver.flush();
    expect(saver.state.kind).equal('saved');
    expect(server.sent[1]).deep.equal(server.sent[0]);
  });

  const conflict = (windSpeed: number) => () => ({
    status: 409,
    body: {
      error: {
        message: 'newer',
        conflicts: [
          { id: SCENE_ID, version: 9, record: { ...getScene(editor.document), windSpeed }, array: null },
        ],
      },
    },
  });

  it('stops at a conflict, and writes over theirs only when told to', async () => {
    server.answer = conflict(12);
    editor.updateScene('wind', { windSpeed: 7 });
    expect(await failureOf(saver.flush())).contain('Another window');
    expect(saver.state.kind).equal('conflict');
    editor.updateScene('wind', { windSpeed: 8 });
    expect(await failureOf(saver.flush())).contain('Another window');
    expect(server.sent).length(1);
    server.answer = () => ({ status: 200, body: { versions: { [SCENE_ID]: 10 }, revision: 20 } });
    saver.resolve('mine');
    await until(() => saver.state.kind === 'saved');
    expect(server.sent[1]![0]).deep.include({ baseVersion: 9 });
    expect(getScene(editor.document).windSpeed).equal(8);
  });

  describe('when another window was first', () => {
    /** What the other window made of what both knew. */
    const conflictWith = (...bodies: object[]) => {
      const { answer } = server;
      server.answer = () => {
        server.answer = answer;
        return { status: 409, body: { error: { message: 'newer', conflicts: bodies } } };
      };
    };
    const toText = (values: Float32Array): string => Buffer.from(values.buffer).toString('base64');

    it('merges by itself what is in different fields, and tells nobody', async () => {
      const theirs = { ...getScene(editor.document), windGusts: 0.9 };
      conflictWith({ id: SCENE_ID, version: 9, record: theirs, array: null });
      editor.updateScene('wind', { windSpeed: 7 });
      const kinds: string[] = [];
      saver.subscribe(() => kinds.push(saver.state.kind));
      await saver.flush();
      await until(() => saver.state.kind === 'saved');
      expect(getScene(editor.document)).include({ windSpeed: 7, windGusts: 0.9 });
      expect(server.sent[1]![0]).deep.include({ baseVersion: 9, record: { ...theirs, windSpeed: 7 } });
      expect(kinds).not.include('conflict');
    });

    it('merges strokes over different vertices, and sends of the merged map only its own', async () => {
      editor.addGarment(0);
      await saver.flush();
      const map = findChannel(editor.document, listGarments(editor.document)[0]!.id)!;
      const theirValues = new Float32Array(map.pointCount);
      theirValues[0] = 0.25;
      conflictWith({ id: map.id, version: 5, record: map, array: toText(theirValues) });
      editor.paint('paint', map.id, {
        indices: Uint32Array.of(2),
        before: Float32Array.of(0),
        after: Float32Array.of(0.5),
      });
      await saver.flush();
      await until(() => saver.state.kind === 'saved');
      expect([...editor.document.arrays.get(map.id)!].slice(0, 3)).deep.equal([0.25, 0, 0.5]);
      expect(server.sent.at(-1)![0]).deep.include({
        baseVersion: 5,
        array: { indices: Uint32Array.of(2), values: Float32Array.of(0.5) },
      });
    });

    it('asks about what both changed, and keeps mine as a version when told to', async () => {
      const theirs = { ...getScene(editor.document), windSpeed: 12, windGusts: 0.9 };
      conflictWith({ id: SCENE_ID, version: 9, record: theirs, array: null });
      editor.updateScene('wind', { windSpeed: 7 });
      await failureOf(saver.flush());
      const { state } = saver;
      if (state.kind !== 'conflict') throw new Error('no conflict');
      expect(state.conflicts[0]!.fields).deep.equal([{ path: ['windSpeed'], mine: 7, theirs: 12 }]);
      await saver.keepAsVersion('mine');
      expect(server.kept).deep.equal(['mine']);
      // Saved as it was kept, with what was not in conflict; then theirs is on the screen, as a step.
      expect(server.sent[1]![0]!.record).include({ windSpeed: 7, windGusts: 0.9 });
      expect(getScene(editor.document)).deep.equal(theirs);
      editor.undo();
      expect(getScene(editor.document).windSpeed).equal(7);
      await saver.flush();
    });
  });

  it('takes theirs when told to, and saves nothing back', async () => {
    server.answer = conflict(12);
    editor.updateScene('wind', { windSpeed: 7 });
    await failureOf(saver.flush());
    saver.resolve('theirs');
    expect(getScene(editor.document).windSpeed).equal(12);
    expect(saver.state.kind).equal('saved');
    await saver.flush();
    expect(server.sent).length(1);
    // Undoing past what another window did would bring back what it replaced.
    expect(editor.undoLabel).equal(null);
  });

  /** Saves wait until the returned function is called. */
  const holdSaves = (): (() => void) => {
    let open = (): void => {};
    server.gate = new Promise((resolve) => {
      open = resolve;
    });
    return open;
  };

  describe('and shipping', () => {
    it('waits for the save under way, and for what changed since it began', async () => {
      const open = holdSaves();
      editor.updateScene('wind', { windSpeed: 1 });
      await until(() => server.sent.length === 1);
      editor.updateScene('wind', { windSpeed: 2 });
      const shipping = ship(saver, info);
      await new Promise((resolve) => setTimeout(resolve, 100));
      expect(server.shipped).deep.equal([]);
      expect(saver.state.kind).equal('unsaved');
      open();
      await shipping;
      expect(server.sent.map(([change]) => (change!.record as { windSpeed?: number }).windSpeed)).deep.equal([
        1, 2,
      ]);
      // What was asked for is the state that the second save made.
      expect(server.shipped).deep.equal([{ source: SOURCE, versions: { [SCENE_ID]: 6 } }]);
      expect(saver.revision).equal(12);
      expect(saver.state.kind).equal('saved');
    });

    it('tries a failing save once more, and ships nothing when it fails again', async () => {
      const open = holdSaves();
      const answer = server.answer;
      server.answer = () => ({ status: 500, body: { error: { message: 'The disk is full.' } } });
      editor.updateScene('wind', { windSpeed: 1 });
      await until(() => server.sent.length === 1);
      const shipping = failureOf(ship(saver, info));
      open();
      expect(await shipping)
        .contain('UnsavedError')
        .and.contain('The disk is full.');
      expect(server.sent).length(2);
      expect(server.shipped).deep.equal([]);
      server.answer = answer;
      await ship(saver, info);
      expect(server.shipped).length(1);
    });

    it('asks again when what came in between was a save of its own, and no other time', async () => {
      const asked: number[] = [];
      server.refuse = async ({ versions }) => {
        asked.push(versions[SCENE_ID]!);
        if (asked.length > 2) return null;
        // Somebody goes on working while the file is written.
        editor.updateScene('wind', { windSpeed: asked.length });
        if (asked.length === 2) await saver.flush();
        return 'Another window has changed this character.';
      };
      editor.updateScene('wind', { windSpeed: 9 });
      await ship(saver, info);
      expect(asked).deep.equal([5, 6, 7]);
      expect(server.shipped).deep.equal([{ source: SOURCE, versions: { [SCENE_ID]: 7 } }]);
      // Nothing of ours came: then it was another window.
      server.refuse = async () => 'Another window has changed this character.';
      expect(await failureOf(ship(saver, info))).equal(
        'ApiError: Another window has changed this character.',
      );
      expect(server.shipped).length(1);
    });

    it('ships nothing while a conflict is open', async () => {
      const open = holdSaves();
      server.answer = conflict(12);
      editor.updateScene('wind', { windSpeed: 1 });
      await until(() => server.sent.length === 1);
      const shipping = failureOf(ship(saver, info));
      open();
      expect(await shipping).contain('Choose which to keep');
      expect(server.shipped).deep.equal([]);
      saver.resolve('theirs');
      await ship(saver, info);
      expect(server.shipped).deep.equal([{ source: SOURCE, versions: { [SCENE_ID]: 9 } }]);
    });
  });
});
