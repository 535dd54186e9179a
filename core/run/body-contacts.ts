import { BodyDistances, type CollisionShape } from '../bodies/index.ts';
import type { MutableVector3 } from '../math/index.ts';
import type { MetMesh } from './body-mesh.ts';
import type { CharacterRun } from './character-run.ts';
import type { GarmentRun } from './garment-run.ts';
import { MeshDistances } from './mesh-distances.ts';

/** Cloth so near to where a body keeps it, m, lies on it. */
const NEAR = 0.0005;
/** The same of a mesh: triangles of the cloth are kept off its vertices, which lifts the points around them, too. */
const NEAR_MESH = 0.003;

/** Points that follow one another lie together: so many are looked at as one ball first. */
const BLOCK = 16;

const NO_MESHES: readonly MetMesh[] = [];

export interface BodyContact {
  garment: GarmentRun;
  /** Index among the garment's simulated points. */
  point: number;
  /** Record of the body or mesh; undefined for one without. */
  id: string | undefined;
  /** Outward unit normal of the body there. */
  normal: Readonly<Float64Array> | Readonly<MutableVector3>;
}

/** What a garment meets, ready to be asked. */
interface Known {
  met: readonly CollisionShape[];
  meshes: readonly MetMesh[];
  distances: BodyDistances;
  ofMeshes: readonly MeshDistances[];
}

/**
 * Where cloth lies on bodies in the present frame of a run: points that may move, not farther from a body than the fabric's thickness
 * keeps them. Told from outside of the solver, so that a run costs the same without.
 */
export class BodyContacts {
  readonly #known = new WeakMap<GarmentRun, Known>();

  /** One contact is written over by the next. */
  visit(run: CharacterRun, tell: (contact: BodyContact) => void): void {
    for (const garment of run.garments) this.#visitGarment(garment, run.pose.worldMatrices, tell);
  }

  #visitGarment(
    garment: GarmentRun,
    worldMatrices: Float64Array,
    tell: (contact: BodyContact) => void,
  ): void {
    const { met, meshes, distances, ofMeshes } = this.#find(garment);
    distances.pose(worldMatrices);
    ofMeshes.forEach((mesh, m) => {
      mesh.pose(garment.bodyMeshPlaces[m]!);
    });
    const { thickness } = garment.solver.fabric;
    const within = thickness + NEAR;
    const { positions } = garment.solver;
    const { compiled, maxDistances } = garment.setup;
    const contact: BodyContact = { garment, point: 0, id: undefined, normal: distances.normal };
    const note = (id: string | undefined, normal: BodyContact['normal']): void => {
      contact.id = id;
      contact.normal = normal;
      tell(contact);
    };
    for (let first = 0; first < compiled.pointCount; first += BLOCK) {
      const end = Math.min(first + BLOCK, compiled.pointCount);
      const near = findNear(distances, met.length, boundBlock(positions, first, end), within);
      if (near.length === 0 && meshes.length === 0) continue;
      for (let i = first; i < end; i++) {
        // What is held goes where the skin goes, whatever is there.
        if (maxDistances[compiled.weldedOfPoint[i]!] === 0) continue;
        const x = positions[4 * i]!;
        const y = positions[4 * i + 1]!;
        const z = positions[4 * i + 2]!;
        contact.point = i;
        for (const body of near)
          if (distances.measureMet(body, x, y, z, within) <= within) note(met[body]!.id, distances.normal);
        for (let m = 0; m < meshes.length; m++)
          if (ofMeshes[m]!.isWithin(x, y, z, thickness + NEAR_MESH))
            note(meshes[m]!.id ?? undefined, ofMeshes[m]!.normal);
      }
    }
  }

  #find(garment: GarmentRun): Known {
    const { met } = garment;
    const { bodyMeshes: meshes = NO_MESHES } = garment.setup;
    const known = this.#known.get(garment);
    if (known?.met === met && known.meshes === meshes) return known;
    const made: Known = {
      met,
      meshes,
      distances: new BodyDistances(met),
      ofMeshes: meshes.map(({ mesh, margin }) => new MeshDistances(mesh, margin)),
    };
    this.#known.set(garment, made);
    return made;
  }
}

/** Middle of the box around some points, and its half diagonal, m. */
interface Ball {
  x: number;
  y: number;
  z: number;
  radius: number;
}

const ball: Ball = { x: 0, y: 0, z: 0, radius: 0 };

function boundBlock(positions: Float32Array, first: number, end: number): Ball {
  let [x0, y0, z0] = [Infinity, Infinity, Infinity];
  let [x1, y1, z1] = [-Infinity, -Infinity, -Infinity];
  for (let o = 4 * first; o < 4 * end; o += 4) {
    const x = positions[o]!;
    const y = positions[o + 1]!;
    const z = positions[o + 2]!;
    if (x < x0) x0 = x;
    if (x > x1) x1 = x;
    if (y < y0) y0 = y;
    if (y > y1) y1 = y;
    if (z < z0) z0 = z;
    if (z > z1) z1 = z;
  }
  ball.x = 0.5 * (x0 + x1);
  ball.y = 0.5 * (y0 + y1);
  ball.z = 0.5 * (z0 + z1);
  ball.radius = 0.5 * Math.sqrt((x1 - x0) ** 2 + (y1 - y0) ** 2 + (z1 - z0) ** 2);
  return ball;
}

/** Bodies that any place of a ball may be within so much of, m: a distance changes by no more than the way. */
function findNear(
  distances: BodyDistances,
  count: number,
  { x, y, z, radius }: Ball,
  within: number,
): number[] {
  const most = within + radius * (1 + 1e-6) + 1e-6;
  const near: number[] = [];
  for (let body = 0; body < count; body++)
    if (distances.measureMet(body, x, y, z, most) <= most) near.push(body);
  return near;
}
