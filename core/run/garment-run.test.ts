import { expect } from 'chai';
import type { CollisionShape } from '../bodies/index.ts';
import { compileGarment, FABRIC_DEFAULTS, type FabricSettings } from '../cloth/index.ts';
import { createSheet, createTestCharacter } from '../cloth/test-cloth.ts';
import type { RecordId } from '../document/index.ts';
import type { WeldedIndex } from '../mesh/index.ts';
import type { Character, Track } from '../rig/index.ts';
import { createBodyMesh } from './body-mesh.ts';
import { CharacterRun } from './character-run.ts';
import type { GarmentSetup } from './garment-setup.ts';

const BALL: CollisionShape = {
  kind: 'sphere',
  node: 0,
  a: [0.25, 0.6, 0.1],
  b: [0, 0, 0],
  radiusA: 0.15,
  radiusB: 0.15,
};

function createFlag(): Character {
  const sheet = createSheet(6, 6, (u, v) => [0.5 * u, 1 - 0.5 * v, 0]);
  return createTestCharacter(sheet.positions, sheet.triangles);
}

function addTrack(character: Character, path: Track['path'], times: number[], values: number[]): void {
  character.clips.push({
    name: `clip ${character.clips.length}`,
    duration: times[times.length - 1]!,
    tracks: [
      {
        node: 0,
        path,
        interpolation: 'LINEAR',
        times: Float32Array.from(times),
        values: Float32Array.from(values),
      },
    ],
  });
}

function setUp(character: Character, settings: Partial<GarmentSetup> = {}, section = 0): GarmentSetup {
  const compiled = compileGarment(character, section);
  const { restPositions } = compiled;
  const maxDistances = new Float32Array(compiled.pointCount);
  compiled.weldedOfPoint.forEach((welded, i) => {
    maxDistances[welded] = restPositions[4 * i + 1]! > 0.999 ? 0 : 1;
  });
  return {
    id: `g${section}` as RecordId,
    name: 'flag',
    compiled,
    fabric: FABRIC_DEFAULTS,
    maxDistances,
    bodies: [],
    blend: 1,
    ...settings,
  };
}

function setFabric(run: CharacterRun, change: Partial<FabricSettings>): void {
  const { solver } = run.garments[0]!;
  solver.setFabric({ ...solver.fabric, ...change });
}

/** Mean of a coordinate over the points. */
function mean(run: CharacterRun, axis: number, rows = run.garments[0]!.solver.positions): number {
  const { pointCount } = run.garments[0]!.setup.compiled;
  let sum = 0;
  for (let i = 0; i < pointCount; i++) sum += rows[4 * i + axis]!;
  return sum / pointCount;
}

function drift(run: CharacterRun): number {
  const { solver, targets } = run.garments[0]!;
  let most = 0;
  for (let i = 0; i < targets.length; i++)
    most = Math.max(most, Math.abs(solver.positions[i]! - targets[i]!));
  return most;
}

