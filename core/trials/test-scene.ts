import { createSheet, createTestCharacter } from '../cloth/test-cloth.ts';
import {
  type AuthoredDocument,
  createDocument,
  createGarment,
  insertGarment,
  type RecordId,
} from '../document/index.ts';
import { type RunSetup, setUpRun } from '../run/index.ts';
import { runTrial } from './run-trial.ts';
import type { TrialFrame } from './trial-frame.ts';

export interface SceneOptions {
  /** A body stands for the ball. */
  hasBody?: boolean;
  /** Another sheet is drawn in place of the simulated one, so many metres nearer to the ball. */
  nearer?: number;
  /** Where the ball's middle is in bind pose, at the start and in the middle of the clip, m along z. */
  bind?: number;
  from?: number;
  to?: number;
  /** Of the cloth, 1/s. */
  damping?: number;
  /** The sheet is lifted by the clip, which does not come back. */
  isOpen?: boolean;
}

export interface Scene {
  document: AuthoredDocument;
  setup: RunSetup;
  frames: TrialFrame[];
}

/** A ball of 12 cm that a clip moves through a sheet and back; the sheet faces +z, hangs at z = 0 by its upper edge, and has the trial of it. */
export function createScene({
  hasBody = false,
  nearer,
  bind = 0,
  from = -0.3,
  to = 0.05,
  damping,
  isOpen = false,
}: SceneOptions): Scene {
  const sheet = createSheet(12, 12, (u, v) => [0.6 * u - 0.3, 0.3 - 0.6 * v, 0]);
  const character = createTestCharacter(sheet.positions, sheet.triangles);
  const ball = createTestCharacter(...createBall(0.12));
  character.skeleton = {
    names: ['root', 'ball'],
    parents: Int32Array.of(-1, 0),
    translations: Float64Array.of(0, 0, 0, 0, 0, bind),
    rotations: Float64Array.of(0, 0, 0, 1, 0, 0, 0, 1),
    scales: new Float64Array(6).fill(1),
  };
  character.skins.push({ ...ball.skins[0]!, joints: Uint32Array.of(1) });
  character.sections.push({ ...ball.sections[0]!, name: 'ball', node: 1, skin: 1, meshIndex: 1 });
  character.clips.push({
    name: 'push',
    duration: 1,
    tracks: [
      {
        node: 1,
        path: 'translation',
        interpolation: 'LINEAR',
        times: Float32Array.of(0, 0.5, 1),
        values: Float32Array.of(0, 0, from, 0, 0, to, 0, 0, from),
      },
    ],
  });
  if (isOpen) {
    character.clips[0]!.tracks.push({
      node: 0,
      path: 'translation',
      interpolation: 'LINEAR',
      times: Float32Array.of(0, 1),
      values: Float32Array.of(0, 0, 0, 0, 1, 0),
    });
  }
  const document = createDocument();
  let count = 0;
  const made = createGarment(character, document, 0, () => `id-${++count}` as RecordId);
  if (nearer !== undefined) {
    const drawn = character.sections[0]!;
    const positions = drawn.positions.map((value, i) => (i % 3 === 2 ? value - nearer : value));
    character.sections.push({ ...drawn, name: 'drawn', positions, meshIndex: 2 });
    made.garment.renders = [{ sectionIndex: 2, sectionName: 'drawn' }];
  }
  if (damping !== undefined) made.fabric.settings = { ...made.fabric.settings, damping };
  insertGarment(
    document,
    made,
    Float32Array.from(made.maxDistances, (_, p) => (p < 13 ? 0 : 0.5)),
  );
  if (hasBody) {
    const id = 'ball' as RecordId;
    const shape = {
      kind: 'sphere',
      node: 1,
      a: [0, 0, 0],
      b: [0, 0, 0],
      radiusA: 0.125,
      radiusB: 0.125,
    } as const;
    document.records.set(id, {
      type: 'body',
      id,
      bodySetId: made.bodySet!.id,
      name: 'ball',
      jointName: 'ball',
      shape: { ...shape, a: [0, 0, 0], b: [0, 0, 0] },
      margin: 0,
      group: 1,
    });
  }
  const setup = setUpRun(document, character);
  return { document, setup, frames: [...runTrial(setup, { motion: { kind: 'clip', clip: 0 } })] };
}

/** A closed ball of triangles about the origin. */
export function createBall(radius: number): [Float32Array, Uint32Array] {
  const sheet = createSheet(24, 12, (u, v) => {
    const [angle, height] = [2 * Math.PI * u, Math.PI * v];
    const ring = radius * Math.sin(height);
    // The seam and the poles are one place each, so that the ball is closed when welded.
    const around = u === 1 ? 0 : angle;
    return v === 0 || v === 1
      ? [0, radius * Math.cos(height), 0]
      : [ring * Math.cos(around), radius * Math.cos(height), -ring * Math.sin(around)];
  });
  return [sheet.positions, sheet.triangles];
}
