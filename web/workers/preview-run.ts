import {
  applyPatch,
  createDocument,
  type DocumentPatch,
  findChannel,
  type GarmentRecord,
  getScene,
  listBodyMeshes,
  listGarments,
  placeBodies,
  placeBodyMeshes,
  type RecordId,
} from '../../core/document/index.ts';
import { findBand, listBands, makeLevelMeshes, setUpLevel } from '../../core/levels/index.ts';
import { SurfaceCache } from '../../core/prepare/index.ts';
import { CHANNEL_KINDS, type ChannelKind } from '../../core/reach/index.ts';
import { type Character, type JointTurn, shapeCharacter } from '../../core/rig/index.ts';
import {
  type CharacterRun,
  type CompiledEntry,
  GarmentCache,
  type GarmentReach,
  type GarmentSetup,
  type RunOptions,
  type RunSetup,
  readReach,
  setUpRun,
  startRun,
} from '../../core/run/index.ts';

/**
 * A `CharacterRun` that follows the authored document: settings, painted values and bodies go into the running
 * solver; of garments on another mesh those are made anew, the others go on.
 */
export class PreviewRun {
  #character: Character;
  readonly #document = createDocument();
  readonly #cache = new GarmentCache();
  #drapedId: RecordId | null = null;
  /** Size on the screen, px, whose levels of detail garments are held at; null: all are as they are. */
  #heldPixels: number | null = null;
  readonly #surfaces = new SurfaceCache();
  /** What is held is of before the last edit. */
  #isHeldStale = false;
  readonly #options: RunOptions;
  #turns: readonly JointTurn[] = [];
  #run: CharacterRun;

