import { dequal } from 'dequal';
import {
  Color,
  Group,
  type LineBasicMaterial,
  LineSegments,
  Matrix4,
  Mesh,
  MeshBasicMaterial,
  OctahedronGeometry,
  type Ray,
  Raycaster,
  SphereGeometry,
  Vector3,
} from 'three';
import { LineMaterial } from 'three/addons/lines/LineMaterial.js';
import { LineSegments2 } from 'three/addons/lines/LineSegments2.js';
import { LineSegmentsGeometry } from 'three/addons/lines/LineSegmentsGeometry.js';
import { getShapeDefinition, growShape, type ShapeHandle } from '../../core/bodies/index.ts';
import type { BodyRecord, RecordId } from '../../core/document/index.ts';
import { createBodyGeometry } from './body-geometry.ts';
import {
  createDashed,
  createFill,
  createLine,
  type Position,
  RING_OPACITY,
  SELECTED_OPACITY,
} from './body-materials.ts';
import { BodyMeshView } from './body-mesh-view.ts';
import { GROUND_COLORS } from './ground-colors.ts';

interface BodyItem {
  record: BodyRecord;
  /** Stands on the joint; holds the shape and its rings. */
  group: Group;
  /** What can be pointed at. */
  fill: Mesh;
  /** Rings in the open, and where the character hides them. */
  rings: LineSegments;
  hiddenRings: LineSegments;
  /** Thick rings while cloth lies on it; made when it is first touched. */
  thick: LineSegments2 | null;
}

/** Rings of a body that is touched, in picture elements. */
const THICK = 1.6;

/** A handle goes to a joint that the pointer is no farther from than this, m, on a figure of the usual size. */
const NEAR_JOINT = 0.05;

/** What handles look like by what they do, and how large they are, m, on a figure of the usual size. */
const HANDLE_LOOKS = {
  move: { color: GROUND_COLORS.teal, size: 0.012 },
  size: { color: new Color('#FCFAF5'), size: 0.009 },
  turn: { color: new Color('#7C6AAE'), size: 0.012 },
} as const;

