import { expect } from 'chai';
import { createSheet, createTestCharacter } from '../../core/cloth/test-cloth.ts';
import { createDocument, createGarment, insertGarment, type RecordId } from '../../core/document/index.ts';
import { type CharacterRun, createRun } from '../../core/run/index.ts';
import { ContactRows } from './contact-rows.ts';
import { CONTACT, MOST_CONTACTS } from './preview-protocol.ts';

/** A sheet that lies on two planes, one a millimetre beneath the other. @param cells - Of the sheet, along each side. */
function lay(cells: number): { run: CharacterRun; rows: Float32Array } {
  const sheet = createSheet(cells, cells, (u, v) => [0.6 * u, 0, -0.6 * v]);
  const character = createTestCharacter(sheet.positions, sheet.triangles);
  const document = createDocument();
  let count = 0;
  const made = createGarment(character, document, 0, () => `id-${++count}` as RecordId);
  insertGarment(document, made, new Float32Array(made.maxDistances.length).fill(1));
  for (const [name, height] of [
    ['floor', -0.01],
    ['cellar', -0.011],
  ] as const) {
    const id = name as RecordId;
    document.records.set(id, {
      type: 'body',
      id,
      bodySetId: made.bodySet!.id,
      name,
      jointName: character.skeleton.names[0]!,
      shape: { kind: 'plane', point: [0, height, 0], normal: [0, 1, 0] },
      margin: 0,
      group: 1,
    });
  }
  const run = createRun(document, character);
  for (let frame = 0; frame < 60; frame++) run.step();
  return { run, rows: new Float32Array(1 + CONTACT.length * MOST_CONTACTS) };
}

describe('the rows of contacts in a frame', () => {
  it('tell where, which way and on what cloth lies, with the numbers that were told before', () => {
    const { run, rows } = lay(6);
    const told: (readonly string[])[] = [];
    const contacts = new ContactRows((ids) => told.push(ids));
    contacts.write(run, rows);
    expect(rows[0]).equal(49);
    const { thickness } = run.garments[0]!.solver.fabric;
    for (let i = 0; i < 49; i++) {
      const row = rows.subarray(1 + CONTACT.length * i, 1 + CONTACT.length * (i + 1));
      expect(row[CONTACT.position + 1]).closeTo(thickness - 0.01, 6e-4);
      expect([...row.subarray(CONTACT.normal, CONTACT.normal + 3)]).deep.equal([0, 1, 0]);
      expect(row[CONTACT.body]).equal(0);
    }
    expect(told).deep.equal([['floor']]);
    // Numbers stay: nothing is told again.
    contacts.write(run, rows);
    expect(told.length).equal(1);
  });

  it('are as many as a frame holds, and none for cloth in the air', () => {
    const { run, rows } = lay(30);
    const contacts = new ContactRows(() => {});
    contacts.write(run, rows);
    expect(rows[0]).equal(MOST_CONTACTS);
    run.reset();
    contacts.write(run, rows);
    expect(rows[0]).equal(0);
  });
});
