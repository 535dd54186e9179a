import type { Ray } from 'three';
import { type CheckedMesh, pickAround } from '../../core/mesh/index.ts';
import { createSectionMesh } from '../../core/prepare/index.ts';
import type { Character, Section } from '../../core/rig/index.ts';
import { hitGarment } from './find-garment.ts';
import type { GarmentMesh } from './garment-mesh.ts';
import type { PointerTool } from './pointer-tool.ts';
import type { ViewportSource } from './viewport-source.ts';

/** Brushes faces of the selected garment into what will be cut out, or out of it. */
export class PickTool implements PointerTool {
  readonly #source: ViewportSource;
  readonly #getGarment: () => GarmentMesh | null;

  constructor(source: ViewportSource, getGarment: () => GarmentMesh | null) {
    this.#source = source;
    this.#getGarment = getGarment;
  }

  press(ray: Ray): boolean {
    return this.#brush(ray);
  }

  move(ray: Ray, _event: PointerEvent, isPressed: boolean): void {
    if (isPressed) this.#brush(ray);
  }

  release(): void {}

  leave(): void {}

  /** @returns False beside the garment, or when nothing is being picked. */
  #brush(ray: Ray): boolean {
    const { session, editor } = this.#source;
    const { pick } = session.state;
    const garment = this.#getGarment();
    if (!pick || garment?.sectionIndex !== pick.sectionIndex) return false;
    const hit = hitGarment(garment, ray);
    if (!hit) return false;
    const mesh = getSectionMesh(editor.character, pick.sectionIndex);
    const face = mesh.triangleOfFace.indexOf(hit.triangle);
    if (face < 0) return true;
    const isPicked = pick.isPicked.slice();
    for (const f of pickAround(mesh, garment.pointPositions, face, hit.point, pick.radius)) {
      isPicked[f] = pick.isErasing ? 0 : 1;
    }
    session.set({ pick: { ...pick, isPicked } });
    return true;
  }
}

const meshOfSection = new WeakMap<Section, CheckedMesh>();

/** Faces and points of a section, made once for each. */
export function getSectionMesh(character: Character, sectionIndex: number): CheckedMesh {
  const section = character.sections[sectionIndex]!;
  let mesh = meshOfSection.get(section);
  if (!mesh) {
    mesh = createSectionMesh(character, sectionIndex);
    meshOfSection.set(section, mesh);
  }
  return mesh;
}
