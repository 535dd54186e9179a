import { expect } from 'chai';
import { PerspectiveCamera, Ray, Vector3 } from 'three';
import { createSheet, createTestCharacter } from '../../core/cloth/test-cloth.ts';
import { createDocument } from '../../core/document/index.ts';
import { computeVertexNormals } from '../../core/mesh/index.ts';
import type { CursorReading } from '../state/cursor-reading.ts';
import { Editor } from '../state/editor.ts';
import { ReachWork } from '../state/reach-work.ts';
import { type Brush, SESSION_START, type Session } from '../state/session.ts';
import { Store } from '../state/store.ts';
import { BrushCursor } from './brush-cursor.ts';
import { GarmentMesh } from './garment-mesh.ts';
import type { OutlineDrawing } from './outline-drawing.ts';
import { PaintTool } from './paint-tool.ts';
import { PointsTool } from './points-tool.ts';
import type { ViewportSource } from './viewport-source.ts';

const SIDE = 20;
const COUNT = (SIDE + 1) ** 2;
const EVENT = { offsetX: 0, offsetY: 0 } as PointerEvent;

/** A sheet a metre square about x = 0 that faces the eye at z = 3, as a page draws and paints it. */
function open(
  position: (u: number, v: number) => [number, number, number] = (u, v) => [u - 0.5, 0.5 - v, 0],
) {
  const { positions, triangles } = createSheet(SIDE, SIDE, position);
  const editor = new Editor(createTestCharacter(positions, triangles), createDocument());
  const garmentId = editor.addGarment(0);
  const session = new Store<Session>({ ...SESSION_START, garmentId });
  const reach = new ReachWork(editor, session);
  const vertexCount = positions.length / 3;
  const garment = new GarmentMesh(editor.character.sections[0]!, {
    id: garmentId,
    side: 0,
    sectionIndex: 0,
    vertexCount,
    pointCount: vertexCount,
    positions: 0,
    normals: 3 * vertexCount,
    targets: 6 * vertexCount,
    renders: [],
  });
  const floats = new Float32Array(10 * vertexCount);
  floats.set(positions);
  floats.set(computeVertexNormals(positions, triangles, new Float32Array(positions.length)), 3 * vertexCount);
  garment.update(floats);
  const readings: (CursorReading | null)[] = [];
  const source = { editor, session, reach } as unknown as ViewportSource;
  const tool = new PaintTool(
    source,
    new BrushCursor(),
    () => garment,
    (reading) => readings.push(reading),
  );
  const setBrush = (update: Partial<Brush>): void =>
    session.set({ brush: { ...session.state.brush, ...update } });
  return { editor, session, reach, garment, source, tool, readings, setBrush };
}

/** From the eye to a place on the plane z = 0. */
function rayTo(x: number, y: number): Ray {
  const origin = new Vector3(0, 0, 3);
  return new Ray(origin, new Vector3(x, y, 0).sub(origin).normalize());
}

const columnOf = (point: number): number => point % (SIDE + 1);
const rowOf = (point: number): number => Math.floor(point / (SIDE + 1));

describe('the painting tool', () => {
  it('paints under the cursor, one drag one step, and leaves a drag beside the garment to the camera', () => {
    const { editor, reach, tool } = open();
    expect(tool.press(rayTo(2, 0))).equal(false);
    expect(tool.press(rayTo(0, 0))).equal(true);
    tool.move(rayTo(0.1, 0), EVENT, true);
    tool.release();
    const { values } = reach.painted!;
    expect(values[10 * 21 + 10]).above(0.1);
    expect(values[2 * 21 + 2]).equal(0);
    expect(editor.undoLabel).equal('Paint max distance');
    editor.undo();
    expect(reach.painted!.values.every((value) => value === 0)).equal(true);
  });

  it('leaves no gaps in a fast stroke', () => {
    const { reach, tool, setBrush } = open();
    setBrush({ radius: 0.06, strength: 1, falloff: 'flat' });
    tool.press(rayTo(-0.42, 0));
    tool.move(rayTo(0.42, 0), EVENT, true);
    tool.release();
    const { values } = reach.painted!;
    for (let c = 2; c <= SIDE - 2; c++) expect(values[10 * 21 + c], `column ${c}`).closeTo(0.2, 1e-6);
  });

  it('paints the other side, too, in whatever pose', () => {
    const { reach, garment, tool, setBrush } = open();
    setBrush({ mirrors: true, radius: 0.1, strength: 1, falloff: 'flat' });
    // The left half swung to the front.
    for (let p = 0; p < COUNT; p++) if (columnOf(p) > 10) garment.pointPositions[3 * p + 2] = 0.4;
    tool.press(rayTo(-0.3, 0.1));
    tool.release();
    const painted = [...reach.painted!.values.keys()].filter((p) => reach.painted!.values[p] !== 0);
    const left = painted.filter((p) => columnOf(p) < 10).map((p) => 21 * rowOf(p) + 20 - columnOf(p));
    const right = painted.filter((p) => columnOf(p) > 10);
    expect(left.length).above(8);
    expect([...left].sort((p, q) => p - q)).deep.equal(right);
  });

  it('keeps to picked points, smooths while a key is held, and takes a value from the mesh', () => {
    const { session, reach, tool, setBrush } = open();
    setBrush({ radius: 0.2, strength: 1, falloff: 'flat' });
    reach.pick(Array.from({ length: COUNT }, (_, p) => p).filter((p) => columnOf(p) === 10));
    tool.press(rayTo(0, 0));
    tool.release();
    const { values } = reach.painted!;
    expect([...values.keys()].filter((p) => values[p] !== 0).every((p) => columnOf(p) === 10)).equal(true);
    reach.setPoints('mask', null);
    reach.store.set({ isSmoothing: true });
    tool.press(rayTo(0.02, 0));
    tool.release();
    expect(values[10 * 21 + 10]).within(0.01, 0.15);
    expect(values[10 * 21 + 11]).above(0.01);
    tool.move(rayTo(0, 0), EVENT, false);
    expect(tool.pickValue()).equal(values[10 * 21 + 10]);
    expect(session.state.brush.values.maxDistance).equal(values[10 * 21 + 10]);
    tool.move(rayTo(3, 0), EVENT, false);
    expect(tool.pickValue()).equal(null);
  });

  it('makes the map of a channel with its first stroke, and reads its default before', () => {
    const { editor, reach, tool, readings } = open();
    reach.choose('stiffness');
    tool.move(rayTo(0, 0), EVENT, false);
    expect(readings.at(-1)!.value).equal(1);
    tool.press(rayTo(0, 0));
    tool.release();
    expect(Math.max(...reach.painted!.values)).within(1.2, 2);
    editor.undo();
    expect(reach.painted).equal(null);
    tool.leave();
    expect(readings.at(-1)).equal(null);
  });
});

