/** One piece of work at a time is kept; what comes meanwhile is seen by the one that runs. */
export class Keeping {
  #isBusy = false;

  get isBusy(): boolean {
    return this.#isBusy;
  }

  /** Does the work, unless some is being done. @param undo - Called when it fails, before the error goes on. */
  async run(work: () => Promise<void>, undo: () => void): Promise<void> {
    if (this.#isBusy) return;
    this.#isBusy = true;
    try {
      await work();
    } catch (error) {
      undo();
      throw error;
    } finally {
      this.#isBusy = false;
    }
  }
}
