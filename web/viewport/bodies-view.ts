import {
  GreaterDepth,
  Group,
  LessEqualDepth,
  LineBasicMaterial,
  LineSegments,
  Matrix4,
  Mesh,
  MeshBasicMaterial,
  Quaternion,
  type Ray,
  Raycaster,
  SphereGeometry,
  Vector3,
} from 'three';
import { getRoundShape, SHAPES } from '../../core/bodies/index.ts';
import type { BodyRecord, RecordId } from '../../core/document/index.ts';
import { createCapsuleGeometry, createRingGeometry } from './capsule-geometry.ts';

export type HandleKind = 'a' | 'b' | 'radiusA' | 'radiusB';

interface BodyItem {
  record: BodyRecord;
  /** Stands on the joint; holds the shape and its rings. */
  group: Group;
  /** What can be pointed at. */
  fill: Mesh;
  /** Rings in the open, and where the character hides them. */
  rings: LineSegments;
  hiddenRings: LineSegments;
}

const CHALK = '#FBF8F0';
const INK = '#23262D';
const TEAL = '#13696A';
const UP = new Vector3(0, 1, 0);
/** How much is left of what the character hides. */
const FILL_OPACITY = { open: 0.25, hidden: 0.1 } as const;
const RING_OPACITY = { open: 0.75, hidden: 0.16 } as const;
const SELECTED_OPACITY = { open: 1, hidden: 0.45 } as const;

/** Draws only what lies before everything else, or only what lies behind it. */
const DEPTHS = { open: LessEqualDepth, hidden: GreaterDepth } as const;
type Position = keyof typeof DEPTHS;

function createFill(place: Position): MeshBasicMaterial {
  return new MeshBasicMaterial({
    color: CHALK,
    transparent: true,
    opacity: FILL_OPACITY[place],
    depthWrite: false,
    depthFunc: DEPTHS[place],
  });
}

function createLine(
  color: string,
  opacity: Readonly<Record<Position, number>>,
  place: Position,
): LineBasicMaterial {
  return new LineBasicMaterial({
    color,
    transparent: true,
    opacity: opacity[place],
    depthWrite: false,
    depthFunc: DEPTHS[place],
  });
}

