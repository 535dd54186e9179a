import {
  BufferAttribute,
  BufferGeometry,
  DynamicDrawUsage,
  Group,
  LineSegments,
  Mesh,
  type Raycaster,
} from 'three';
import type { BodyMeshRecord, RecordId } from '../../core/document/index.ts';
import { buildEdgeTable, computeVertexNormals } from '../../core/mesh/index.ts';
import { type Character, findSection, type Section } from '../../core/rig/index.ts';
import { type BodyMesh, createBodyMesh, poseBodyMesh } from '../../core/run/index.ts';
import type { PreviewFrame } from '../state/preview-client.ts';
import {
  createDashed,
  createFill,
  createLine,
  type Position,
  RING_OPACITY,
  SELECTED_OPACITY,
} from './body-materials.ts';
import { GROUND_COLORS } from './ground-colors.ts';

interface MeshItem {
  record: BodyMeshRecord;
  section: Section;
  sectionIndex: number;
  mesh: BodyMesh;
  /** World places of its points, [p, 4] and [p, 3]. */
  posed: Float32Array;
  places: BufferAttribute;
  fill: Mesh;
  lines: Record<Position, LineSegments>;
}

const TOUCHED_OPACITY = { open: 1, hidden: 0.16 } as const;
const PLACES = ['open', 'hidden'] as const;

/** Meshes of a body set over the skin, few vertices each: chalk with ink edges, faint where the character hides them. */
export class BodyMeshView {
  readonly group = new Group();
  readonly #items = new Map<RecordId, MeshItem>();
  readonly #fill = createFill('open');
  readonly #lines;
  readonly #selectedLines = createPair((place) => createLine(GROUND_COLORS.teal, SELECTED_OPACITY, place));
  readonly #touchedLines = createPair((place) => createLine(GROUND_COLORS.ink, TOUCHED_OPACITY, place));
  readonly #isBeside: boolean;
  #selected: readonly RecordId[] = [];
  #touched: ReadonlySet<RecordId> = new Set();

  /** @param isBeside - Another set, to look at beside this one: dashed edges alone. */
  constructor({ isBeside }: { isBeside: boolean }) {
    this.#isBeside = isBeside;
    this.#lines = createPair((place) =>
      isBeside ? createDashed(place) : createLine(GROUND_COLORS.ink, RING_OPACITY, place),
    );
  }

  /** Shows these meshes of a character; those whose section it lacks are not shown. */
  setMeshes(character: Character, records: readonly BodyMeshRecord[], selected: readonly RecordId[]): void {
    const found = records
      .map((record) => ({ record, sectionIndex: findSection(character, record) }))
      .filter(({ sectionIndex }) => sectionIndex >= 0);
    const wanted = new Map(found.map((one) => [one.record.id, one]));
    for (const [id, item] of this.#items) {
      const section = character.sections[wanted.get(id)?.sectionIndex ?? -1];
      if (section !== item.section) this.#remove(id, item);
    }
    for (const { record, sectionIndex } of found) {
      const item = this.#items.get(record.id);
      if (item) item.record = record;
      else this.#add(record, character.sections[sectionIndex]!, sectionIndex);
    }
    this.#selected = selected;
    this.#paint();
  }

  /** Follows a frame of the live run. */
  update({ layout, floats }: PreviewFrame, { skins }: Pick<Character, 'skins'>): void {
    for (const item of this.#items.values()) {
      const { mesh, section, sectionIndex, posed, places, record } = item;
      const start = layout.skins[section.skin];
      const morphs = layout.morphs[sectionIndex];
      // A frame of a character that the page knows no longer, or not yet.
      if (start === undefined || morphs === undefined) continue;
      const matrices = floats.subarray(start, start + 16 * skins[section.skin]!.joints.length);
      poseBodyMesh(mesh, matrices, posed, floats.subarray(morphs, morphs + section.morphs.length));
      const out = places.array as Float32Array;
      const normals = record.margin > 0 ? computeVertexNormals(posed, mesh.triangles, out, 4) : null;
      for (let p = 0; p < mesh.pointCount; p++)
        for (let k = 0; k < 3; k++)
          out[3 * p + k] = posed[4 * p + k]! + (normals ? record.margin * normals[3 * p + k]! : 0);
      places.needsUpdate = true;
      item.fill.geometry.boundingSphere = null;
      if (this.#isBeside) for (const place of PLACES) item.lines[place].computeLineDistances();
    }
  }

  /** Darkens the edges of meshes that cloth lies on. */
  setTouched(ids: ReadonlySet<RecordId>): void {
    this.#touched = ids;
    this.#paint();
  }

  /** The mesh that a ray meets first. */
  find(caster: Raycaster): RecordId | null {
    const hits = caster.intersectObjects([...this.#items.values()].map(({ fill }) => fill));
    return hits.length > 0 ? (hits[0]!.object.userData.id as RecordId) : null;
  }

  dispose(): void {
    for (const [id, item] of this.#items) this.#remove(id, item);
    this.#fill.dispose();
    for (const pair of [this.#lines, this.#selectedLines, this.#touchedLines])
      for (const place of PLACES) pair[place].dispose();
  }

  #add(record: BodyMeshRecord, section: Section, sectionIndex: number): void {
    const mesh = createBodyMesh(section);
    const places = new BufferAttribute(new Float32Array(3 * mesh.pointCount), 3).setUsage(DynamicDrawUsage);
    const fill = new Mesh(toGeometry(places, mesh.triangles), this.#fill);
    const edges = toGeometry(places, buildEdgeTable(mesh.triangles, mesh.pointCount).edges);
    const lines = createPair((place) => new LineSegments(edges, this.#lines[place]));
    fill.renderOrder = 5;
    fill.userData.id = record.id;
    const parts = [...(this.#isBeside ? [] : [fill]), lines.hidden, lines.open];
    for (const part of parts) part.frustumCulled = false;
    for (const place of PLACES) lines[place].renderOrder = 6;
    this.group.add(...parts);
    const posed = new Float32Array(4 * mesh.pointCount);
    this.#items.set(record.id, { record, section, sectionIndex, mesh, posed, places, fill, lines });
  }

  #remove(id: RecordId, item: MeshItem): void {
    this.group.remove(item.fill, item.lines.open, item.lines.hidden);
    item.fill.geometry.dispose();
    item.lines.open.geometry.dispose();
    this.#items.delete(id);
  }

  #paint(): void {
    for (const [id, { lines }] of this.#items) {
      const isSelected = this.#selected.includes(id);
      const pair = isSelected
        ? this.#selectedLines
        : this.#touched.has(id)
          ? this.#touchedLines
          : this.#lines;
      for (const place of PLACES) lines[place].material = pair[place];
    }
  }
}

function createPair<T>(create: (place: Position) => T): Record<Position, T> {
  return { open: create('open'), hidden: create('hidden') };
}

function toGeometry(places: BufferAttribute, index: Uint32Array): BufferGeometry {
  const geometry = new BufferGeometry();
  geometry.setAttribute('position', places);
  geometry.setIndex(new BufferAttribute(index, 1));
  return geometry;
}
