import {
  type BodyUse,
  compareSets,
  measureFitFigures,
  measureSetReach,
  measureUse,
  type SetFit,
  type SetOnClip,
  type SetsRequest,
  spreadToVertices,
} from '../../core/body-figures/index.ts';
import type { Pricing } from '../../core/cost/index.ts';
import {
  type AuthoredDocument,
  applyPatch,
  type DocumentPatch,
  listGarments,
  openPatch,
  type RecordId,
} from '../../core/document/index.ts';
import type { Character } from '../../core/rig/index.ts';
import { GarmentCache, type RunSetup, setUpRun } from '../../core/run/index.ts';
import { type BodySkin, gatherBodySkin } from '../../core/suggest/index.ts';
import { finishWork } from './finish-work.ts';

type OnShare = (share: number) => unknown;

/** Figures of a set, with what is drawn of them. */
export interface ShownFit extends Omit<SetFit, 'values'> {
  /** Sections of the skin, and of each vertex its signed distance from the nearest body, m; NaN where no cloth comes. */
  sections: { index: number; bind: Float32Array; clips: Float32Array }[];
}

/** The skin over the clips, and what garments of each set reach of it. */
interface KnownSkin {
  setup: RunSetup;
  skin: BodySkin;
  reaches: Map<RecordId, Float32Array>;
}

/** Follows the document and tells how its bodies fit, what each does on a clip, and how two sets compare. */
export class BodyFiguresLoop {
  #character: Character | null = null;
  #document: AuthoredDocument | null = null;
  readonly #cache = new GarmentCache();
  /** Until something else than bodies changes. */
  #skin: KnownSkin | null = null;

  load(character: Character, patch: DocumentPatch): void {
    this.#character = character;
    this.#document = openPatch(patch);
    this.#skin = null;
  }

  /** A change of bodies alone. */
  patch(patch: DocumentPatch): void {
    if (this.#document) applyPatch(this.#document, patch);
  }

  fit(bodySetId: RecordId): ShownFit {
    const document = this.#document!;
    const { setup, skin, reaches } = this.#gatherSkin();
    const known = reaches.get(bodySetId);
    const reach = known ?? measureSetReach(document, skin, setup.garments, bodySetId);
    reaches.set(bodySetId, reach);
    const { values, ...fit } = measureFitFigures(document, { bodySetId, skin, base: setup.base, reach });
    const { character, bodySections } = setup;
    const [bind, clips] = [values.bind, values.clips].map((list) =>
      spreadToVertices(skin, character, bodySections, list),
    );
    return {
      ...fit,
      sections: bodySections.map((index, s) => ({ index, bind: bind![s]!, clips: clips![s]! })),
    };
  }

  use(
    request: {
      bodySetId: RecordId;
      clip: number;
      part: { index: number; count: number };
      pricing: Pricing;
    },
    onShare: OnShare,
  ): BodyUse[] {
    const { bodySetId, clip, part, pricing } = request;
    const wearers = new Set(
      listGarments(this.#document!)
        .filter((garment) => garment.bodySetId === bodySetId)
        .map(({ id }) => id),
    );
    const work = measureUse(this.#setUp(), { wearers, clip, part, pricing });
    return finishWork(work, onShare);
  }

  /** @returns In the order of the sets that are tried. */
  compare(request: SetsRequest, pricing: Pricing, onShare: OnShare): SetOnClip[] {
    return finishWork(compareSets(this.#document!, this.#setUp(), request, pricing), onShare);
  }

  #setUp(): RunSetup {
    return setUpRun(this.#document!, this.#character!, { cache: this.#cache });
  }

  #gatherSkin(): KnownSkin {
    if (this.#skin) return this.#skin;
    const setup = this.#setUp();
    const skin = gatherBodySkin(setup, [...setup.character.clips.keys()]);
    this.#skin = { setup, skin, reaches: new Map() };
    return this.#skin;
  }
}
