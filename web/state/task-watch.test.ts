import { expect } from 'chai';
import type { TaskEntry } from '../wire/trials.ts';
import { isOpen, TaskWatch } from './task-watch.ts';

const TASK: TaskEntry = {
  id: 'a',
  characterId: 'c',
  characterName: 'Pilot',
  kind: 'trial',
  title: '1 clip, 1 run',
  isAutomatic: false,
  revision: 1,
  state: 'queued',
  error: null,
  parts: 1,
  partsDone: 0,
  done: 0,
  total: 60,
  createdAt: '2026-01-01T00:00:00.000Z',
  startedAt: null,
  finishedAt: null,
};

/** The server's side of the stream, played by the test. */
class FakeSource extends EventTarget {
  static opened: FakeSource[] = [];
  isClosed = false;
  constructor(readonly path: string) {
    super();
    FakeSource.opened.push(this);
  }
  close(): void {
    this.isClosed = true;
  }
  tell(event: string, data: unknown): void {
    this.dispatchEvent(Object.assign(new Event(event), { data: JSON.stringify(data) }));
  }
}

describe('the list of tasks in a page', () => {
  const before = (globalThis as { EventSource?: unknown }).EventSource;
  let watch: TaskWatch;
  beforeEach(() => {
    FakeSource.opened = [];
    (globalThis as { EventSource?: unknown }).EventSource = FakeSource;
    watch = new TaskWatch();
  });
  afterEach(() => {
    watch.close();
    (globalThis as { EventSource?: unknown }).EventSource = before;
  });

  it('is what the server says, with each change in its place and new ones first', () => {
    watch.open();
    watch.open();
    expect(FakeSource.opened.map(({ path }) => path)).deep.equal(['/api/tasks/events']);
    const [source] = FakeSource.opened as [FakeSource];
    source.tell('open', null);
    source.tell('tasks', { tasks: [TASK, { ...TASK, id: 'b' }] });
    expect(watch.store.state).deep.include({ isListed: true, isConnected: true });
    source.tell('task', { ...TASK, id: 'b', state: 'running', done: 30 });
    source.tell('task', { ...TASK, id: 'c' });
    expect(watch.store.state.tasks.map(({ id, state }) => `${id} ${state}`)).deep.equal([
      'c queued',
      'a queued',
      'b running',
    ]);
    expect(watch.store.state.tasks.filter(isOpen).length).equal(3);
  });

  it('says when the server is gone, keeps what it knew, and takes the whole list when it is back', () => {
    watch.open();
    const [source] = FakeSource.opened as [FakeSource];
    source.tell('tasks', { tasks: [TASK] });
    source.dispatchEvent(new Event('error'));
    expect(watch.store.state.isConnected).equal(false);
    expect(watch.store.state.tasks.length).equal(1);
    source.dispatchEvent(new Event('open'));
    source.tell('tasks', { tasks: [] });
    expect(watch.store.state).deep.include({ isConnected: true, tasks: [] });
    watch.close();
    expect(source.isClosed).equal(true);
  });
});
