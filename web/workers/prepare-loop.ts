import { compileGarment } from '../../core/cloth/index.ts';
import {
  type AuthoredDocument,
  applyPatch,
  createDocument,
  type DocumentPatch,
  getScene,
  listBodySections,
  openPatch,
  type RecordId,
  toWholePatch,
} from '../../core/document/index.ts';
import {
  compareSurfaces,
  listFaults,
  type MeshFinding,
  measureDeviation,
  measureSurface,
  mendSource,
  weldPoints,
} from '../../core/mesh/index.ts';
import {
  checkSection,
  checkShapes,
  makeArrays,
  Preparation,
  type ShapeFit,
  transferChannel,
} from '../../core/prepare/index.ts';
import {
  type Character,
  findSection,
  hashSection,
  type Section,
  type SectionName,
  shareRig,
  shareSections,
} from '../../core/rig/index.ts';
import {
  bindRender,
  type CompiledEntry,
  findLining,
  GarmentCache,
  measureBinding,
  setUpRun,
} from '../../core/run/index.ts';
import {
  collectOuterSurface,
  collectSkin,
  createSectionMesh,
  hasMadeArray,
  judgeSectionSides,
} from '../../core/steps/index.ts';
import type {
  BodyMeshFigures,
  BodyMeshRequest,
  MapTransfer,
  MeasureRequest,
  OnProgress,
  PreparedReply,
  SimMeshFigures,
  Trial,
} from './prepare-protocol.ts';

/** Told at most so often. */
const PROGRESS_MS = 80;

/** Owns the source character: replays the steps of preparation, tries new ones, checks and measures meshes. */
export class PrepareLoop {
  #preparation: Preparation | null = null;
  readonly #document = createDocument();
  readonly #cache = new GarmentCache();
  /** Inner sides that were looked for, by the content of the section. */
  readonly #innerSides = new Map<string, Uint8Array>();

