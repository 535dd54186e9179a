import { expect } from 'chai';
import { PerspectiveCamera, Ray, Vector3 } from 'three';
import type { BodyShape, RoundShape } from '../../core/bodies/index.ts';
import { BODY_DEFAULTS, type BodyRecord, type RecordId } from '../../core/document/index.ts';
import { BodiesView } from './bodies-view.ts';
import { BodyTool } from './body-tool.ts';
import type { ViewportSource } from './viewport-source.ts';

const capsule: RoundShape = { kind: 'capsule', a: [0, 0, 0], b: [0, 0.4, 0], radiusA: 0.05, radiusB: 0.05 };

/** A body on a joint that stands at x = 1, seen from 3 m before it; another joint at (1.2, 0.5). */
function createScene(shape: BodyShape) {
  const body: BodyRecord = {
    type: 'body',
    id: 'b' as RecordId,
    bodySetId: 'set' as RecordId,
    name: 'arm',
    jointName: 'arm',
    shape,
    ...BODY_DEFAULTS,
  };
  const view = new BodiesView();
  const matrices = new Float32Array(32);
  matrices.set([1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 1, 0, 0, 1], 0);
  matrices.set([1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 1.2, 0.5, 0, 1], 16);
  view.setJoints(['arm', 'hand']);
  view.update(matrices);
  view.setBodies([body], [body.id]);
  const camera = new PerspectiveCamera();
  camera.position.set(1, 0, 3);
  camera.updateMatrixWorld();
  let strokes = 0;
  let changed: BodyShape | null = null;
  const source = {
    session: { state: { bodyIds: [body.id] }, set: () => {} },
    editor: {
      beginStroke: () => strokes++,
      endStroke: () => strokes--,
      updateRecord: (_label: string, _body: BodyRecord, { shape: next }: { shape: BodyShape }) => {
        changed = next;
      },
    },
  } as unknown as ViewportSource;
  const tool = new BodyTool(source, view, camera);
  const rayTo = (x: number, y: number): Ray =>
    new Ray(camera.position.clone(), new Vector3(x, y, 0).sub(camera.position).normalize());
  return {
    view,
    drag(
      from: readonly [number, number],
      to: readonly [number, number],
      keys: { shiftKey?: boolean; ctrlKey?: boolean } = {},
    ): BodyShape {
      const event = { shiftKey: false, ctrlKey: false, ...keys } as PointerEvent;
      expect(tool.press(rayTo(...from), event)).equal(true);
      expect(strokes).equal(1);
      tool.move(rayTo(...to), event, true);
      tool.release();
      expect(strokes).equal(0);
      return changed!;
    },
  };
}

const round = (place: readonly number[]): number[] => place.map((value) => Number(value.toFixed(4)) + 0);

describe('bodies moved by their handles', () => {
  it('follow the pointer in the plane of the screen', () => {
    const moved = createScene(capsule).drag([1, 0.4], [1.1, 0.6]) as RoundShape;
    expect(round(moved.b)).deep.equal([0.1, 0.6, 0]);
    expect(moved.a).deep.equal([0, 0, 0]);
    const whole = createScene(capsule).drag([1, 0.2], [0.9, 0.2]) as RoundShape;
    expect([round(whole.a), round(whole.b)]).deep.equal([
      [-0.1, 0, 0],
      [-0.1, 0.4, 0],
    ]);
  });

  it('stay on their own axis with Shift, and go to the joint under the pointer with Control', () => {
    const along = createScene(capsule).drag([1, 0.4], [1.3, 0.7], { shiftKey: true }) as RoundShape;
    expect(round(along.b)).deep.equal([0, 0.7, 0]);
    const snapped = createScene(capsule).drag([1, 0.4], [1.21, 0.49], { ctrlKey: true }) as RoundShape;
    expect(round(snapped.b)).deep.equal([0.2, 0.5, 0]);
    const free = createScene(capsule).drag([1, 0.4], [1.5, 0.1], { ctrlKey: true }) as RoundShape;
    expect(round(free.b)).deep.equal([0.5, 0.1, 0]);
  });

  it('are turned from where they were taken hold of, not over again with each move', () => {
    const box: BodyShape = {
      kind: 'box',
      centre: [0, 0, 0],
      rotation: [0, 0, 0, 1],
      halfSize: [0.1, 0.2, 0.1],
    };
    const scene = createScene(box);
    const knob = scene.view.getHandlePosition('turnY')!;
    expect(round(knob)).deep.equal([1, 0.32, 0]);
    const turned = scene.drag([1, 0.32], [1.32, 0]);
    // Y to X: a quarter turn about -Z.
    expect(turned.kind === 'box' && round(turned.rotation)).deep.equal([
      0,
      0,
      round([-Math.SQRT1_2])[0],
      round([Math.SQRT1_2])[0],
    ]);
  });

  it('are as large, and as easily taken hold of, as the figure asks', () => {
    const { view } = createScene(capsule);
    /** How far beside the upper end of the capsule a ray still meets its handle, m. */
    const reach = (): number => {
      let most = 0;
      for (let aside = 0; aside < 0.4; aside += 0.0005) {
        const ray = new Ray(new Vector3(1 + aside, 0.4, 3), new Vector3(0, 0, -1));
        if (view.findHandle(ray)) most = aside;
      }
      return most;
    };
    const usual = reach();
    expect(usual).within(0.01, 0.03);
    view.setScale(10);
    expect(reach() / usual).closeTo(10, 0.5);
    view.setScale(0.1);
    expect(reach() / usual).closeTo(0.1, 0.05);
  });
});