  constructor(character: Character, patch: DocumentPatch, options: RunOptions = {}) {
    this.#character = character;
    this.#options = options;
    applyPatch(this.#document, patch);
    this.#run = this.#createRun();
  }

  get character(): Character {
    return this.#character;
  }

  /** Turns joints beside the clip, until told otherwise. */
  setTurns(turns: readonly JointTurn[]): void {
    this.#turns = turns;
    this.#run.setTurns(turns);
  }

  /** Lets one garment fall freely against the whole body, see `freeGarment`; null: as authored again. */
  drape(garmentId: RecordId | null): void {
    this.#drapedId = garmentId;
    const { clip, time } = this.#run;
    this.#run = this.#createRun();
    this.#run.play(clip, time);
    this.#run.reset();
  }

  /**
   * Holds garments at the levels of detail that they have at a size on the screen, px; null: all as they are authored again. From one size to
   * another they go over as they would in motion.
   */
  hold(pixels: number | null): void {
    const isSwitch = this.#heldPixels !== null && pixels !== null && !this.#isHeldStale;
    this.#heldPixels = pixels;
    if (isSwitch) this.#run.switchTo(this.#setUp(), getScene(this.#document).levelSwitchSeconds);
    else this.#takeSetUp();
  }

  /** Brings what is held to the last edit. @returns Whether there was one, and the layout may be another. */
  refreshHeld(): boolean {
    if (!this.#isHeldStale) return false;
    this.#takeSetUp();
    return true;
  }

  get run(): CharacterRun {
    return this.#run;
  }

  /**
   * @param character - The character after other steps of preparation, when they changed with the patch.
   * @returns True when the layout is another: some garments are new.
   */
  apply(patch: DocumentPatch, character?: Character): boolean {
    const before = this.#listTopology();
    const kinds = this.#listKinds(patch);
    applyPatch(this.#document, patch);
    this.#listKinds(patch, kinds);
    if (character) this.#character = character;
    if (this.#heldPixels !== null) {
      // Meshes and maps are to be carried over anew: not with every stroke.
      this.#isHeldStale = true;
      return false;
    }
    // Other skin weights go into the running cloth, too; another mesh is another run.
    const isSameMesh =
      character === undefined ||
      // What falls freely lies on meshes of the body, as they were skinned.
      (this.#drapedId === null &&
        this.#run.takeWeights(shapeCharacter(character, getScene(this.#document).morphs)));
    const isOther = !isSameMesh || this.#listTopology() !== before;
    if (isOther && !this.#run.takeSetup(this.#setUp())) {
      const { clip, time } = this.#run;
      this.#run = this.#createRun();
      this.#run.play(clip, time);
      this.#run.reset();
      return true;
    }
    const garments = listGarments(this.#document);
    const touched = new Set(patch.records.map(([id]) => id));
    const types = new Set(patch.records.map(([, record]) => record?.type));
    const removedAny = types.has(undefined);
    for (const garment of garments) {
      this.#updateReach(garment, kinds.get(garment.id) ?? new Set());
      this.#run.setBlend(garment.id, garment.blend);
      if (touched.has(garment.fabricId) || touched.has(garment.id)) this.#updateFabric(garment);
      if (types.has('body') || removedAny || touched.has(garment.id)) {
        const bodies = placeBodies(this.#document, garment, {
          base: this.#character,
          shaped: this.#run.character,
        });
        this.#run.setBodies(garment.id, bodies);
      }
      if (types.has('bodyMesh')) {
        const meshes = listBodyMeshes(this.#document, garment.bodySetId);
        this.#run.setBodyMargins(garment.id, new Map(meshes.map(({ id, margin }) => [id, margin])));
      }
    }
    if (types.has('scene')) this.#run.wind = getScene(this.#document);
    return isOther;
  }

  /** Channels of each garment whose maps a patch touches: asked before and after it, for maps that go and come. */
  #listKinds(patch: DocumentPatch, kinds = new Map<RecordId, Set<ChannelKind>>()): typeof kinds {
    for (const [id] of [...patch.records, ...patch.arrays]) {
      const map = this.#document.records.get(id);
      if (map?.type !== 'channel') continue;
      if (!kinds.has(map.garmentId)) kinds.set(map.garmentId, new Set());
      kinds.get(map.garmentId)!.add(map.kind);
    }
    return kinds;
  }

  /** What was compiled elsewhere, beside the run: what comes next finds it. */
  adoptCompiled(entries: readonly CompiledEntry[]): void {
    this.#cache.adopt(entries);
  }

  #setUp(): RunSetup {
    const cache = this.#cache;
    const document = this.#document;
    if (this.#heldPixels === null)
      return setUpRun(document, this.#character, { cache, freedId: this.#drapedId });
    const bands = listBands(listGarments(document));
    const made = makeLevelMeshes(this.#character, document, bands, this.#surfaces);
    return setUpLevel(document, made, bands[findBand(bands, this.#heldPixels)]!, { cache });
  }

  /** Everything as it is authored and held: garments on another mesh are made anew, the others go on. */
  #takeSetUp(): void {
    this.#isHeldStale = false;
    const setup = this.#setUp();
    const { clip, time } = this.#run;
    if (!this.#run.takeSetup(setup)) {
      this.#run = startRun(setup, this.#options);
      this.#run.setTurns(this.#turns);
      this.#run.play(clip, time);
      this.#run.reset();
      return;
    }
    for (const garment of setup.garments) {
      this.#run.setFabric(garment.id, garment.fabric);
      this.#run.setBodies(garment.id, garment.bodies);
      this.#run.setReach(garment.id, readSetUpReach(garment), new Set(CHANNEL_KINDS));
      this.#run.setBlend(garment.id, garment.blend);
    }
    this.#run.wind = setup.wind;
  }

  #createRun(): CharacterRun {
    const run = startRun(this.#setUp(), this.#options);
    run.setTurns(this.#turns);
    return run;
  }

  #listTopology(): string {
    const { morphs } = getScene(this.#document);
    return listGarments(this.#document)
      .map(
        (garment) =>
          `${garment.id}:${garment.sectionIndex}:${garment.warpTurn}:${garment.lining}:${JSON.stringify([garment.renders, garment.clearOf])}:${this.#listMeshes(garment)}`,
      )
      .join()
      .concat(JSON.stringify(morphs));
  }

  /** Of the meshes that a garment meets. */
  #listMeshes(garment: GarmentRecord): string {
    const placed = placeBodyMeshes(this.#document, garment, this.#character);
    return placed.map(({ record, sectionIndex }) => `${record.id} ${sectionIndex}`).join(' ');
  }

  #updateReach(garment: GarmentRecord, kinds: ReadonlySet<ChannelKind>): void {
    const { compiled } = this.#run.find(garment.id)?.setup ?? {};
    const document = this.#document;
    const map = findChannel(document, garment.id);
    const values = map && document.arrays.get(map.id);
    // After a step the values may be ahead of the character.
    if (kinds.size === 0 || !compiled || values?.length !== compiled.pointCount) return;
    const section = this.#run.character.sections[compiled.sectionIndex]!;
    const reach = readReach(document, garment, section, compiled.pointCount, kinds);
    this.#run.setReach(garment.id, reach, kinds);
  }

  #updateFabric(garment: GarmentRecord): void {
    const fabric = this.#document.records.get(garment.fabricId);
    if (fabric?.type === 'fabric') this.#run.setFabric(garment.id, fabric.settings);
  }
}

const NO_SCALES = { stiffness: null, damping: null, drag: null };

function readSetUpReach({ maxDistances, inward, lining, scales }: GarmentSetup): GarmentReach {
  return { maxDistances, inward: inward ?? null, lining: lining ?? null, scales: scales ?? NO_SCALES };
}
