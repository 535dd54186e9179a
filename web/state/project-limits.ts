import type { Limits } from '../../core/document/index.ts';
import { api, type CharacterInfo } from './api.ts';
import type { Editor } from './editor.ts';

/** Limits of trials for all characters of the project: they hold here at once, and elsewhere when a page is opened. */
export class ProjectLimits {
  readonly project: Pick<CharacterInfo['project'], 'id' | 'name'>;
  readonly #editor: Editor;
  #stored: Limits;
  #sending: Promise<unknown> = Promise.resolve();

  constructor(editor: Editor, { limits, ...project }: CharacterInfo['project']) {
    this.project = project;
    this.#editor = editor;
    this.#stored = limits;
  }

  get limits(): Limits {
    return this.#editor.document.projectLimits ?? {};
  }

  /** @throws {ApiError} When they could not be stored; then those of before hold again. */
  async set(limits: Limits): Promise<void> {
    this.#editor.setProjectLimits(limits);
    // One after the other, so that the last one stays.
    const sent = this.#sending.then(() => api.editProject(this.project.id, { limits }));
    this.#sending = sent.catch(() => {});
    try {
      await sent;
      this.#stored = limits;
    } catch (error) {
      if (this.limits === limits) this.#editor.setProjectLimits(this.#stored);
      throw error;
    }
  }
}