describe('the tool that picks points', () => {
  /** With an outline that the test draws itself. */
  function openPicking(position?: Parameters<typeof open>[0]) {
    const opened = open(position);
    const camera = new PerspectiveCamera(26, 1, 0.05, 60);
    camera.position.set(0, 0, 3);
    camera.updateMatrixWorld();
    let outline: number[] = [];
    const drawing = {
      size: [400, 400],
      begin: () => {},
      extend: () => {},
      end: () => outline.splice(0),
    } as unknown as OutlineDrawing;
    const tool = new PointsTool(opened.source, new BrushCursor(), camera, drawing, () => opened.garment);
    const toPixel = (x: number, y: number): [number, number] => {
      const at = new Vector3(x, y, 0).project(camera);
      return [200 * (1 + at.x), 200 * (1 - at.y)];
    };
    return {
      ...opened,
      tool,
      set: (update: Partial<ReachWork['store']['state']['pick']>) =>
        opened.reach.store.set({ tab: 'points', pick: { ...opened.reach.store.state.pick, ...update } }),
      lasso: (left: number, bottom: number, right: number, top: number): void => {
        outline = [
          toPixel(left, bottom),
          toPixel(right, bottom),
          toPixel(right, top),
          toPixel(left, top),
        ].flat();
        tool.press(rayTo(0, 0), EVENT);
        tool.release();
      },
      picked: (): number[] => [...(opened.reach.mask ?? []).keys()].filter((p) => opened.reach.mask![p]),
    };
  }

  it('takes a whole border with a click beside it, and a row of edges with one farther in', () => {
    const { tool, set, picked, reach } = openPicking();
    set({ tool: 'loop' });
    tool.press(rayTo(0.1, 0.485), EVENT);
    expect(picked().length).equal(4 * SIDE);
    reach.setPoints('mask', null);
    tool.press(rayTo(0.02, 0.001), EVENT);
    expect(new Set(picked().map(rowOf)).size).equal(1);
    expect(picked().length).equal(SIDE + 1);
    expect(tool.press(rayTo(2, 2), EVENT)).equal(false);
  });

  it('brushes along the cloth, and takes off again', () => {
    const { tool, set, picked } = openPicking();
    set({ tool: 'brush', radius: 0.12 });
    tool.press(rayTo(0, 0), EVENT);
    const first = picked().length;
    expect(first).within(8, 25);
    tool.move(rayTo(0.2, 0), EVENT, true);
    expect(picked().length).above(1.5 * first);
    set({ isErasing: true });
    tool.move(rayTo(0, 0), EVENT, true);
    expect(picked().length).below(1.6 * first);
  });

  it('takes what an outline encloses, and what lies behind only when told to', () => {
    // Folded over: the lower half lies behind the upper.
    const folded = openPicking((u, v) => [u - 0.5, 0.5 - 2 * Math.min(v, 1 - v), v > 0.5 ? -0.05 : 0]);
    folded.set({ tool: 'lasso', isThrough: false });
    folded.lasso(-0.22, -0.22, 0.22, 0.22);
    const seen = folded.picked();
    expect(seen.length).above(20);
    expect(seen.every((p) => rowOf(p) <= 10)).equal(true);
    folded.set({ tool: 'lasso', isThrough: true });
    folded.lasso(-0.22, -0.22, 0.22, 0.22);
    expect(folded.picked().length).within(1.8 * seen.length, 2.2 * seen.length);
  });
});
