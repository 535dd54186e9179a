import { BodyDistances, type CollisionShape } from '../bodies/index.ts';
import type { CharacterRun } from './character-run.ts';
import type { GarmentRun } from './garment-run.ts';

/** Cloth so near to where a body keeps it, m, lies on it. */
const NEAR = 0.0005;

export interface BodyContact {
  garment: GarmentRun;
  /** Index among the garment's simulated points. */
  point: number;
  /** The body, as the garment meets it. */
  body: CollisionShape;
  /** Outward unit normal of the body there. */
  normal: Readonly<Float64Array>;
}

/**
 * Where cloth lies on bodies in the present frame of a run: points that may move, not farther from a body than the fabric's thickness
 * keeps them. Told from outside of the solver, so that a run costs the same without.
 */
export class BodyContacts {
  readonly #known = new WeakMap<GarmentRun, { met: readonly CollisionShape[]; distances: BodyDistances }>();

  /** One contact is written over by the next. */
  visit(run: CharacterRun, tell: (contact: BodyContact) => void): void {
    const { worldMatrices } = run.pose;
    for (const garment of run.garments) {
      const distances = this.#find(garment);
      distances.pose(worldMatrices);
      const within = garment.solver.fabric.thickness + NEAR;
      const { positions } = garment.solver;
      const { compiled, maxDistances } = garment.setup;
      const { met } = garment;
      const contact: BodyContact = { garment, point: 0, body: met[0]!, normal: distances.normal };
      for (let i = 0; i < compiled.pointCount; i++) {
        // What is held goes where the skin goes, whatever is there.
        if (maxDistances[compiled.weldedOfPoint[i]!] === 0) continue;
        const [x, y, z] = [positions[4 * i]!, positions[4 * i + 1]!, positions[4 * i + 2]!];
        for (let body = 0; body < met.length; body++) {
          if (distances.measureMet(body, x, y, z, within) > within) continue;
          contact.point = i;
          contact.body = met[body]!;
          tell(contact);
        }
      }
    }
  }

  #find(garment: GarmentRun): BodyDistances {
    const { met } = garment;
    const known = this.#known.get(garment);
    if (known?.met === met) return known.distances;
    const distances = new BodyDistances(met);
    this.#known.set(garment, { met, distances });
    return distances;
  }
}
