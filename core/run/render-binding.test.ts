import { expect } from 'chai';
import { compileGarment } from '../cloth/index.ts';
import { createDocument, createGarment, insertGarment, type RecordId } from '../document/index.ts';
import { createGrid } from '../mesh/test-surfaces.ts';
import { prepareCharacter } from '../prepare/index.ts';
import { addStep, createWardrobe } from '../prepare/test-wardrobe.ts';
import { bindSection, type Character, createRigidCharacter } from '../rig/index.ts';
import { createRun } from './create-run.ts';
import { bindRender, createBoundPositions, writeBound } from './render-binding.ts';

/** A fine sheet, slightly waved, and a coarse flat one below it that is simulated. */
function createPair(): Character {
  const coarse = createGrid(8, 8, (u, v) => [u - 0.5, 0, v - 0.5]);
  const fine = createGrid(30, 30, (u, v) => [
    0.98 * u - 0.49,
    0.01 + 0.004 * Math.sin(20 * u),
    0.98 * v - 0.49,
  ]);
  const character = createRigidCharacter('coarse', coarse.positions, coarse.triangles);
  const other = createRigidCharacter('fine', fine.positions, fine.triangles);
  return { ...character, sections: [character.sections[0]!, other.sections[0]!] };
}

/** The fine section for moved points of the coarse one. */
function follow(
  character: Character,
  move: (x: number, y: number, z: number) => [number, number, number],
): Float32Array {
  const garment = compileGarment(character, 0);
  const binding = bindRender(character, garment, 1);
  const x = new Float32Array(4 * garment.pointCount);
  for (let i = 0; i < x.length; i += 4) {
    const rest = garment.restPositions;
    x.set(move(rest[i]!, rest[i + 1]!, rest[i + 2]!), i);
  }
  const out = new Float32Array(3 * binding.vertexCount);
  const scratch = createBoundPositions(binding, garment.triangles.length / 3);
  writeBound(binding, x, garment.triangles, scratch, out, new Float32Array(out.length));
  return out;
}

describe('a drawn section bound to a sim mesh', () => {
  const character = createPair();
  const bind = bindSection(character, 1);

  it('stands exactly where it was in bind pose', () => {
    const out = follow(character, (x, y, z) => [x, y, z]);
    for (let i = 0; i < out.length; i++) expect(out[i]).closeTo(bind[i]!, 1e-6);
  });

  it('follows a rigid motion exactly', () => {
    const [c, s] = [Math.cos(0.7), Math.sin(0.7)];
    const turn = (x: number, y: number, z: number): [number, number, number] => [
      c * x - s * y + 2,
      s * x + c * y - 1,
      z + 0.5,
    ];
    const out = follow(character, turn);
    for (let i = 0; i < out.length; i += 3) {
      const expected = turn(bind[i]!, bind[i + 1]!, bind[i + 2]!);
      for (let k = 0; k < 3; k++) expect(out[i + k]).closeTo(expected[k]!, 2e-6);
    }
  });

  it('lies on a roll that the sim mesh is bent to, smoothly, by less than the roll leaves its edges', () => {
    const radius = 0.4;
    const roll = (x: number, y: number, z: number): [number, number, number] => [
      (radius - y) * Math.sin(x / radius),
      radius - (radius - y) * Math.cos(x / radius),
      z,
    ];
    const out = follow(character, roll);
    // An edge of 12.5 cm leaves the roll by its sagitta.
    const sagitta = 0.125 ** 2 / (8 * radius);
    for (let i = 0; i < out.length; i += 3) {
      const expected = roll(bind[i]!, bind[i + 1]!, bind[i + 2]!);
      const off = Math.hypot(...expected.map((value, k) => out[i + k]! - value));
      expect(off).below(2 * sagitta);
    }
    // No creases: neighbours along the roll turn by no more than a few degrees from one to the next.
    let sharpest = 0;
    for (let i = 0; i + 2 < 31; i++) {
      const at = (n: number): number[] => [out[3 * n]!, out[3 * n + 1]!];
      const [a, b, d] = [at(i + 15 * 31), at(i + 1 + 15 * 31), at(i + 2 + 15 * 31)] as [
        number[],
        number[],
        number[],
      ];
      const turn = Math.atan2(d[1]! - b[1]!, d[0]! - b[0]!) - Math.atan2(b[1]! - a[1]!, b[0]! - a[0]!);
      sharpest = Math.max(sharpest, Math.abs(turn));
    }
    expect(sharpest).below(0.3);
  });

  it('is written by a run in place of the sim mesh, and follows its hem', () => {
    const source = createWardrobe();
    const document = createDocument();
    addStep(document, 'Skirt', { kind: 'makeSimMesh', edgeLength: 0.05, borderDetail: 0.8, others: [] });
    const { character: dressed } = prepareCharacter(source, document);
    let ids = 0;
    const made = createGarment(dressed, document, 2, () => `id-${++ids}` as RecordId);
    made.garment.renders = [{ sectionIndex: 1, sectionName: 'Skirt' }];
    const channel = made.maxDistances.map(() => 0.2);
    insertGarment(document, made, channel);
    const run = createRun(document, dressed);
    const skirt = dressed.sections[1]!;
    const [out, normals] = [
      new Float32Array(skirt.positions.length),
      new Float32Array(skirt.positions.length),
    ];
    run.writeRender(0, 0, out, normals);
    const bindPositions = bindSection(dressed, 1);
    for (let i = 0; i < out.length; i++) expect(out[i]).closeTo(bindPositions[i]!, 2e-6);
    run.play(0);
    for (let frame = 0; frame < 40; frame++) run.step();
    run.writeRender(0, 0, out, normals);
    const garment = run.garments[0]!;
    const hem: number[][] = [];
    const { restPositions, pointCount } = garment.setup.compiled;
    for (let p = 0; p < pointCount; p++) {
      if (restPositions[4 * p + 1]! < -0.599) hem.push(Array.from(garment.shown.subarray(4 * p, 4 * p + 3)));
    }
    expect(hem.length).above(15);
    // Every hem vertex lies within half an edge of a hem point, and a quarter edge of the line between two.
    for (let v = 24 * 41; v < 25 * 41; v++) {
      const position = [0, 1, 2].map((k) => out[3 * v + k]!);
      const near = hem
        .map((point) => Math.hypot(...point.map((value, k) => value - position[k]!)))
        .sort((p, q) => p - q);
      expect(near[0]).below(0.04);
    }
    for (let i = 0; i < normals.length; i += 3) {
      expect(Math.hypot(normals[i]!, normals[i + 1]!, normals[i + 2]!)).closeTo(1, 1e-5);
    }
  });
});
