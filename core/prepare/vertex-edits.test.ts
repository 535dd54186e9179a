import { expect } from 'chai';
import { createDocument } from '../document/index.ts';
import { createCheckedMesh, findInnerSide, listBorderPoints } from '../mesh/index.ts';
import { createGrid } from '../mesh/test-surfaces.ts';
import { bindSection, type Character, toDenseWeights } from '../rig/index.ts';
import {
  createSectionMesh,
  createVertexEdits,
  describeAct,
  packLiningMaps,
  packVertexEdits,
  readVertexEdits,
  unpackVertexEdits,
  type VertexEdits,
} from '../steps/index.ts';
import { checkSection, prepareCharacter, transferChannel } from './index.ts';
import { addStep, createWardrobe } from './test-wardrobe.ts';

const SKIRT = 1;

/** Points of the skirt below a height moved outward by 3 cm. */
function flareHem(character: Character, below: number): VertexEdits {
  const mesh = createSectionMesh(character, SKIRT);
  const work = createVertexEdits(mesh, 3);
  for (let p = 0; p < mesh.pointCount; p++) {
    const [x, y, z] = mesh.pointPositions.subarray(3 * p, 3 * p + 3);
    if (y! >= below) continue;
    const away = Math.hypot(x!, z!);
    work.isSet[p] = 1;
    work.values.set([(0.03 * x!) / away, 0, (0.03 * z!) / away], 3 * p);
  }
  return work;
}

