import { type CompiledGarment, compileGarment } from '../cloth/index.ts';
import { type Character, hashSection, shareArrays } from '../rig/index.ts';
import { type BodyMesh, createBodyMesh } from './body-mesh.ts';
import { bindRender, type RenderBinding } from './render-binding.ts';

/** Something compiled, by what it was made of: it crosses to other threads by reference. */
export type CompiledEntry = readonly [key: string, made: Made];

type Made = CompiledGarment | RenderBinding | BodyMesh;

/**
 * Compiled garments and bindings of drawn sections, by the content of the sections that they are made of: what did not
 * change is not made again, whatever else did. The skeleton and its bind pose must be the same all along.
 */
export class GarmentCache {
  readonly #made = new Map<string, Made>();
  #used = new Set<string>();
  /** Made since `takeMade`. */
  #fresh: string[] = [];
  #count = 0;

  /** How many have been made, not found: for tests and figures. */
  get madeCount(): number {
    return this.#count;
  }

  compile(character: Character, sectionIndex: number, warpTurn: number): CompiledGarment {
    const key = getGarmentKey(character, sectionIndex, warpTurn);
    return this.#find(key, () => compileGarment(character, sectionIndex, { warpTurn }));
  }

  /** @param garment - As `compile` made it, with the same turn of the warp. */
  bind(
    character: Character,
    garment: CompiledGarment,
    warpTurn: number,
    sectionIndex: number,
  ): RenderBinding {
    const key = `${getGarmentKey(character, garment.sectionIndex, warpTurn)} > ${getKey(character, sectionIndex)}`;
    return this.#find(key, () => bindRender(character, garment, sectionIndex));
  }

  /** A section as a mesh that stands for a body. */
  makeBodyMesh(character: Character, sectionIndex: number): BodyMesh {
    const key = `body ${getKey(character, sectionIndex)}`;
    return this.#find(key, () => createBodyMesh(character.sections[sectionIndex]!));
  }

  /** What was made since the last call, to be given to another cache. */
  takeMade(): CompiledEntry[] {
    const fresh = this.#fresh
      .filter((key) => this.#made.has(key))
      .map((key): CompiledEntry => [key, shareArrays(this.#made.get(key)!)]);
    this.#fresh = [];
    return fresh;
  }

  /** Takes over what another cache made: it is found as if it had been made here. */
  adopt(entries: readonly CompiledEntry[]): void {
    for (const [key, made] of entries) {
      if (this.#made.has(key)) continue;
      this.#made.set(key, made);
      // It is for what comes next, and not to be forgotten before.
      this.#used.add(key);
    }
  }

  /** Forgets what was not asked for since the last call. */
  trim(): void {
    for (const key of this.#made.keys()) if (!this.#used.has(key)) this.#made.delete(key);
    this.#used = new Set();
  }

  #find<T extends Made>(key: string, make: () => T): T {
    this.#used.add(key);
    const known = this.#made.get(key);
    if (known) return known as T;
    const made = make();
    this.#count++;
    this.#fresh.push(key);
    this.#made.set(key, made);
    return made;
  }
}

/** By place as well: what is made names the section by it. */
function getKey(character: Character, sectionIndex: number): string {
  return `${sectionIndex}:${hashSection(character.sections[sectionIndex]!)}`;
}

function getGarmentKey(character: Character, sectionIndex: number, warpTurn: number): string {
  return `${getKey(character, sectionIndex)}:${warpTurn}`;
}
