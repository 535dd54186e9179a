import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect } from 'chai';
import fc from 'fast-check';
import { FABRIC_DEFAULTS } from '../../cloth/index.ts';
import { Preparation } from '../../prepare/index.ts';
import { createRigidCharacter } from '../../rig/index.ts';
import { STEP_KINDS, unpackSurface, unpackVertexEdits } from '../../steps/index.ts';
import { createDocument, listSteps } from '../index.ts';
import {
  type AuthoredRecord,
  type BaseRecord,
  checkRecord,
  countRecords,
  DOCUMENT_VERSION,
  listChangedFields,
  RECORD_TYPES,
  RECORDS,
  raiseRecord,
  recordField,
  SCENE_DEFAULTS,
  tellRecord,
} from './index.ts';

const EXAMPLES = join(import.meta.dirname, '../examples');

interface Example {
  documentVersion: number;
  records: BaseRecord[];
  arrays: Record<string, string>;
}

/** A document as one version wrote it. */
function readExample(file: string): Example {
  return JSON.parse(readFileSync(join(EXAMPLES, file), 'utf8')) as Example;
}

function openExample({ documentVersion, records, arrays }: Example) {
  const document = createDocument();
  for (const record of records) document.records.set(record.id, raiseRecord(record, documentVersion));
  for (const [id, text] of Object.entries(arrays)) {
    const bytes = Uint8Array.from(Buffer.from(text, 'base64'));
    document.arrays.set(id as AuthoredRecord['id'], new Float32Array(bytes.buffer));
  }
  return document;
}

/** The sheet that the examples were made over: 4 by 4 squares of 10 cm. */
function createSheet() {
  const positions: number[] = [];
  const triangles: number[] = [];
  for (let y = 0; y <= 4; y++)
    for (let x = 0; x <= 4; x++) positions.push(x * 0.1 - 0.2, 1.4 - y * 0.1, 0.05);
  for (let y = 0; y < 4; y++) {
    for (let x = 0; x < 4; x++) {
      const a = 5 * y + x;
      triangles.push(a, a + 5, a + 6, a, a + 6, a + 1);
    }
  }
  return createRigidCharacter('sheet', Float32Array.from(positions), Uint32Array.from(triangles));
}

describe('documents of every version', () => {
  const files = readdirSync(EXAMPLES).sort();

  it('have an example each', () => {
    const versions = files.map((file) => readExample(file).documentVersion);
    // Versions 0 and 1 are written alike: what 1 completes was complete in the last build before versions were kept.
    expect(versions).deep.equal([0, 2, 3, 4, DOCUMENT_VERSION]);
  });

  for (const file of files) {
    it(`are read, checked and prepared: ${file}`, () => {
      const document = openExample(readExample(file));
      for (const record of document.records.values())
        expect(() => recordField.validateSync(record)).not.throw();
      expect([...document.records.values()].find(({ type }) => type === 'body')).deep.include({
        jointName: 'root',
        shape: { kind: 'taperedCapsule', a: [0, 1.1, -0.1], b: [0, 0.9, -0.1], radiusA: 0.08, radiusB: 0.06 },
      });
      expect(unpackSurface(document.arrays.get('even' as never))!.triangles.length).above(0);
      const edits = unpackVertexEdits(document.arrays.get('moved' as never))!;
      expect([...edits.isSet].filter((one) => one)).deep.equal([1]);
      const { character, problems, made } = new Preparation(createSheet()).update(document);
      expect(problems).deep.equal([]);
      expect(listSteps(document).map(({ id }) => made.get(id))).deep.equal([[1], []]);
      expect(character.sections[1]).include({ name: 'sheet sim', isSimMesh: true });
    });
  }

  it('say the same after they are raised', () => {
    const [first, ...others] = files.map((file) => openExample(readExample(file)));
    for (const other of others) expect(other).deep.equal(first);
  });

  it('take the default of a number that came after they were written, whatever their version', () => {
    const { friction: _, ...settings } = FABRIC_DEFAULTS;
    const record = { type: 'fabric', id: 'f', name: 'new', settings: { ...settings, density: 0.7 } };
    const raised = raiseRecord(record as unknown as BaseRecord, DOCUMENT_VERSION);
    expect(raised).deep.equal({ ...record, settings: { ...FABRIC_DEFAULTS, density: 0.7 } });
    expect(() => recordField.validateSync(raised)).not.throw();
  });

  it('are raised from before there were fields: steady wind, one stiffness, fully simulated, in use', () => {
    const raise = (record: object) =>
      raiseRecord(record as BaseRecord, 0) as unknown as Record<string, unknown>;
    const { windGusts: _g, windTurbulence: _t, ...scene } = { ...SCENE_DEFAULTS, windSpeed: 3 };
    expect(raise(scene)).include({ windSpeed: 3, windGusts: 0, windTurbulence: 0 });
    const fabric = raise({
      type: 'fabric',
      id: 'f',
      name: 'old',
      settings: { density: 0.4, stretchStiffness: 900 },
    });
    expect(fabric.settings).include({
      stretchWarp: 900,
      stretchWeft: 900,
      shearStiffness: 450,
      density: 0.4,
    });
    expect(raise({ type: 'garment', id: 'g' })).deep.include({
      warpTurn: 0,
      blend: 1,
      renders: [],
      lining: 'none',
    });
    expect(raise({ type: 'channel', id: 'c' })).include({ isInUse: true });
  });
});

