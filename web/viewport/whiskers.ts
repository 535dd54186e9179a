import {
  BufferAttribute,
  BufferGeometry,
  Color,
  DynamicDrawUsage,
  LineBasicMaterial,
  LineSegments,
} from 'three';
import { GROUND_COLORS } from './ground-colors.ts';
import { ScreenSpacing, type ScreenView } from './screen-spacing.ts';

/** As near as lines of one picture element can stand and still be told apart, CSS pixels. */
const SPACING = 8;
/** Up to this share of the legend the map is dark: light lines are seen on it, dark ones above. */
const DARK_SHARE = 0.6;
/** Facing the eye at least so much, a line is seen over the map; otherwise over the ground behind it. */
const OVER_MAP = 0.35;
const [LIGHT, DARK] = [new Color('#FBF8F0'), new Color('#23262D')];
const [LIGHT_OPACITY, DARK_OPACITY] = [0.5, 0.38];

/** What stands at one moment: skinned places [p, 4], normals of the cloth [p, 3], and how far each point may go, m. */
export interface WhiskerState {
  targets: Float32Array;
  normals: Float32Array;
  maxDistances: Float32Array;
  legendTop: number;
}

/** Thin lines from the skinned place outward, as long as the point may go. */
export class Whiskers {
  readonly lines: LineSegments<BufferGeometry, LineBasicMaterial>;
  readonly #spacing = new ScreenSpacing(SPACING);

  constructor(pointCount: number) {
    const geometry = new BufferGeometry();
    const moving = (size: number): BufferAttribute =>
      new BufferAttribute(new Float32Array(2 * size * pointCount), size).setUsage(
        DynamicDrawUsage,
      ) as BufferAttribute;
    geometry.setAttribute('position', moving(3));
    geometry.setAttribute('color', moving(4));
    geometry.setDrawRange(0, 0);
    this.lines = new LineSegments(
      geometry,
      new LineBasicMaterial({ vertexColors: true, transparent: true, depthWrite: false }),
    );
    this.lines.frustumCulled = false;
    this.lines.visible = false;
  }

  /** Which points may go anywhere. @param maxDistances - m, [p]. */
  setMaxDistances(maxDistances: Float32Array): void {
    const free: number[] = [];
    for (let p = 0; p < maxDistances.length; p++) if (maxDistances[p]! > 0) free.push(p);
    this.#spacing.setCandidates(free, maxDistances.length);
  }

  /** @returns How many are drawn. */
  update(state: WhiskerState, view: ScreenView): number {
    const { targets, normals, maxDistances, legendTop } = state;
    const points = this.#spacing.choose(targets, normals, view, 4);
    const { position, color } = this.lines.geometry.attributes as Record<string, BufferAttribute>;
    const positions = position!.array as Float32Array;
    const colors = color!.array as Float32Array;
    for (let i = 0; i < points.length; i++) {
      const p = points[i]!;
      const length = maxDistances[p]!;
      let facing = 0;
      let away = 0;
      for (let k = 0; k < 3; k++) {
        const from = targets[4 * p + k]!;
        positions[6 * i + k] = from;
        positions[6 * i + 3 + k] = from + length * normals[3 * p + k]!;
        facing += (view.eye[k]! - from) * normals[3 * p + k]!;
        away += (view.eye[k]! - from) ** 2;
      }
      const isOverMap = facing > OVER_MAP * Math.sqrt(away);
      const isLight = isOverMap && length < DARK_SHARE * legendTop;
      const { r, g, b } = isLight ? LIGHT : isOverMap ? DARK : GROUND_COLORS.ink;
      for (const end of [8 * i, 8 * i + 4])
        colors.set([r, g, b, isLight ? LIGHT_OPACITY : DARK_OPACITY], end);
    }
    this.lines.geometry.setDrawRange(0, 2 * points.length);
    position!.needsUpdate = true;
    color!.needsUpdate = true;
    return points.length;
  }

  dispose(): void {
    this.lines.removeFromParent();
    this.lines.geometry.dispose();
    this.lines.material.dispose();
  }
}