describe('handwork', () => {
  it('is the same after packing, and refused when its numbers are not its own', () => {
    const work = flareHem(createWardrobe(), -0.4);
    const packed = packVertexEdits(work);
    expect(unpackVertexEdits(packed)).deep.equal(work);
    expect(unpackVertexEdits(packed.subarray(0, packed.length - 1))).equal(null);
    expect(unpackVertexEdits(undefined)).equal(null);
    const broken = packed.slice();
    broken[3 + work.positions.length] = work.isSet.length;
    expect(unpackVertexEdits(broken)).equal(null);
  });

  it('is exact at its own points and mixed between them', () => {
    const sheet = createGrid(4, 4, (u, v) => [u, v, 0]);
    const work = createVertexEdits({ pointPositions: sheet.positions, faces: sheet.triangles }, 1);
    for (let p = 0; p < 25; p++) {
      work.values[p] = p % 5;
      work.isSet[p] = p % 5 > 2 ? 1 : 0;
    }
    const same = readVertexEdits(work, sheet.positions);
    expect([...same.values]).deep.equal([...work.values]);
    expect([...same.isSet]).deep.equal([...work.isSet]);
    const between = readVertexEdits(work, Float32Array.of(0.6, 0.3, 0, 0.7, 0.9, 0.2));
    expect(between.values[0]).closeTo(2.4, 1e-5);
    expect(between.values[1]).closeTo(2.8, 1e-5);
    expect([...between.isSet]).deep.equal([0, 1]);
  });

  it('moves points, of the same mesh exactly and of another one in the same places', () => {
    const source = createWardrobe();
    const document = createDocument();
    const work = flareHem(source, -0.4);
    const id = addStep(document, 'Skirt', { kind: 'movePoints', keepsLengths: false });
    document.arrays.set(id, packVertexEdits(work));
    const before = createSectionMesh(source, SKIRT);
    const { character, problems } = prepareCharacter(source, document);
    expect(problems).deep.equal([]);
    const after = createSectionMesh(character, SKIRT);
    expect(after.pointCount).equal(before.pointCount);
    for (let i = 0; i < after.pointPositions.length; i++)
      expect(after.pointPositions[i]).closeTo(before.pointPositions[i]! + work.values[i]!, 2e-6);
    // Where nothing was moved, not a bit differs.
    for (let v = 0; v < 41; v++)
      expect(character.sections[SKIRT]!.positions[3 * v]).equal(source.sections[SKIRT]!.positions[3 * v]);

    const finer = createDocument();
    addStep(finer, 'Skirt', { kind: 'evenOut', edgeLength: 0.025 });
    const again = addStep(finer, 'Skirt', { kind: 'movePoints', keepsLengths: false });
    finer.arrays.set(again, packVertexEdits(work));
    const other = createSectionMesh(prepareCharacter(source, finer).character, SKIRT);
    let hem = 0;
    for (let p = 0; p < other.pointCount; p++) {
      const [x, y, z] = other.pointPositions.subarray(3 * p, 3 * p + 3);
      if (y! > -0.45) continue;
      hem++;
      expect(Math.hypot(x!, z!)).closeTo(0.12 + 0.1 * (-y! / 0.6) + 0.03, 0.004);
    }
    expect(hem).above(100);
  });

  it('leaves the lengths at rest, or takes those of the new shape', () => {
    const source = createWardrobe();
    for (const keepsLengths of [true, false]) {
      const document = createDocument();
      const id = addStep(document, 'Skirt', { kind: 'movePoints', keepsLengths });
      document.arrays.set(id, packVertexEdits(flareHem(source, -0.4)));
      const { restPositions } = prepareCharacter(source, document).character.sections[SKIRT]!;
      if (keepsLengths) expect(restPositions).deep.equal(bindSection(source, SKIRT));
      else expect(restPositions).equal(null);
    }
  });

  it('sets weights where they were set, and leaves all others', () => {
    const source = createWardrobe();
    const mesh = createSectionMesh(source, SKIRT);
    const work = createVertexEdits(mesh, 2);
    for (let p = 0; p < mesh.pointCount; p++) {
      if (mesh.pointPositions[3 * p + 1]! > -0.3) continue;
      work.isSet[p] = 1;
      work.values.set([0.75, 0.25], 2 * p);
    }
    const document = createDocument();
    const id = addStep(document, 'Skirt', { kind: 'setWeights', joints: ['knee', 'hip'] });
    document.arrays.set(id, packVertexEdits(work));
    const { character, problems } = prepareCharacter(source, document);
    expect(problems).deep.equal([]);
    const dense = toDenseWeights(character.sections[SKIRT]!, 2);
    const bound = bindSection(source, SKIRT);
    for (let v = 0; v < bound.length / 3; v++) {
      const isLow = bound[3 * v + 1]! <= -0.3;
      expect(dense[2 * v]).closeTo(isLow ? 0.25 : 1, 1e-6);
    }
    document.records.set(id, {
      ...(document.records.get(id) as Extract<ReturnType<typeof document.records.get>, { type: 'step' }>),
      act: { kind: 'setWeights', joints: ['knee', 'tail'] },
    });
    expect(prepareCharacter(source, document).problems[0]!.reason).match(/no joint "tail"/);
  });
});