/** Collision bodies on their joints: chalk with ink rings, faint where the character hides them; handles on the selected one. */
export class BodiesView {
  readonly group = new Group();
  readonly #items = new Map<RecordId, BodyItem>();
  readonly #handles = new Map<HandleKind, Mesh>();
  readonly #fills = { open: createFill('open'), hidden: createFill('hidden') };
  readonly #rings = {
    open: createLine(INK, RING_OPACITY, 'open'),
    hidden: createLine(INK, RING_OPACITY, 'hidden'),
  };
  readonly #selectedRings = {
    open: createLine(TEAL, SELECTED_OPACITY, 'open'),
    hidden: createLine(TEAL, SELECTED_OPACITY, 'hidden'),
  };
  #selected: RecordId | null = null;
  #worldMatrices: Float32Array = new Float32Array(0);
  #nodeOfJoint: ReadonlyMap<string, number> = new Map();

  constructor() {
    const geometry = new SphereGeometry(1, 14, 10);
    const endMaterial = new MeshBasicMaterial({ color: TEAL, depthTest: false, transparent: true });
    const radiusMaterial = new MeshBasicMaterial({ color: '#FCFAF5', depthTest: false, transparent: true });
    for (const kind of ['a', 'b', 'radiusA', 'radiusB'] as const) {
      const handle = new Mesh(geometry, kind.startsWith('radius') ? radiusMaterial : endMaterial);
      handle.renderOrder = 9;
      handle.visible = false;
      handle.frustumCulled = false;
      this.#handles.set(kind, handle);
      this.group.add(handle);
    }
  }

  get selected(): BodyRecord | null {
    return (this.#selected && this.#items.get(this.#selected)?.record) || null;
  }

  /** The joints that bodies are on, by name. */
  setJoints(names: readonly string[]): void {
    this.#nodeOfJoint = new Map(names.map((name, node) => [name, node]));
  }

  /** Shows these bodies, one of them selected. */
  setBodies(bodies: readonly BodyRecord[], selected: RecordId | null): void {
    const wanted = new Set(bodies.map((body) => body.id));
    for (const [id, item] of this.#items) if (!wanted.has(id)) this.#remove(id, item);
    for (const record of bodies) {
      const item = this.#items.get(record.id);
      if (item?.record === record) continue;
      if (item) this.#remove(record.id, item);
      this.#add(record);
    }
    this.#selected = selected;
    for (const [id, item] of this.#items) {
      const rings = id === selected ? this.#selectedRings : this.#rings;
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

  /** World matrix of the joint of a body. */
  getJointMatrix(record: BodyRecord): Matrix4 {
    return new Matrix4().fromArray(this.#worldMatrices, 16 * this.#findNode(record));
  }

  /** The handle nearest to a ray, with its place in the world; handles count a little larger than they look. */
  findHandle(ray: Ray): { kind: HandleKind; position: Vector3 } | null {
    let best: { kind: HandleKind; position: Vector3 } | null = null;
    let bestDistance = 1.7;
    for (const [kind, handle] of this.#handles) {
      if (!handle.visible) continue;
      const distance = Math.sqrt(ray.distanceSqToPoint(handle.position)) / handle.scale.x;
      if (distance >= bestDistance) continue;
      bestDistance = distance;
      best = { kind, position: handle.position.clone() };
    }
    return best;
  }

  /** Where a handle of the selected body is in the world; null when it is not shown. */
  getHandlePosition(kind: HandleKind): [number, number, number] | null {
    const handle = this.#handles.get(kind)!;
    return handle.visible ? handle.position.toArray() : null;
  }

  /** The body under a ray, the nearest first. */
  findBody(ray: Ray): RecordId | null {
    const caster = new Raycaster(ray.origin, ray.direction);
    const hits = caster.intersectObjects([...this.#items.values()].map((item) => item.fill));
    return hits.length > 0 ? (hits[0]!.object.userData.id as RecordId) : null;
  }

  dispose(): void {
    for (const [id, item] of this.#items) this.#remove(id, item);
    for (const handle of this.#handles.values()) handle.geometry.dispose();
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
    const { a, b, radiusA, radiusB } = getRoundShape(record.shape);
    const axis = new Vector3(...b).sub(new Vector3(...a));
    const length = axis.length();
    const shape = new Group();
    shape.position.set(...a);
    if (length > 0) shape.quaternion.copy(new Quaternion().setFromUnitVectors(UP, axis.divideScalar(length)));
    const fill = new Mesh(createCapsuleGeometry(length, radiusA, radiusB), this.#fills.open);
    const hiddenFill = new Mesh(fill.geometry, this.#fills.hidden);
    const rings = new LineSegments(createRingGeometry(length, radiusA, radiusB), this.#rings.open);
    const hiddenRings = new LineSegments(rings.geometry, this.#rings.hidden);
    for (const part of [fill, hiddenFill]) part.renderOrder = 5;
    for (const part of [rings, hiddenRings]) part.renderOrder = 6;
    fill.userData.id = record.id;
    shape.add(hiddenFill, fill, hiddenRings, rings);
    const group = new Group();
    group.matrixAutoUpdate = false;
    if (this.#worldMatrices.length > 0) this.#follow(group, record);
    group.add(shape);
    this.group.add(group);
    this.#items.set(record.id, { record, group, fill, rings, hiddenRings });
  }

  #remove(id: RecordId, item: BodyItem): void {
    this.group.remove(item.group);
    item.fill.geometry.dispose();
    item.rings.geometry.dispose();
    this.#items.delete(id);
  }

  #placeHandles(): void {
    const record = this.selected;
    for (const handle of this.#handles.values()) handle.visible = false;
    if (!record || this.#worldMatrices.length === 0) return;
    const joint = this.getJointMatrix(record);
    const round = getRoundShape(record.shape);
    const { ends, radii } = SHAPES[record.shape.kind];
    const a = new Vector3(...round.a).applyMatrix4(joint);
    const b = new Vector3(...round.b).applyMatrix4(joint);
    const scale = new Vector3().setFromMatrixScale(joint).x;
    const axis = b.clone().sub(a);
    const side = new Vector3(0, 0, 1).cross(axis.lengthSq() > 0 ? axis : UP);
    if (side.lengthSq() < 1e-12) side.set(1, 0, 0);
    side.normalize();
    this.#place('a', a);
    this.#place('radiusA', a.clone().addScaledVector(side, round.radiusA * scale));
    if (ends.b) this.#place('b', b);
    if (radii.radiusB) this.#place('radiusB', b.clone().addScaledVector(side, round.radiusB * scale));
  }

  #place(kind: HandleKind, position: Vector3): void {
    const handle = this.#handles.get(kind)!;
    handle.visible = true;
    handle.position.copy(position);
    handle.scale.setScalar(kind.startsWith('radius') ? 0.009 : 0.012);
  }
}
