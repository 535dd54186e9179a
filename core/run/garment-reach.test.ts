import { expect } from 'chai';
import { createSheet, createTestCharacter } from '../cloth/test-cloth.ts';
import {
  createDocument,
  createGarment,
  createMap,
  ensureMap,
  findChannel,
  insertGarment,
  listMaps,
  type RecordId,
} from '../document/index.ts';
import { transferChannel } from '../prepare/index.ts';
import type { ChannelKind } from '../reach/index.ts';
import { readReach } from './garment-reach.ts';

const COUNT = 81;

function open() {
  const sheet = createSheet(8, 8, (u, v) => [u, -v, 0]);
  const character = createTestCharacter(sheet.positions, sheet.triangles);
  const document = createDocument();
  let ids = 0;
  const createId = (): RecordId => `id-${++ids}` as RecordId;
  const made = createGarment(character, document, 0, createId);
  insertGarment(document, made);
  const put = (kind: ChannelKind, values: Float32Array, isInUse = true): RecordId => {
    const { map } = createMap(document, made.garment, kind, values.length, createId(), values);
    document.records.set(map.id, { ...map, isInUse });
    document.arrays.set(map.id, values);
    return map.id;
  };
  const read = (kinds?: ReadonlySet<ChannelKind>) =>
    readReach(document, made.garment, character.sections[0]!, COUNT, kinds);
  return { character, document, garment: made.garment, createId, put, read };
}

describe('what the maps of a garment say to a solver', () => {
  it('is the default where there is no map: held, no limit, not lining, unscaled', () => {
    const { read } = open();
    const reach = read();
    expect(reach.maxDistances.every((value) => value === 0)).equal(true);
    expect([reach.inward, reach.lining]).deep.equal([null, null]);
    expect(reach.scales).deep.equal({ stiffness: null, damping: null, drag: null });
  });

  it('is what the map in use has, and not another of its channel', () => {
    const { put, read } = open();
    put('drag', new Float32Array(COUNT).fill(4), false);
    expect(read().scales.drag).equal(null);
    put('drag', new Float32Array(COUNT).fill(3));
    expect(new Set(read().scales.drag)).deep.equal(new Set([3]));
  });

  it('has no limit where a map says the deepest, and lining from a half on', () => {
    const { put, read } = open();
    put(
      'inwardLimit',
      Float32Array.from({ length: COUNT }, (_, i) => (i < 40 ? 0.02 : 0.3)),
    );
    put(
      'lining',
      Float32Array.from({ length: COUNT }, (_, i) => (i < 10 ? 0.49 : 0.5)),
    );
    const { inward, lining } = read();
    expect(inward!.depths[5]).closeTo(0.02, 1e-6);
    expect(inward!.depths[60]).equal(-1);
    expect(inward!.roundness).equal(null);
    expect([lining![9], lining![10]]).deep.equal([0, 1]);
    // Not asked for, as it may take long to find.
    expect(read(new Set<ChannelKind>(['drag'])).lining).equal(null);
  });

  it('leaves maps out that are of another mesh', () => {
    const { put, read } = open();
    put('stiffness', new Float32Array(COUNT + 1).fill(2));
    expect(read().scales.stiffness).equal(null);
  });
});

describe('new maps', () => {
  it('have names of their own, and begin at the default', () => {
    const { document, garment, createId, put } = open();
    const second = put('maxDistance', new Float32Array(COUNT), false);
    document.records.delete(findChannel(document, garment.id)!.id);
    // "first" is free again, "second" is not.
    const names = [0, 1].map(() => {
      const { map, values } = createMap(document, garment, 'maxDistance', COUNT, createId());
      expect(values.every((value) => value === 0)).equal(true);
      document.records.set(map.id, map);
      return map.name;
    });
    const all = listMaps(document, garment.id).map(({ name }) => name);
    expect(new Set(all).size).equal(all.length);
    expect(names).not.include((document.records.get(second) as { name: string }).name);
    const { values } = createMap(document, garment, 'damping', 3, createId());
    expect([...values]).deep.equal([1, 1, 1]);
  });

  it('are made only where none is in use', () => {
    const { document, garment, createId } = open();
    const known = findChannel(document, garment.id)!;
    expect(ensureMap(document, garment, 'maxDistance', COUNT, createId)).equal(known);
    const made = ensureMap(document, garment, 'limitRoundness', COUNT, createId);
    expect(document.arrays.get(made.id)![0]).equal(1);
    expect(ensureMap(document, garment, 'limitRoundness', COUNT, createId)).deep.equal(made);
  });
});

describe('values carried to a coarser mesh', () => {
  it('keep a hold of max distances, while a scale of 0 is a value like any other', () => {
    const fine = createSheet(20, 20, (u, v) => [u, -v, 0]);
    const coarse = createSheet(3, 3, (u, v) => [0.1 + 0.8 * u, -0.1 - 0.8 * v, 0]);
    const [from, to] = [fine, coarse].map(({ positions, triangles }) => ({
      character: createTestCharacter(positions, triangles),
      sectionIndex: 0,
    }));
    // Only the outermost row is 0: no coarse point lies on it.
    const values = Float32Array.from({ length: 441 }, (_, i) => (i < 21 ? 0 : 0.2 + 0.001 * i));
    expect([...transferChannel(from!, to!, values, 'maxDistance')]).includes(0);
    const scales = transferChannel(from!, to!, values, 'stiffness');
    expect(Math.min(...scales)).above(0.1);
  });
});