describe('an inner side made behind an open surface', () => {
  const THICKNESS = 0.004;

  for (const rim of ['square', 'rounded'] as const) {
    it(`closes it with a ${rim} edge, diagonals aligned, and is recognised as a lining`, () => {
      const source = createWardrobe();
      const document = createDocument();
      addStep(document, 'Skirt', { kind: 'thicken', thickness: THICKNESS, rim });
      const { character, problems } = prepareCharacter(source, document);
      expect(problems).deep.equal([]);
      const before = createSectionMesh(source, SKIRT);
      const mesh = createSectionMesh(character, SKIRT);
      expect(listBorderPoints(mesh.table)).deep.equal([]);
      expect([...mesh.table.nonManifold]).deep.equal([]);
      const hem = listBorderPoints(before.table).length;
      expect(mesh.pointCount).equal(2 * before.pointCount + (rim === 'rounded' ? hem : 0));
      // A closed surface has the volume of its thickness, with the outside facing out.
      let area = 0;
      for (const one of before.areas) area += one;
      expect(measureVolume(mesh.pointPositions, mesh.faces)).closeTo(
        area * THICKNESS,
        0.06 * area * THICKNESS,
      );
      // The rim is narrow on purpose.
      const kinds = checkSection(character, SKIRT).map(({ kind }) => kind);
      expect(kinds).not.include.oneOf(['thinRow', 'unevenSpacing', 'crossedDiagonal']);
      const section = character.sections[SKIRT]!;
      expect([...section.positions.subarray(0, 30)]).deep.equal([
        ...source.sections[SKIRT]!.positions.subarray(0, 30),
      ]);
      const inner = findInnerSide(createCheckedMesh({ ...mesh, positions: mesh.positions }));
      // Every point of the inner side is recognised, at the rim too, and none of the outer one.
      const vertices = source.sections[SKIRT]!.positions.length / 3;
      for (let v = 0; v < vertices; v++) {
        expect(inner[mesh.pointOfVertex[v]!], `outer vertex ${v}`).equal(0);
        expect(inner[mesh.pointOfVertex[vertices + v]!], `inner vertex ${v}`).equal(1);
      }
      const outside = source.sections[SKIRT]!.positions.length / 3;
      expect(section.uvs!.subarray(2 * outside, 2 * outside + 40)).deep.equal(section.uvs!.subarray(0, 40));
    });
  }

  it('is as thick as a map says, round or square where another says, without a gap where they meet', () => {
    const source = createWardrobe();
    const before = createSectionMesh(source, SKIRT);
    const { pointPositions: places, pointCount } = before;
    // Thicker downward; round in front, square behind.
    const thickness = Float32Array.from({ length: pointCount }, (_, p) => 0.002 - 0.01 * places[3 * p + 1]!);
    const isFront = (p: number): boolean => places[3 * p + 2]! > 0;
    const rounded = Float32Array.from({ length: pointCount }, (_, p) => (isFront(p) ? 1 : 0));
    const document = createDocument();
    const id = addStep(document, 'Skirt', { kind: 'thicken', thickness: 0.05, rim: 'square', byMaps: true });
    document.arrays.set(
      id,
      packLiningMaps({ positions: places, triangles: before.faces }, thickness, rounded),
    );
    const { character, problems } = prepareCharacter(source, document);
    expect(problems).deep.equal([]);
    const mesh = createSectionMesh(character, SKIRT);
    expect(listBorderPoints(mesh.table)).deep.equal([]);
    expect([...mesh.table.nonManifold]).deep.equal([]);
    const hem = listBorderPoints(before.table);
    const round = hem.filter(isFront).length;
    // A middle at each point of the round edges, and none along the square ones.
    expect(mesh.pointCount - 2 * pointCount).equal(round);
    const count = source.sections[SKIRT]!.positions.length / 3;
    for (let v = 0; v < count; v++) {
      const [p, outer, inner] = [
        before.pointOfVertex[v]!,
        mesh.pointOfVertex[v]!,
        mesh.pointOfVertex[count + v]!,
      ];
      const gap = Math.hypot(
        ...[0, 1, 2].map((k) => mesh.pointPositions[3 * outer + k]! - mesh.pointPositions[3 * inner + k]!),
      );
      expect(gap, `point ${p}`).closeTo(thickness[p]!, 1e-5);
    }
    let wanted = 0;
    before.areas.forEach((area, f) => {
      const corners = [0, 1, 2].map((k) => thickness[before.faces[3 * f + k]!]!);
      wanted += (area * (corners[0]! + corners[1]! + corners[2]!)) / 3;
    });
    expect(measureVolume(mesh.pointPositions, mesh.faces)).closeTo(wanted, 0.06 * wanted);
  });

  it('by maps is made by place, whatever mesh it is made of; without the maps it says so', () => {
    const source = createWardrobe();
    const before = createSectionMesh(source, SKIRT);
    const thickness = new Float32Array(before.pointCount).fill(0.008);
    const rounded = new Float32Array(before.pointCount).fill(1);
    const document = createDocument();
    addStep(document, 'Skirt', { kind: 'evenOut', edgeLength: 0.06 });
    const act = { kind: 'thicken', thickness: 0.002, rim: 'square', byMaps: true } as const;
    const id = addStep(document, 'Skirt', act);
    expect(describeAct(act)).equal('inside by its maps');
    expect(prepareCharacter(source, document).problems[0]!.reason).match(/maps of thickness are not there/);
    const surface = { positions: before.pointPositions, triangles: before.faces };
    const packed = packLiningMaps(surface, thickness, rounded);
    document.arrays.set(id, packed);
    const { character, problems } = prepareCharacter(source, document);
    expect(problems).deep.equal([]);
    const { pointPositions: p, faces } = createSectionMesh(character, SKIRT);
    let area = 0;
    for (const one of before.areas) area += one;
    expect(measureVolume(p, faces)).closeTo(0.008 * area, 0.1 * 0.008 * area);
    document.arrays.set(id, packed.slice(0, 100));
    expect(prepareCharacter(source, document).problems[0]!.reason).match(/maps of thickness are not there/);
  });

  it('is refused of a surface that is closed', () => {
    const document = createDocument();
    addStep(document, 'Skirt', { kind: 'thicken', thickness: THICKNESS, rim: 'square' });
    addStep(document, 'Skirt', { kind: 'thicken', thickness: THICKNESS, rim: 'square' });
    expect(prepareCharacter(createWardrobe(), document).problems[0]!.reason).match(/closed already/);
  });
});

