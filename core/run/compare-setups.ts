import type { Character } from '../rig/index.ts';
import type { BodyMesh, MetMesh } from './body-mesh.ts';
import { type GarmentRun, listLayers } from './garment-run.ts';
import type { GarmentSetup } from './garment-setup.ts';

/** Whether poses of one character are poses of the other, its shape included. */
export function playsAlike(one: Character, other: Character): boolean {
  return (
    one.skeleton === other.skeleton &&
    one.skins === other.skins &&
    one.clips === other.clips &&
    one.sections.length === other.sections.length &&
    one.sections.every(({ morphWeights }, i) => {
      const weights = other.sections[i]!.morphWeights;
      return morphWeights.length === weights.length && morphWeights.every((value, m) => value === weights[m]);
    })
  );
}

/** Whether a garment is simulated alike in both. */
export function isSameLevel(one: GarmentSetup, other: GarmentSetup): boolean {
  const tell = ({ fabric, bodies, blend }: GarmentSetup): string => JSON.stringify([fabric, bodies, blend]);
  return tell(one) === tell(other);
}

/** Whether a garment that runs is on the mesh of a set-up, over the same others, and draws the same. */
export function isSameGarment(
  garment: GarmentRun,
  setup: GarmentSetup,
  beneath: readonly GarmentRun[],
): boolean {
  const [renders, others] = [garment.setup.renders ?? [], setup.renders ?? []];
  const layers = listLayers(setup, beneath);
  return (
    garment.setup.compiled === setup.compiled &&
    tellRate(garment.setup) === tellRate(setup) &&
    garment.beneath.length === beneath.length &&
    garment.beneath.every((one, i) => one === beneath[i]) &&
    layers.length === garment.layers.length &&
    layers.every((one, i) => one === garment.layers[i]) &&
    renders.length === others.length &&
    renders.every((render, i) => render === others[i]) &&
    hasSameMeshes(garment, setup.bodyMeshes ?? [])
  );
}

/** Whether a garment that runs meets these meshes, wherever their points are and whatever their margins. */
function hasSameMeshes({ setup }: GarmentRun, meshes: readonly MetMesh[]): boolean {
  const own = setup.bodyMeshes ?? [];
  return own.length === meshes.length && own.every(({ mesh }, m) => hasSameTriangles(mesh, meshes[m]!.mesh));
}

function hasSameTriangles(p: BodyMesh, q: BodyMesh): boolean {
  if (p === q) return true;
  if (p.pointCount !== q.pointCount || p.triangles.length !== q.triangles.length) return false;
  return p.triangles.every((corner, i) => corner === q.triangles[i]);
}

/** Whether what is drawn of a garment goes on alike from the same state: it is on the same mesh, as often simulated, or not at all. */
export function isShownAlike(one: GarmentSetup, other: GarmentSetup): boolean {
  return (
    one.compiled === other.compiled &&
    tellRate(one) === tellRate(other) &&
    (one.blend === 0) === (other.blend === 0)
  );
}

function tellRate({ rate = 'everyFrame' }: GarmentSetup): string {
  return rate;
}
