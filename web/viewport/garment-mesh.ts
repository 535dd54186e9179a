import {
  type BufferAttribute,
  type BufferGeometry,
  type LineBasicMaterial,
  type LineSegments,
  Mesh,
} from 'three';
import type { RecordId } from '../../core/document/index.ts';
import { boundPlaces, measureDiagonal } from '../../core/math/index.ts';
import {
  buildEdgeTable,
  buildNeighbours,
  type Neighbours,
  weldPoints,
  weldTriangles,
} from '../../core/mesh/index.ts';
import type { Section } from '../../core/rig/index.ts';
import type { Visibility } from '../state/session.ts';
import type { FrameLayout } from '../workers/preview-protocol.ts';
import { GarmentMaterial } from './body-material.ts';
import { GlyphPoints } from './glyph-points.ts';
import {
  createMoving,
  createMovingGeometry,
  createWire,
  describeMaterial,
  disposeDrawn,
  setSeeThrough,
  takeVertices,
} from './lit-mesh.ts';
import { ScreenSpacing, type ScreenView } from './screen-spacing.ts';
import { SimWire } from './sim-wire.ts';
import { Whiskers } from './whiskers.ts';

/** How values of a map are read as colours. */
export interface Colouring {
  /** At the top of the legend. */
  legendTop: number;
  /** What is shown is the difference to another map: from minus the top to the top. */
  isDifference: boolean;
  /** Lines at these values. */
  contours: readonly number[];
}

export interface GarmentView extends Colouring {
  visibility: Visibility;
  showTriangles: boolean;
  showReach: boolean;
  showWhiskers: boolean;
  isSelected: boolean;
  /** False when other sections are drawn in its place: it can be pointed at all the same. */
  isDrawn: boolean;
  /** Its triangles as the sim mesh's. */
  showSimMesh: boolean;
}

/** Squares of held points keep this far apart, CSS pixels: nearer than 10 they look like beads, and each is lifted its own way. */
const HELD_SPACING = 11;

/** A simulated garment: its render vertices come from the live run, frame by frame. */
export class GarmentMesh {
  readonly mesh: Mesh<BufferGeometry, GarmentMaterial>;
  readonly garmentId: RecordId;
  readonly sectionIndex: number;
  readonly pointOfVertex: Uint32Array;
  readonly vertexOfPoint: Uint32Array;
  readonly neighbours: Neighbours;
  readonly pointCount: number;
  /** Places and normals of the points as drawn now, [p, 3]. */
  readonly pointPositions: Float32Array;
  readonly pointNormals: Float32Array;
  readonly section: Section;
  /** From corner to corner in bind pose, m. */
  readonly size: number;
  #layout: FrameLayout['garments'][number];
  readonly #wire: LineSegments<BufferGeometry, LineBasicMaterial>;
  readonly #whiskers: Whiskers;
  readonly #held: GlyphPoints;
  readonly #heldSpacing = new ScreenSpacing(HELD_SPACING);
  readonly #simWire: SimWire;
  /** Skinned places of the points in the newest frame, [p, 4]. */
  readonly #targets: Float32Array;
  #maxDistances: Float32Array;
  #legendTop = 1;

  constructor(section: Section, layout: FrameLayout['garments'][number]) {
    this.section = section;
    this.size = measureDiagonal(boundPlaces(section.positions));
    this.#layout = layout;
    this.garmentId = layout.id;
    this.sectionIndex = layout.sectionIndex;
    const { pointOfVertex, vertexOfPoint, pointCount } = weldPoints(section.positions);
    this.pointOfVertex = pointOfVertex;
    this.vertexOfPoint = vertexOfPoint;
    this.pointCount = pointCount;
    this.pointPositions = new Float32Array(3 * pointCount);
    this.pointNormals = new Float32Array(3 * pointCount);
    this.#targets = new Float32Array(4 * pointCount);
    this.#maxDistances = new Float32Array(pointCount);
    const edges = buildEdgeTable(weldTriangles(section.triangles, pointOfVertex), pointCount);
    this.neighbours = buildNeighbours(edges, pointCount);
    const geometry = createMovingGeometry(section);
    geometry.setAttribute('reach', createMoving(new Float32Array(section.positions.length / 3), 1));
    this.mesh = new Mesh(geometry, new GarmentMaterial(describeMaterial(section)));
    this.mesh.frustumCulled = false;
    this.#wire = createWire(
      geometry,
      edges.edges.map((point) => vertexOfPoint[point]!),
      0.45,
    );
    this.#whiskers = new Whiskers(pointCount);
    this.#held = new GlyphPoints('square', pointCount, this.size);
    this.#simWire = new SimWire(edges.edges);
    this.mesh.add(this.#wire, this.#whiskers.lines, this.#held.points, this.#simWire.lines);
  }