describe('a card', () => {
  it('is held at its upper end when what it stands for was', () => {
    const source = createWardrobe();
    const document = createDocument();
    addStep(document, 'Skirt', { kind: 'makeCard', rows: 2, others: [] });
    const { character } = prepareCharacter(source, document);
    const { pointPositions: positions, pointCount } = createSectionMesh(source, SKIRT);
    const painted = Float32Array.from({ length: pointCount }, (_, p) =>
      Math.max(0, -positions[3 * p + 1]! - 0.02),
    );
    const from = { character: source, sectionIndex: SKIRT };
    const transferred = transferChannel(from, { character, sectionIndex: 2 }, painted);
    const card = createSectionMesh(character, 2);
    transferred.forEach((value, p) => {
      expect(value === 0).equal(card.pointPositions[3 * p + 1]! > -0.1);
    });
    expect([...transferChannel(from, { character, sectionIndex: 2 }, painted.fill(0.3))]).not.include(0);
  });

  it('is a strip along the piece, as long and wide as it, and follows its joints', () => {
    const document = createDocument();
    addStep(document, 'Skirt', { kind: 'makeCard', rows: 3, others: [] });
    const { character, problems } = prepareCharacter(createWardrobe(), document);
    expect(problems).deep.equal([]);
    const card = createSectionMesh(character, 2);
    expect(character.sections[2]!.isSimMesh).equal(true);
    expect(card.faces.length / 3).equal(6);
    const heights = Array.from({ length: card.pointCount }, (_, p) => card.pointPositions[3 * p + 1]!);
    expect(Math.max(...heights)).closeTo(0, 0.02);
    expect(Math.min(...heights)).closeTo(-0.6, 0.02);
    const tops = Array.from({ length: card.pointCount }, (_, p) =>
      card.pointPositions.subarray(3 * p, 3 * p + 3),
    ).filter((position) => position[1]! > -0.1);
    expect(tops.length).equal(2);
    const width = Math.hypot(...[0, 1, 2].map((k) => tops[0]![k]! - tops[1]![k]!));
    expect(width).closeTo(0.44, 0.03);
    // Nowhere folded over.
    for (const area of card.areas) expect(area).closeTo((0.6 * width) / 6, 0.01);
  });
});

function measureVolume(positions: Float32Array, faces: Uint32Array): number {
  let volume = 0;
  for (let i = 0; i < faces.length; i += 3) {
    const [a, b, c] = [0, 1, 2].map((k) => positions.subarray(3 * faces[i + k]!, 3 * faces[i + k]! + 3));
    volume +=
      (a![0]! * (b![1]! * c![2]! - b![2]! * c![1]!) +
        a![1]! * (b![2]! * c![0]! - b![0]! * c![2]!) +
        a![2]! * (b![0]! * c![1]! - b![1]! * c![0]!)) /
      6;
  }
  return volume;
}
