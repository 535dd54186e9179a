import { BodyContacts, type CharacterRun } from '../../core/run/index.ts';
import { CONTACT, MOST_CONTACTS } from './preview-protocol.ts';

/** Writes where the cloth of a run lies on bodies into a frame, and tells which numbers the bodies have there. */
export class ContactRows {
  readonly #contacts = new BodyContacts();
  readonly #numbers = new Map<string, number>();
  readonly #onBodies: (ids: readonly string[]) => void;

  /** @param onBodies - Told of all bodies with a number when there are more, before the frame that names them. */
  constructor(onBodies: (ids: readonly string[]) => void) {
    this.#onBodies = onBodies;
  }

  /** @param rows - The number of contacts, and their rows, see `CONTACT`. */
  write(run: CharacterRun, rows: Float32Array): void {
    const known = this.#numbers.size;
    let count = 0;
    this.#contacts.visit(run, ({ garment, point, id, normal }) => {
      if (count === MOST_CONTACTS || id === undefined) return;
      const o = 1 + CONTACT.length * count++;
      const x = garment.shown;
      for (let k = 0; k < 3; k++) {
        rows[o + CONTACT.position + k] = x[4 * point + k]!;
        rows[o + CONTACT.normal + k] = normal[k]!;
      }
      rows[o + CONTACT.body] = this.#numberOf(id);
    });
    rows[0] = count;
    if (this.#numbers.size > known) this.#onBodies([...this.#numbers.keys()]);
  }

  #numberOf(id: string): number {
    const known = this.#numbers.get(id);
    if (known !== undefined) return known;
    this.#numbers.set(id, this.#numbers.size);
    return this.#numbers.size - 1;
  }
}