  /** Whether a layout is of the same garment on the same mesh: then only its places in the frame may be others. */
  fits(section: Section, { id, vertexCount }: FrameLayout['garments'][number]): boolean {
    return this.section === section && this.garmentId === id && 3 * vertexCount === section.positions.length;
  }

  /** Finds its numbers elsewhere in the frames from now on. */
  takeLayout(layout: FrameLayout['garments'][number]): void {
    this.#layout = layout;
  }

  /** Takes over a frame. @param floats - Of the whole frame. */
  update(floats: Float32Array): void {
    const { positions, normals } = this.#layout;
    takeVertices(this.mesh.geometry, floats, this.#layout);
    for (let p = 0; p < this.pointCount; p++) {
      const v = 3 * this.vertexOfPoint[p]!;
      for (let k = 0; k < 3; k++) {
        this.pointPositions[3 * p + k] = floats[positions + v + k]!;
        this.pointNormals[3 * p + k] = floats[normals + v + k]!;
      }
    }
    this.#targets.set(this.getTargets(floats));
    if (this.#simWire.lines.visible) this.#simWire.update(this.pointPositions, this.pointNormals);
  }

  /** Skinned places of the points in a frame, [p, 4]. @param floats - Of the whole frame. */
  getTargets(floats: Float32Array): Float32Array {
    return floats.subarray(this.#layout.targets, this.#layout.targets + 4 * this.pointCount);
  }

  /** Values that the surface is coloured by, [p]; one for all points without a map. */
  setShownValues(values: Float32Array | number): void {
    const reach = this.mesh.geometry.attributes.reach as BufferAttribute;
    const array = reach.array as Float32Array;
    if (typeof values === 'number') array.fill(values);
    else for (let v = 0; v < array.length; v++) array[v] = values[this.pointOfVertex[v]!]!;
    reach.needsUpdate = true;
  }

  /** New values of the max distance, [p]: whiskers are as long, and 0 is marked as held. */
  setMaxDistances(values: Float32Array): void {
    this.#maxDistances = values;
    const held: number[] = [];
    for (let p = 0; p < values.length; p++) if (values[p] === 0) held.push(p);
    this.#heldSpacing.setCandidates(held, this.pointCount);
    this.#whiskers.setMaxDistances(values);
  }

  /** Spreads what stands over the surface so that it can be told apart on the screen: before each drawing. */
  spreadMarks(view: ScreenView): void {
    if (this.#held.points.visible) {
      this.#held.show(this.#heldSpacing.choose(this.pointPositions, this.pointNormals, view));
      this.#held.update(this.pointPositions, this.pointNormals, view.eye);
    }
    if (!this.#whiskers.lines.visible) return;
    this.#whiskers.update(
      {
        targets: this.#targets,
        normals: this.pointNormals,
        maxDistances: this.#maxDistances,
        legendTop: this.#legendTop,
      },
      view,
    );
  }

  setView(view: GarmentView): void {
    const { material } = this.mesh;
    this.mesh.visible = view.visibility !== 'hidden';
    setSeeThrough(material, view.visibility === 'ghost');
    const showReach = view.showReach && view.isSelected;
    material.reach.reachShown.value = showReach ? 1 : 0;
    this.setColouring(showReach ? view : { ...view, contours: [] });
    // Without a surface: lines, and what points at it, stay.
    material.visible = view.isDrawn;
    this.#wire.visible = view.showTriangles && view.isDrawn;
    const hadSimWire = this.#simWire.lines.visible;
    this.#simWire.lines.visible = view.showSimMesh;
    if (view.showSimMesh && !hadSimWire) this.#simWire.update(this.pointPositions, this.pointNormals);
    this.#whiskers.lines.visible = showReach && view.showWhiskers;
    this.#held.points.visible = showReach;
  }

  /** How its values are read as colours. */
  setColouring({ legendTop, isDifference, contours }: Colouring): void {
    const { material } = this.mesh;
    this.#legendTop = legendTop;
    material.reach.reachTop.value = legendTop;
    material.reach.reachDiffers.value = isDifference ? 1 : 0;
    material.setContours(contours);
  }

  dispose(): void {
    this.#simWire.dispose();
    disposeDrawn(this.mesh, this.#wire);
    this.#held.dispose();
    this.#whiskers.dispose();
  }
}