  load(source: Character, patch: DocumentPatch): void {
    this.#preparation = new Preparation(source);
    applyPatch(this.#document, patch);
  }

  patch(patch: DocumentPatch): void {
    applyPatch(this.#document, patch);
  }

  /** Replays the steps of the document. */
  prepare(onProgress?: OnProgress): PreparedReply {
    const { character, problems, faults } = this.#preparation!.update(
      this.#document,
      limitProgress(onProgress),
    );
    const compiled = this.#compile(character, this.#document);
    return { ...this.#share(character), problems, faults, arrays: [], made: null, compiled };
  }

  check(section: SectionName): MeshFinding[] {
    const character = this.#now;
    return checkSection(
      character,
      this.#find(character, section),
      listBodySections(this.#document, character),
      getScene(this.#document).healthLimits,
    );
  }

  /** Fit on the extremes of the body's shapes. */
  checkShapes(section: SectionName): ShapeFit[] {
    const character = this.#now;
    return checkShapes(
      character,
      this.#find(character, section),
      listBodySections(this.#document, character),
    );
  }

  /** Welded vertices of the inner side of a section, non-zero; [points]. */
  findInnerSide(section: SectionName): Uint8Array {
    const character = this.#now;
    const found = character.sections[this.#find(character, section)]!;
    const hash = hashSection(found);
    const known = this.#innerSides.get(hash) ?? findLining(found);
    this.#innerSides.set(hash, known);
    return known;
  }

  get #now(): Character {
    return this.#preparation!.update(this.#document).character;
  }

  /** What the character would be with a change; the document stays. @throws {RangeError} When the step cannot be applied. */
  tryOut({ patch, stepId, transfers }: Trial, onProgress?: OnProgress): PreparedReply {
    const report = limitProgress(onProgress);
    const before = this.#now;
    const document = withPatch(this.#document, patch);
    const step = stepId ? document.records.get(stepId) : undefined;
    // A sim mesh with other settings is another surface.
    if (step?.type === 'step' && hasMadeArray(step.act)) document.arrays.delete(step.id);
    const arrays = makeArrays(this.#preparation!, document, report);
    const { character, problems, faults, made: madeBy } = this.#preparation!.update(document, report);
    const own = problems.find((problem) => problem.stepId === stepId);
    if (own) throw new RangeError(own.reason);
    const made = nameMade(character, (stepId && madeBy.get(stepId)) || []);
    arrays.push(...transfers.map((transfer) => this.#transfer(transfer, before, character, made)));
    const compiled = this.#compile(character, document);
    return { ...this.#share(character), problems, faults, arrays, made, compiled };
  }

  #share(character: Character): Pick<PreparedReply, 'sections' | 'rig'> {
    const isPlaced = character.skeleton !== this.#preparation!.source.skeleton;
    return { sections: shareSections(character), rig: isPlaced ? shareRig(character) : null };
  }

  /** Compiles the garments of a document beside the runs. @returns What was not known before. */
  #compile(character: Character, document: AuthoredDocument): CompiledEntry[] {
    setUpRun(document, character, { cache: this.#cache });
    return this.#cache.takeMade();
  }

  #transfer(
    { channelId, from, to }: MapTransfer,
    before: Character,
    after: Character,
    made: SectionName | null,
  ): [RecordId, Float32Array] {
    const values = this.#document.arrays.get(channelId) ?? new Float32Array(0);
    const map = this.#document.records.get(channelId);
    const kind = map?.type === 'channel' ? map.kind : 'maxDistance';
    const target = to ?? made;
    if (!target) throw new RangeError('the step made no section to carry painted values to');
    const source = { character: before, sectionIndex: this.#find(before, from) };
    const wanted = { character: after, sectionIndex: this.#find(after, target) };
    const [was, is] = [source, wanted].map(
      ({ character, sectionIndex }) => character.sections[sectionIndex]!,
    );
    // The same points, wherever they were moved: each keeps its value.
    const isSame = isSameMesh(was!, is!) && weldPoints(is!.positions).pointCount === values.length;
    return [channelId, isSame ? values.slice() : transferChannel(source, wanted, values, kind)];
  }

  measure({ section, renders, clip, edgeLength, over, sides }: MeasureRequest): SimMeshFigures {
    const character = this.#now;
    const index = this.#find(character, section);
    const { pointPositions: positions, faces } = createSectionMesh(character, index);
    const surface = { positions: positions, triangles: faces };
    const drawn = renders.map((render) => this.#find(character, render));
    const compiled = compileGarment(character, index);
    const errors = drawn.map((render) =>
      measureBinding(character, compiled, bindRender(character, compiled, render), clip),
    );
    const [main] = errors;
    const madeOver = over.map((name) => this.#find(character, name));
    const comparison =
      edgeLength === null
        ? null
        : compareSurfaces(surface, mendSource(collectOuterSurface(character, madeOver, sides)).surface);
    return {
      ...measureSurface(surface, edgeLength),
      comparison,
      faults: comparison && edgeLength !== null ? listFaults(comparison, edgeLength) : [],
      verdict: judgeSectionSides(character, madeOver),
      binding: {
        inBindPose: Math.max(0, ...errors.map((error) => error.inBindPose)),
        // Patches have weights of their own that say nothing of the mesh they ride on.
        p95: main?.p95 ?? 0,
        worst: main?.worst ?? 0,
      },
    };
  }

  measureBodyMesh({ section, stepId }: BodyMeshRequest): BodyMeshFigures {
    const character = this.#now;
    const index = this.#find(character, section);
    const { pointPositions: positions, faces: triangles } = createSectionMesh(character, index);
    const step = stepId ? this.#document.records.get(stepId) : undefined;
    const act = step?.type === 'step' && step.act.kind === 'makeBodyMesh' ? step.act : null;
    const over = act && step?.type === 'step' ? [step, ...act.others] : [];
    const skin = over.map((name) => this.#find(character, name));
    return {
      vertices: positions.length / 3,
      triangles: triangles.length / 3,
      deviation: act
        ? measureDeviation({ positions, triangles }, collectSkin(character, skin, act.without))
        : null,
    };
  }

  #find(character: Character, name: SectionName): number {
    const index = findSection(character, name);
    if (index < 0) throw new RangeError(`there is no section "${name.sectionName}"`);
    return index;
  }
}

/** Progress told at most so often. */
function limitProgress(onProgress: OnProgress = () => {}): (share: number) => void {
  let toldAt = 0;
  return (share) => {
    const now = performance.now();
    if (now - toldAt < PROGRESS_MS) return;
    toldAt = now;
    onProgress(share);
  };
}

function isSameMesh(was: Section, is: Section): boolean {
  return (
    was.positions.length === is.positions.length &&
    was.triangles.length === is.triangles.length &&
    was.triangles.every((vertex, i) => vertex === is.triangles[i]) &&
    was.jointIndices.length === is.jointIndices.length
  );
}

/** A copy of a document with a patch of whole records and arrays. */
function withPatch(document: AuthoredDocument, patch: DocumentPatch): AuthoredDocument {
  const copy = openPatch(toWholePatch(document));
  applyPatch(copy, patch);
  return copy;
}

/** The section that a step made. */
function nameMade({ sections }: Character, [sectionIndex]: readonly number[]): SectionName | null {
  return sectionIndex === undefined ? null : { sectionIndex, sectionName: sections[sectionIndex]!.name };
}