/** Collision bodies on their joints: chalk with ink rings, faint where the character hides them; handles on the selected one. */
export class BodiesView {
  readonly group = new Group();
  readonly #items = new Map<RecordId, BodyItem>();
  readonly #handles = new Map<string, Mesh>();
  readonly #handleGeometries = { ball: new SphereGeometry(1, 14, 10), octahedron: new OctahedronGeometry(1) };
  readonly #handleMaterials = {
    move: createHandleMaterial('move'),
    size: createHandleMaterial('size'),
    turn: createHandleMaterial('turn'),
  };
  /** Another set, to look at beside this one: dashed lines alone. */
  readonly #isBeside: boolean;
  readonly #fills = { open: createFill('open'), hidden: createFill('hidden') };
  readonly #rings: Record<Position, LineBasicMaterial> = {
    open: createLine(GROUND_COLORS.ink, RING_OPACITY, 'open'),
    hidden: createLine(GROUND_COLORS.ink, RING_OPACITY, 'hidden'),
  };
  readonly #selectedRings = {
    open: createLine(GROUND_COLORS.teal, SELECTED_OPACITY, 'open'),
    hidden: createLine(GROUND_COLORS.teal, SELECTED_OPACITY, 'hidden'),
  };
  readonly #thickRings = new LineMaterial({
    linewidth: THICK,
    opacity: RING_OPACITY.open,
    transparent: true,
    depthWrite: false,
  });
  #selected: RecordId | null = null;
  #hasHandles = true;
  #scale = 1;
  #worldMatrices: Float32Array = new Float32Array(0);
  #nodeOfJoint: ReadonlyMap<string, number> = new Map();

  /** Meshes over the skin. */
  readonly meshes: BodyMeshView;

  constructor({ isBeside = false }: { isBeside?: boolean } = {}) {
    this.#isBeside = isBeside;
    this.#thickRings.color = GROUND_COLORS.ink;
    this.meshes = new BodyMeshView({ isBeside });
    this.group.add(this.meshes.group);
    if (!isBeside) return;
    for (const place of ['open', 'hidden'] as const) {
      this.#rings[place].dispose();
      this.#rings[place] = createDashed(place);
    }
  }

  get selected(): BodyRecord | null {
    return (this.#selected && this.#items.get(this.#selected)?.record) || null;
  }

  /** Draws handles in proportion to a figure. @param scale - Its size over the usual one. */
  setScale(scale: number): void {
    this.#scale = scale;
    this.#placeHandles();
  }

  /** The joints that bodies are on, by name. */
  setJoints(names: readonly string[]): void {
    this.#nodeOfJoint = new Map(names.map((name, node) => [name, node]));
  }

  /** Shows these bodies, some of them selected; the last of those has handles, when it may have. */
  setBodies(bodies: readonly BodyRecord[], selected: readonly RecordId[], hasHandles = true): void {
    this.#hasHandles = hasHandles;
    const wanted = new Set(bodies.map((body) => body.id));
    for (const [id, item] of this.#items) if (!wanted.has(id)) this.#remove(id, item);
    for (const record of bodies) {
      const item = this.#items.get(record.id);
      // What follows a body shape is made anew each time, and mostly the same.
      if (item && dequal(item.record, record)) continue;
      if (item) this.#remove(record.id, item);
      this.#add(record);
    }
    this.#selected = selected.at(-1) ?? null;
    for (const [id, item] of this.#items) {
      const rings = selected.includes(id) ? this.#selectedRings : this.#rings;
      item.rings.material = rings.open;
      item.hiddenRings.material = rings.hidden;
    }
    this.#placeHandles();
  }

  /** Follows the joints. @param worldMatrices - Of all nodes, [n, 16]. */
  update(worldMatrices: Float32Array): void {
    this.#worldMatrices = worldMatrices;
    for (const { record, group } of this.#items.values()) {
      this.#follow(group, record);
    }
    this.#placeHandles();
  }

  /** Thickens the rings of bodies that cloth lies on. */
  setTouched(ids: ReadonlySet<RecordId>): void {
    this.meshes.setTouched(ids);
    for (const [id, item] of this.#items) {
      if (!item.thick && ids.has(id)) {
        item.thick = new LineSegments2(
          new LineSegmentsGeometry().fromLineSegments(item.rings),
          this.#thickRings,
        );
        item.thick.renderOrder = 6;
        item.group.add(item.thick);
      }
      if (item.thick) item.thick.visible = ids.has(id);
    }
  }

  /** World matrix of the joint of a body. */
  getJointMatrix(record: BodyRecord): Matrix4 {
    return new Matrix4().fromArray(this.#worldMatrices, 16 * this.#findNode(record));
  }

  /** The handle nearest to a ray, with its place in the world; handles count a little larger than they look. */
  findHandle(ray: Ray): { id: string; position: Vector3 } | null {
    let best: { id: string; position: Vector3 } | null = null;
    let bestDistance = 1.7;
    for (const [id, handle] of this.#handles) {
      if (!handle.visible) continue;
      const distance = Math.sqrt(ray.distanceSqToPoint(handle.position)) / handle.scale.x;
      if (distance >= bestDistance) continue;
      bestDistance = distance;
      best = { id, position: handle.position.clone() };
    }
    return best;
  }

  /** Where the joint is that a ray passes most nearly, in the world; null when none is as near as a joint is drawn large. */
  findJoint(ray: Ray): Vector3 | null {
    let best: Vector3 | null = null;
    let bestDistance = NEAR_JOINT * this.#scale;
    for (const node of this.#nodeOfJoint.values()) {
      const place = new Vector3().fromArray(this.#worldMatrices, 16 * node + 12);
      const distance = Math.sqrt(ray.distanceSqToPoint(place));
      if (distance >= bestDistance) continue;
      bestDistance = distance;
      best = place;
    }
    return best;
  }

  /** Where a handle of the selected body is in the world; null when it is not shown. */
  getHandlePosition(id: string): [number, number, number] | null {
    const handle = this.#handles.get(id);
    return handle?.visible ? handle.position.toArray() : null;
  }

  /** The body under a ray, the nearest first; a mesh, which lies around all of them, only where there is none. */
  findBody(ray: Ray): RecordId | null {
    const caster = new Raycaster(ray.origin, ray.direction);
    const hits = caster.intersectObjects([...this.#items.values()].map((item) => item.fill));
    return hits.length > 0 ? (hits[0]!.object.userData.id as RecordId) : this.meshes.find(caster);
  }

  dispose(): void {
    this.meshes.dispose();
    for (const [id, item] of this.#items) this.#remove(id, item);
    for (const geometry of Object.values(this.#handleGeometries)) geometry.dispose();
    for (const material of Object.values(this.#handleMaterials)) material.dispose();
    this.#thickRings.dispose();
    for (const pair of [this.#fills, this.#rings, this.#selectedRings]) {
      pair.open.dispose();
      pair.hidden.dispose();
    }
  }

  #findNode(record: BodyRecord): number {
    return Math.max(0, this.#nodeOfJoint.get(record.jointName) ?? 0);
  }

  #follow(group: Group, record: BodyRecord): void {
    group.matrix.fromArray(this.#worldMatrices, 16 * this.#findNode(record));
    group.matrixWorldNeedsUpdate = true;
  }

  #add(record: BodyRecord): void {
    const { fill: geometry, lines } = createBodyGeometry(growShape(record.shape, record.margin));
    const fill = new Mesh(geometry, this.#fills.open);
    const hiddenFill = new Mesh(geometry, this.#fills.hidden);
    const rings = new LineSegments(lines, this.#rings.open);
    const hiddenRings = new LineSegments(rings.geometry, this.#rings.hidden);
    for (const part of [fill, hiddenFill]) part.renderOrder = 5;
    for (const part of [rings, hiddenRings]) part.renderOrder = 6;
    fill.userData.id = record.id;
    const group = new Group();
    group.matrixAutoUpdate = false;
    if (this.#worldMatrices.length > 0) this.#follow(group, record);
    if (this.#isBeside) {
      rings.computeLineDistances();
      group.add(hiddenRings, rings);
    } else group.add(hiddenFill, fill, hiddenRings, rings);
    this.group.add(group);
    this.#items.set(record.id, { record, group, fill, rings, hiddenRings, thick: null });
  }

  #remove(id: RecordId, item: BodyItem): void {
    this.group.remove(item.group);
    item.fill.geometry.dispose();
    item.rings.geometry.dispose();
    item.thick?.geometry.dispose();
    this.#items.delete(id);
  }

  #placeHandles(): void {
    const record = this.selected;
    for (const handle of this.#handles.values()) handle.visible = false;
    if (!record || !this.#hasHandles || this.#worldMatrices.length === 0) return;
    const joint = this.getJointMatrix(record);
    for (const handle of getShapeDefinition(record.shape).listHandles(record.shape))
      this.#place(handle, joint);
  }

  #place({ id, does, position }: ShapeHandle, joint: Matrix4): void {
    let handle = this.#handles.get(id);
    if (!handle) {
      const { ball, octahedron } = this.#handleGeometries;
      handle = new Mesh(does === 'turn' ? octahedron : ball, this.#handleMaterials[does]);
      handle.renderOrder = 9;
      handle.frustumCulled = false;
      this.#handles.set(id, handle);
      this.group.add(handle);
    }
    handle.visible = true;
    handle.position.set(...position).applyMatrix4(joint);
    handle.scale.setScalar(HANDLE_LOOKS[does].size * this.#scale);
  }
}

function createHandleMaterial(does: ShapeHandle['does']): MeshBasicMaterial {
  const material = new MeshBasicMaterial({ depthTest: false, transparent: true });
  material.color = HANDLE_LOOKS[does].color;
  return material;
}
