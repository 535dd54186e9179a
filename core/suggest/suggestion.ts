import type { Pricing } from '../cost/index.ts';
import {
  type AuthoredDocument,
  BODY_DEFAULTS,
  type BodyRecord,
  getScene,
  listBodies,
  listGarments,
  type RecordId,
  SCENE_ID,
} from '../document/index.ts';
import type { Character } from '../rig/index.ts';
import { type GarmentSetup, type RunSetup, setUpRun } from '../run/index.ts';
import { type BodySkin, gatherBodySkin } from './body-skin.ts';
import { BodyChooser, type ChoiceGoal, toCollision } from './choose-bodies.ts';
import { type Candidate, listCandidates, type PlacedShape, type SuggestedKind } from './list-candidates.ts';
import { type Demand, measureDemands } from './measure-demand.ts';
import { measureReach } from './measure-reach.ts';

export interface SuggestionRequest {
  bodySetId: RecordId;
  /** Indices of the clips that it should serve; at least one. */
  clips: readonly number[];
  goal: ChoiceGoal;
  kinds: readonly SuggestedKind[];
  mirrors: boolean;
  /** Around the bodies, m. */
  margin: number;
  /** Bodies of the set that stay as they are. */
  keptIds: readonly RecordId[];
  /** What work is priced by; that of the reference machine when left out. */
  pricing?: Pricing;
}

/** Parts of a suggestion that take time, for one worker or several: all of them make the same of the same. */
export class BodySuggestion {
  readonly #request: SuggestionRequest;
  readonly #setup: RunSetup;
  readonly #wearers: ReadonlySet<RecordId>;
  readonly #skin: BodySkin;
  readonly #reach: Float32Array;
  readonly #kept: readonly PlacedShape[];

  /** @throws {RangeError} When no garment uses the set, or the character has no skin beside its garments. */
  constructor(document: AuthoredDocument, character: Character, request: SuggestionRequest) {
    const { bodySetId, clips, keptIds } = request;
    this.#request = request;
    // Bodies are made for the plain shape; they follow all others.
    const records = new Map(document.records).set(SCENE_ID, { ...getScene(document), morphs: {} });
    const setup = setUpRun({ ...document, records }, character);
    this.#wearers = new Set(
      listGarments(document)
        .filter((garment) => garment.bodySetId === bodySetId)
        .map(({ id }) => id),
    );
    if (!setup.garments.some(({ id }) => this.#wearers.has(id)))
      throw new RangeError('No garment uses this body set: choose the set for a garment first.');
    if (setup.bodySections.length === 0)
      throw new RangeError('The character has no skin beside its garments to fit bodies to.');
    this.#setup = setup;
    this.#skin = gatherBodySkin(setup, clips, getScene(document).sidePairs);
    this.#reach = measureReach(
      this.#skin,
      setup.garments.map((garment) => (this.#isWearer(garment) ? garment : null)),
    );
    this.#kept = listBodies(document, bodySetId, character.skeleton)
      .filter(({ id }) => keptIds.includes(id))
      .map(({ id, jointName, shape, margin }) => ({
        node: character.skeleton.names.indexOf(jointName),
        shape,
        margin,
        recordId: id,
      }))
      .filter(({ node }) => node >= 0);
  }

  /** Fits bodies to the share of the skin that is one worker's. Yields the share done. */
  fit(part: { index: number; count: number }): Generator<number, Candidate[]> {
    const { margin, mirrors, kinds } = this.#request;
    return listCandidates(this.#skin, { reach: this.#reach, margin, mirrors, kinds, part });
  }

  /** @param candidates - Of all workers, in their order. */
  createChooser(candidates: readonly Candidate[]): BodyChooser {
    return new BodyChooser(this.#skin, {
      candidates,
      reach: this.#reach,
      goal: this.#request.goal,
      kept: this.#kept,
    });
  }

  /** Simulates a clip with a set in the place of the one that is there. Yields the share done. */
  *measure(bodies: readonly PlacedShape[], clip: number): Generator<number, Demand> {
    const shapes = toCollision(bodies);
    const garments = this.#setup.garments.map((garment) =>
      this.#isWearer(garment) ? { ...garment, bodies: shapes, bodyMeshes: [] } : garment,
    );
    const [demand] = yield* measureDemands(
      [{ ...this.#setup, garments }],
      clip,
      [...this.#wearers],
      this.#request.pricing,
    );
    return demand!;
  }

  #isWearer({ id }: GarmentSetup): boolean {
    return this.#wearers.has(id);
  }
}

/**
 * Records of a suggested set: those of kept bodies as they are, the others named after their joints.
 * @param createId - Gives a new id at each call.
 */
export function toBodyRecords(
  bodies: readonly PlacedShape[],
  { names }: Character['skeleton'],
  bodySetId: RecordId,
  createId: () => RecordId,
): BodyRecord[] {
  const made = bodies.filter(({ recordId }) => recordId === undefined).sort((p, q) => p.node - q.node);
  return made.map(({ node, shape, margin }, i) => {
    const same = made.filter((other) => other.node === node);
    const place = 1 + i - made.findIndex((other) => other.node === node);
    const jointName = names[node]!;
    const name = same.length > 1 ? `${jointName} ${place}` : jointName;
    return { type: 'body', id: createId(), bodySetId, name, jointName, shape, ...BODY_DEFAULTS, margin };
  });
}
