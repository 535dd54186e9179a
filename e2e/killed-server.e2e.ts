import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect } from 'chai';
import type { AuthoredRecord } from '../core/document/index.ts';
import { createTestDatabase } from '../server/test-database.ts';
import type { RecordSave } from '../web/wire/save-format.ts';
import type { TaskEntry } from '../web/wire/trials.ts';
import { sendSave } from './application.ts';
import { type StartedProcess, startProcess } from './started-process.ts';

/** A save of two records that belong together; both carry its number. @param garmentId - That the map is of. */
function createSave(version: number, number: number, garmentId: string): RecordSave[] {
  const values = new Float32Array(20_000).fill(number);
  const record = (fields: object): AuthoredRecord => fields as AuthoredRecord;
  return [
    {
      id: 'set',
      baseVersion: version,
      record: record({ type: 'bodySet', id: 'set', name: `save ${number}`, follows: 'skin' }),
    },
    {
      id: 'channel',
      baseVersion: version,
      record: record({
        type: 'channel',
        id: 'channel',
        garmentId,
        kind: 'maxDistance',
        name: `save ${number}`,
        isInUse: true,
        pointCount: values.length,
      }),
      array: { indices: null, values },
    },
  ];
}

describe('a server killed in the middle of a save', () => {
  const data = mkdtempSync(join(tmpdir(), 'cobweb-killed-'));
  let started: StartedProcess | null = null;
  let databaseUrl = '';

  const start = async (): Promise<void> => {
    started = await startProcess({ DATABASE_URL: databaseUrl, COBWEB_DATA: data });
  };

  const send = (method: string, path: string, body?: object): Promise<Response> => {
    const { address } = started!;
    return fetch(address + path, {
      method,
      headers: { 'Content-Type': 'application/json', Origin: address },
      ...(body ? { body: JSON.stringify(body) } : {}),
    });
  };

  before(async () => {
    const { orm, url } = await createTestDatabase();
    await orm.close();
    databaseUrl = url;
    await start();
  });

  after(() => {
    started?.child.kill('SIGKILL');
    rmSync(data, { recursive: true, force: true });
  });

  it('keeps every save that was answered and no half of another', async () => {
    const { projects } = (await (await send('GET', '/api/projects')).json()) as {
      projects: { characters: { id: string }[] }[];
    };
    const { id } = projects[0]!.characters[0]!;
    const info = (await (await send('GET', `/api/characters/${id}`)).json()) as {
      records: { record: { id: string; type: string } }[];
    };
    const garmentId = info.records.find(({ record }) => record.type === 'garment')!.record.id;
    for (let round = 0; round < 3; round++) {
      const read = async (): Promise<
        { record: { id: string; name: string }; version: number; arrayHash: string | null }[]
      > => {
        const info = (await (await send('GET', `/api/characters/${id}`)).json()) as {
          records: { record: { id: string; name: string }; version: number; arrayHash: string | null }[];
        };
        return info.records.filter(({ record }) => record.id === 'set' || record.id === 'channel');
      };
      let version = (await read())[0]?.version ?? 0;
      let answered = version;
      let isTimed = false;
      for (;;) {
        try {
          const response = await sendSave(started!.address, id, createSave(version, version + 1, garmentId));
          if (!response.ok) break;
          await response.json();
          answered = ++version;
          // Killed at some moment of a run of saves; the first may take long on a busy machine.
          if (!isTimed) setTimeout(() => started!.child.kill('SIGKILL'), 90 + 170 * round);
          isTimed = true;
        } catch {
          break;
        }
      }
      expect(answered).above(0);
      await start();
      const records = await read();
      expect(records).length(2);
      const [p, q] = records as [(typeof records)[0], (typeof records)[0]];
      expect(p.version).equal(q.version);
      expect(p.version).within(answered, answered + 1);
      expect(p.record.name).equal(q.record.name);
      const channel = records.find(({ record }) => record.id === 'channel')!;
      const bytes = await (await fetch(`${started!.address}/api/blobs/${channel.arrayHash}`)).arrayBuffer();
      const values = new Float32Array(bytes);
      expect(values.length).equal(20_000);
      expect(values.every((value) => value === p.version)).equal(true);
    }
  });

  it('goes on with a trial that was under way', async () => {
    const { projects } = (await (await send('GET', '/api/projects')).json()) as {
      projects: { characters: { id: string }[] }[];
    };
    const { id } = projects[0]!.characters[0]!;
    const info = (await (await send('GET', `/api/characters/${id}`)).json()) as {
      source: string;
      records: { record: { id: string }; version: number }[];
    };
    const versions = Object.fromEntries(info.records.map(({ record, version }) => [record.id, version]));
    const motions = [1, 1, 1, 1].map((clip) => ({ kind: 'clip', clip }));
    const order = {
      plan: { motions, shapes: [], winds: [], rates: [] },
      isAutomatic: false,
      seen: { source: info.source, versions },
    };
    const task = (await (await send('POST', `/api/characters/${id}/trials`, order)).json()) as TaskEntry;
    expect(task).deep.include({ state: 'queued', parts: 4 });
    const read = async (): Promise<TaskEntry> =>
      (await (await send('GET', `/api/tasks/${task.id}`)).json()) as TaskEntry;
    const wait = async (until: (task: TaskEntry) => boolean): Promise<TaskEntry> => {
      for (;;) {
        const now = await read();
        if (until(now)) return now;
        await new Promise((resolve) => setTimeout(resolve, 100));
      }
    };
    await wait(({ done }) => done > 0);
    started!.child.kill('SIGKILL');
    await start();
    expect(await wait(({ finishedAt }) => finishedAt !== null)).deep.include({ state: 'done', partsDone: 4 });
    const { trials } = (await (await send('GET', `/api/characters/${id}/trials`)).json()) as {
      trials: { id: string; fits: boolean }[];
    };
    expect(trials).length(1);
    expect(trials[0]).deep.include({ id: task.id, fits: true });
  });
});
