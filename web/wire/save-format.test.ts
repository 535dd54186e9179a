import { expect } from 'chai';
import fc from 'fast-check';
import type { AuthoredRecord } from '../../core/document/index.ts';
import { saveHeaderSchema } from './characters.ts';
import { decodeSave, encodeSave, type RecordSave } from './save-format.ts';

const bodySet = (name: string): AuthoredRecord =>
  ({ type: 'bodySet', id: 'set', name, follows: 'skin' }) as AuthoredRecord;

const change = fc.record({
  id: fc.string({ minLength: 1, maxLength: 20 }),
  baseVersion: fc.nat(),
  record: fc.constantFrom(null, bodySet('Äußeres')),
  values: fc.option(fc.array(fc.float({ noNaN: true }), { maxLength: 20 })),
  isWhole: fc.boolean(),
});

describe('a save on its way to the server', () => {
  it('arrives as it was sent, numbers to the bit', () => {
    fc.assert(
      fc.property(fc.array(change, { maxLength: 5 }), (list) => {
        const changes = list.map(({ values, isWhole, ...rest }): RecordSave => {
          if (!values) return rest;
          const indices = isWhole ? null : Uint32Array.from(values.keys());
          return { ...rest, array: { indices, values: Float32Array.from(values) } };
        });
        const { header, arrays } = decodeSave(encodeSave({ window: 'w', changes }));
        expect(arrays).deep.equal(changes.map(({ array }) => array));
        expect(
          (header as { changes: RecordSave[] }).changes.map(({ id, record }) => [id, record]),
        ).deep.equal(changes.map(({ id, record }) => [id, record]));
      }),
    );
  });

  it('of one stroke is hardly larger than the stroke', () => {
    const indices = Uint32Array.from({ length: 60 }, (_, k) => 3 * k);
    const record = { type: 'channel', id: 'c' } as AuthoredRecord;
    const bytes = encodeSave({
      window: 'w',
      changes: [{ id: 'c', baseVersion: 3, record, array: { indices, values: new Float32Array(60) } }],
    });
    expect(bytes.length).below(8 * 60 + 200);
  });

  it('is refused when it is cut short, too long, or no save', () => {
    const whole = encodeSave({
      window: 'w',
      changes: [
        {
          id: 'set',
          baseVersion: 0,
          record: bodySet('a'),
          array: { indices: null, values: Float32Array.of(1, 2) },
        },
      ],
    });
    for (let length = 0; length < whole.length; length++)
      expect(() => decodeSave(whole.subarray(0, length)), String(length)).throw(SyntaxError);
    expect(() => decodeSave(Uint8Array.of(...whole, 0, 0, 0, 0))).throw('longer than it says');
    const bad = encodeSave({ window: 'w', changes: [{ id: 'x', baseVersion: 0, record: null }] });
    const length = new DataView(bad.buffer).getUint32(0, true);
    const text = new TextDecoder()
      .decode(bad.subarray(4, 4 + length))
      .replace('"baseVersion":0', '"array":{"count":-1}');
    const bytes = new Uint8Array(4 + text.length);
    new DataView(bytes.buffer).setUint32(0, text.length, true);
    bytes.set(new TextEncoder().encode(text), 4);
    expect(() => decodeSave(bytes)).throw('number of values');
  });

  it('says what is in its header, and nothing else', async () => {
    const check = (header: object): Promise<boolean> => saveHeaderSchema.isValid(header, { strict: true });
    const fine = { window: 'w', changes: [{ id: 'set', baseVersion: 0, record: bodySet('a') }] };
    expect(await check(fine)).equal(true);
    expect(await check({ ...fine, more: 1 })).equal(false);
    expect(await check({ ...fine, changes: [] })).equal(false);
    expect(await check({ ...fine, changes: [{ ...fine.changes[0], baseVersion: -1 }] })).equal(false);
    expect(await check({ ...fine, changes: [{ ...fine.changes[0], record: { type: 'x' } }] })).equal(false);
  });
});
