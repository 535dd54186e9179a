import type { Seen } from '../wire/characters.ts';
import type { TaskEntry } from '../wire/trials.ts';
import { api, type CharacterInfo } from './api.ts';
import type { Saver } from './saver.ts';
import { sendSeen } from './send-seen.ts';
import type { TaskWatch } from './task-watch.ts';

/** Orders tasks of what is on the screen, and knows those of this character. */
export class Ordering {
  readonly watch: TaskWatch;
  readonly #saver: Saver;
  readonly #info: Pick<CharacterInfo, 'id' | 'source'>;

  constructor(saver: Saver, info: Pick<CharacterInfo, 'id' | 'source'>, watch: TaskWatch) {
    this.#saver = saver;
    this.#info = info;
    this.watch = watch;
  }

  get characterId(): string {
    return this.#info.id;
  }

  /** @param send - Asks for it. @throws {Error} Whose message says why it was not ordered. */
  async order(send: (characterId: string, seen: Seen) => Promise<TaskEntry>): Promise<TaskEntry> {
    const task = await sendSeen(this.#saver, this.#info, (seen) => send(this.#info.id, seen));
    this.watch.put(task);
    return task;
  }

  /** The newest of a kind. */
  findNewest(kind: TaskEntry['kind']): TaskEntry | null {
    const { tasks } = this.watch.store.state;
    return tasks.find((task) => task.kind === kind && task.characterId === this.#info.id) ?? null;
  }

  find(id: string): TaskEntry | null {
    return this.watch.store.state.tasks.find((task) => task.id === id) ?? null;
  }

  /** @throws {Error} When it has ended. */
  async cancel(id: string): Promise<void> {
    this.watch.put(await api.cancelTask(id));
  }
}