describe('a garment in a run', () => {
  it('feels only the bodies of its collision groups', () => {
    const push = (groups: number | undefined, garment: number | undefined): number => {
      const character = createFlag();
      const body = groups === undefined ? BALL : { ...BALL, groups };
      const run = new CharacterRun(character, [
        setUp(character, { bodies: [body], ...(garment !== undefined && { groups: garment }) }),
      ]);
      for (let i = 0; i < 60; i++) run.step();
      return Math.abs(mean(run, 2));
    };
    expect(push(undefined, undefined)).above(0.006);
    expect(push(2, undefined)).below(1e-3);
    expect(push(2, 2)).above(0.006);
    expect(push(6, 4)).above(0.006);
  });

  it('feels as much of the root’s moves and turns as its fabric says', () => {
    const swing = (rootMotionShare: number, rootTurnShare: number, clip: number): number => {
      const character = createFlag();
      addTrack(character, 'translation', [0, 0.3, 0.6], [0, 0, 0, 0, 0, 0.5, 0, 0, 0]);
      const turn = Math.sin(0.4);
      addTrack(character, 'rotation', [0, 0.3, 0.6], [0, 0, 0, 1, 0, turn, 0, Math.cos(0.4), 0, 0, 0, 1]);
      const run = new CharacterRun(character, [setUp(character)]);
      setFabric(run, { rootMotionShare, rootTurnShare, airDrag: 0, airLift: 0 });
      run.play(clip);
      let most = 0;
      for (let i = 0; i < 36; i++) {
        run.step();
        most = Math.max(most, drift(run));
      }
      return most;
    };
    for (const clip of [0, 1]) {
      const whole = swing(1, 1, clip);
      const half = swing(0.5, 0.5, clip);
      expect(whole).above(0.05);
      expect(half).within(0.2 * whole, 0.8 * whole);
      expect(swing(0, 0, clip)).below(0.2 * whole);
    }
  });

  it('follows a teleport of the root, turned with it', () => {
    const character = createFlag();
    addTrack(
      character,
      'translation',
      [0, 0.5, 0.501, 0.9, 0.901, 1],
      [0, 0, 0, 0, 0, 0, 7, 0, 3, 7, 0, 3, 0, 0, 0, 0, 0, 0],
    );
    const run = new CharacterRun(character, [setUp(character)]);
    run.play(0);
    for (let i = 0; i < 29; i++) run.step();
    const before = drift(run);
    for (let i = 0; i < 4; i++) {
      run.step();
      expect(drift(run)).below(before + 0.01);
    }
    expect(run.garments[0]!.targets[0]).above(6);
  });

  it('goes from one clip to the next without a jump', () => {
    const character = createFlag();
    addTrack(character, 'translation', [0, 1], [0, 0, 0, 0, 0, 0]);
    addTrack(character, 'translation', [0, 1], [0, 0.4, 0, 0, 0.4, 0]);
    const run = new CharacterRun(character, [setUp(character)]);
    run.play(0);
    for (let i = 0; i < 10; i++) run.step();
    run.blendTo(1, 0.5);
    let before = run.pose.worldMatrices[13]!;
    for (let i = 0; i < 40; i++) {
      run.step();
      const now = run.pose.worldMatrices[13]!;
      expect(now - before).within(-1e-6, 0.4 / 29);
      before = now;
    }
    expect(before).closeTo(0.4, 1e-6);
    expect(run.clip).equal(1);
    expect(() => run.blendTo(9, 1)).throw(RangeError);
  });

  it('is shown between skinned and simulated', () => {
    const character = createFlag();
    const run = new CharacterRun(character, [setUp(character)]);
    run.wind = { windSpeed: 8, windDirection: 0, windGusts: 0, windTurbulence: 0 };
    for (let i = 0; i < 60; i++) run.step();
    const simulated = mean(run, 2);
    expect(simulated).above(0.05);
    for (const blend of [0.25, 0.5, 1]) {
      run.setBlend('g0' as RecordId, blend);
      expect(mean(run, 2, run.garments[0]!.shown)).closeTo(blend * simulated, 1e-6);
    }
    // Skinned alone is not simulated at all, and goes on from there.
    run.setBlend('g0' as RecordId, 0);
    run.step();
    expect(run.garments[0]!.shown.slice(0, 196)).deep.equal(run.garments[0]!.targets);
    run.setBlend('g0' as RecordId, 1);
    run.step();
    expect(Math.abs(mean(run, 2))).below(0.05);
  });

  it('comes along when it is gripped, in the shape that it had', () => {
    const character = createFlag();
    const run = new CharacterRun(character, [setUp(character)]);
    for (let i = 0; i < 30; i++) run.step();
    const garment = run.garments[0]!;
    garment.takeGrip(45 as WeldedIndex);
    const o = 4 * garment.setup.compiled.pointOfVertex[45]!;
    const from = [...garment.solver.positions.subarray(o, o + 3)] as [number, number, number];
    garment.moveGrip([from[0], from[1] + 0.05, from[2] + 0.2]);
    for (let i = 0; i < 40; i++) run.step();
    expect(garment.solver.positions[o + 2]! - from[2]).closeTo(0.2, 0.03);
    garment.moveGrip(null);
    for (let i = 0; i < 120; i++) run.step();
    expect(Math.abs(garment.solver.positions[o + 2]! - from[2])).below(0.08);
  });

  it('stays outside the garment beneath and a reduced body mesh', () => {
    const inner = createSheet(8, 8, (u, v) => [0.5 * u, 1 - 0.5 * v, 0.02]);
    const outer = createSheet(10, 10, (u, v) => [0.1 + 0.3 * u, 0.995 - 0.4 * v, 0.03]);
    const character = createTestCharacter(inner.positions, inner.triangles);
    const second = createTestCharacter(outer.positions, outer.triangles).sections[0]!;
    character.sections.push({ ...second, name: 'over', meshIndex: 1 });
    const met = { id: null, mesh: createBodyMesh(character.sections[0]!), sectionIndex: null, margin: 0.001 };
    const deepest = (distance: number, hasMesh: boolean): number => {
      const layerMargin = hasMesh ? 0 : distance;
      const fabric = { ...FABRIC_DEFAULTS, layerMargin, thickness: 0.003, gravityScale: 0.3 };
      const held = setUp(character, { maxDistances: new Float32Array(81), fabric });
      const over = setUp(character, { fabric, maxDistances: new Float32Array(121).fill(0.5) }, 1);
      const run = new CharacterRun(
        character,
        hasMesh ? [{ ...over, bodyMeshes: distance > 0 ? [met] : [] }] : [held, over],
      );
      run.wind = { windSpeed: 4, windDirection: 180, windGusts: 0, windTurbulence: 0 };
      const { solver, setup } = run.garments[run.garments.length - 1]!;
      let least = Number.POSITIVE_INFINITY;
      for (let frame = 0; frame < 40; frame++) {
        run.step();
        for (let i = 0; i < setup.compiled.pointCount; i++) {
          const [x, y, z] = [0, 1, 2].map((k) => solver.positions[4 * i + k]!) as [number, number, number];
          if (x > 0 && x < 0.5 && y > 0.5 && y < 1) least = Math.min(least, z - 0.02);
        }
      }
      return least;
    };
    for (const hasMesh of [false, true]) {
      expect(deepest(0, hasMesh)).below(-0.05);
      expect(deepest(0.004, hasMesh)).above(0.002);
    }
  });

  it('gives the same with the fast and the readable solver, where nothing crumples', () => {
    const character = createFlag();
    addTrack(character, 'translation', [0, 0.5, 1], [0, 0, 0, 0, 0, 0.05, 0, 0, 0]);
    const runs = [false, true].map((isPlain) => {
      const run = new CharacterRun(character, [setUp(character)], { isPlain });
      run.play(0);
      for (let i = 0; i < 60; i++) run.step();
      return run.garments[0]!.solver.positions;
    });
    for (let i = 0; i < runs[0]!.length; i++) expect(runs[0]![i]).closeTo(runs[1]![i]!, 1e-4);
  });
});