describe('the registry of records', () => {
  it('raises by steps in order, none beyond the version of now, and the last one is needed', () => {
    const all = RECORD_TYPES.flatMap((type) => RECORDS[type].raises.map(({ to }) => to));
    for (const type of RECORD_TYPES) {
      const steps = RECORDS[type].raises.map(({ to }) => to);
      expect(steps).deep.equal([...new Set(steps)].sort((p, q) => p - q));
    }
    expect(Math.max(...all)).equal(DOCUMENT_VERSION);
  });

  it('refuses unknown types, unknown fields and steps that are none, in words', () => {
    const scene = { ...SCENE_DEFAULTS };
    const messages = [
      [{ ...scene, type: '__proto__' }, '"__proto__" is not a type of record'],
      [{ ...scene, more: 1 }, 'more'],
      [
        { type: 'step', id: 's', order: 0, sectionIndex: 0, sectionName: '', act: { kind: 'constructor' } },
        '"constructor" is not a step',
      ],
      [
        { type: 'step', id: 's', order: 0, sectionIndex: 0, sectionName: '', act: { kind: 'evenOut' } },
        'edgeLength',
      ],
    ] as const;
    for (const [record, message] of messages)
      expect(() => recordField.validateSync(record, { strict: true })).throw(message);
  });

  it('takes every kind of step with its settings and none with another', () => {
    fc.assert(
      fc.property(fc.constantFrom(...STEP_KINDS), fc.string(), (kind, extra) => {
        const record = {
          type: 'step',
          id: 's',
          order: 0,
          sectionIndex: 0,
          sectionName: 'a',
          act: { kind, [`x${extra}`]: 1 },
        };
        expect(recordField.isValidSync(record, { strict: true })).equal(false);
      }),
    );
  });

  it('tells records and their changes in words', () => {
    const { records } = openExample(readExample(`document-${DOCUMENT_VERSION}.json`));
    const told = [...records.values()].map(tellRecord);
    expect(told).include.members([
      'garment "Sheet"',
      'map Max distance "first"',
      'body "ball"',
      'preparation step "sheet: shaped by hand"',
      'Scene',
    ]);
    const garment = [...records.values()].find(({ type }) => type === 'garment')!;
    expect(listChangedFields(garment, { ...garment, name: 'x', blend: 0 } as AuthoredRecord)).deep.equal([
      'name',
      'blend',
    ]);
    expect([countRecords('body', 1), countRecords('body', 3)]).deep.equal(['1 body', '3 bodies']);
  });

  it('checks a map against its length and range, and a body against the joints', () => {
    const facts = { values: null, indices: null, length: 3, jointNames: new Set(['hip']) };
    const map = { type: 'channel', kind: 'maxDistance', pointCount: 3 } as AuthoredRecord;
    expect(checkRecord(map, facts)).equal(null);
    expect(checkRecord(map, { ...facts, length: 2 })).contain('3 vertices and has 2 values');
    expect(checkRecord(map, { ...facts, values: Float32Array.of(0, -1, 0) })).contain('vertex 1');
    const stroke = { ...facts, indices: Uint32Array.of(2), values: Float32Array.of(-1) };
    expect(checkRecord(map, stroke)).contain('vertex 2');
    const body = { type: 'body', jointName: 'tail' } as AuthoredRecord;
    expect(checkRecord(body, facts)).contain('"tail"');
  });
});
