import { compileGarment } from '../../core/cloth/index.ts';
import {
  type AuthoredDocument,
  applyPatch,
  createDocument,
  type DocumentPatch,
  listBodySections,
  openPatch,
  type RecordId,
  toWholePatch,
} from '../../core/document/index.ts';
import {
  buildEdgeTable,
  listBorderPoints,
  measureBorderDeviation,
  measureSurface,
  type Surface,
  weldPoints,
} from '../../core/mesh/index.ts';
import {
  carryChannel,
  checkSection,
  checkShapes,
  makeArrays,
  Preparation,
} from '../../core/prepare/index.ts';
import {
  type Character,
  findSection,
  type Section,
  type SectionName,
  shareSections,
} from '../../core/rig/index.ts';
import { bindRender, measureBinding } from '../../core/run/index.ts';
import { collectOuterSurface, createSectionMesh, hasMadeArray } from '../../core/steps/index.ts';
import type { Carry, PrepareReply, PrepareRequest, SimMeshFigures } from './prepare-protocol.ts';

/** Told at most so often. */
const PROGRESS_MS = 80;

/** Owns the source character: replays the steps of preparation, tries new ones, checks meshes. */
export class PrepareLoop {
  #preparation: Preparation | null = null;
  readonly #document = createDocument();
  #progressAt = 0;
  readonly #reply: (reply: PrepareReply) => void;

  constructor(reply: (reply: PrepareReply) => void) {
    this.#reply = reply;
  }

  /** Does what is asked; what goes wrong is told with the token of the request. */
  take(request: PrepareRequest): void {
    try {
      this.#handle(request);
    } catch (error) {
      const message = error instanceof Error ? error.message : String(error);
      this.#reply({ kind: 'failed', token: 'token' in request ? request.token : -1, message });
    }
  }

  #handle(request: PrepareRequest): void {
    switch (request.kind) {
      case 'load':
        this.#preparation = new Preparation(request.source);
        applyPatch(this.#document, request.patch);
        break;
      case 'patch':
        applyPatch(this.#document, request.patch);
        break;
      case 'prepare': {
        const { character, problems } = this.#preparation!.update(
          this.#document,
          this.#report(request.token),
        );
        this.#send(request.token, character, { problems, arrays: [], made: null });
        break;
      }
      case 'try':
        this.#try(request);
        break;
      case 'check': {
        const character = this.#now;
        const body = listBodySections(this.#document, character);
        const findings = checkSection(character, this.#find(character, request.section), body);
        this.#reply({ kind: 'checked', token: request.token, findings });
        break;
      }
      case 'checkShapes': {
        const character = this.#now;
        const body = listBodySections(this.#document, character);
        const fits = checkShapes(character, this.#find(character, request.section), body);
        this.#reply({ kind: 'shapesChecked', token: request.token, fits });
        break;
      }
      case 'measure':
        this.#reply({ kind: 'measured', token: request.token, figures: this.#measure(request) });
        break;
    }
  }

  get #now(): Character {
    return this.#preparation!.update(this.#document).character;
  }

  #try({ token, patch, stepId, carries }: Extract<PrepareRequest, { kind: 'try' }>): void {
    const report = this.#report(token);
    const before = this.#now;
    const document = withPatch(this.#document, patch);
    const step = stepId ? document.records.get(stepId) : undefined;
    // A sim mesh with other settings is another surface.
    if (step?.type === 'step' && hasMadeArray(step.act)) document.arrays.delete(step.id);
    const arrays = makeArrays(this.#preparation!, document, report);
    const { character, problems, made: madeBy } = this.#preparation!.update(document, report);
    const own = problems.find((problem) => problem.stepId === stepId);
    if (own) throw new RangeError(own.reason);
    const made = nameMade(character, (stepId && madeBy.get(stepId)) || []);
    arrays.push(...carries.map((carry) => this.#carry(carry, before, character, made)));
    this.#send(token, character, { problems, arrays, made });
  }

  #carry(
    { channelId, from, to }: Carry,
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
    return [channelId, isSame ? values.slice() : carryChannel(source, wanted, values, kind)];
  }

  #measure({
    section,
    renders,
    clip,
    edgeLength,
  }: Extract<PrepareRequest, { kind: 'measure' }>): SimMeshFigures {
    const character = this.#now;
    const index = this.#find(character, section);
    const { places, faces } = createSectionMesh(character, index);
    const surface = { positions: places, triangles: faces };
    const drawn = renders.map((render) => this.#find(character, render));
    const compiled = compileGarment(character, index);
    const errors = drawn.map((render) =>
      measureBinding(character, compiled, bindRender(character, compiled, render), clip),
    );
    const [main] = errors;
    return {
      ...measureSurface(surface, edgeLength),
      borderDeviation:
        edgeLength !== null && drawn.length > 0 ? measureBorder(surface, character, drawn[0]!) : null,
      binding: {
        inBindPose: Math.max(0, ...errors.map((error) => error.inBindPose)),
        // Patches have weights of their own that say nothing of the mesh they ride on.
        usual: main?.usual ?? 0,
        worst: main?.worst ?? 0,
      },
    };
  }

  #find(character: Character, name: SectionName): number {
    const index = findSection(character, name);
    if (index < 0) throw new RangeError(`there is no section "${name.sectionName}"`);
    return index;
  }

  #report(token: number): (share: number) => void {
    return (share) => {
      const now = performance.now();
      if (now - this.#progressAt < PROGRESS_MS) return;
      this.#progressAt = now;
      this.#reply({ kind: 'progress', token, share });
    };
  }

  #send(
    token: number,
    character: Character,
    rest: Pick<Extract<PrepareReply, { kind: 'prepared' }>, 'problems' | 'arrays' | 'made'>,
  ): void {
    this.#reply({ kind: 'prepared', token, sections: shareSections(character), ...rest });
  }
}

function measureBorder(surface: Surface, character: Character, drawn: number): number | null {
  const source = collectOuterSurface(character, [drawn]);
  const table = buildEdgeTable(source.triangles, source.positions.length / 3);
  return listBorderPoints(table).length > 0 ? measureBorderDeviation(surface, source) : null;
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
