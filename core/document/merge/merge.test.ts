import { expect } from 'chai';
import fc from 'fast-check';
import { FABRIC_DEFAULTS } from '../../cloth/index.ts';
import type { AuthoredRecord, FabricRecord, RecordId } from '../index.ts';
import { mergeRecords, mergeValues } from './index.ts';

const linen: FabricRecord = {
  type: 'fabric',
  id: 'f' as RecordId,
  name: 'Linen',
  settings: { ...FABRIC_DEFAULTS },
};
const withSettings = (update: Partial<FabricRecord['settings']>): FabricRecord => ({
  ...linen,
  settings: { ...linen.settings, ...update },
});

describe('two changes of one record', () => {
  it('are both kept when they are in different fields, however deep', () => {
    const mine = { ...withSettings({ density: 0.5 }), name: 'Heavy linen' };
    const { record, conflicts } = mergeRecords(linen, mine, withSettings({ friction: 0.9 }));
    expect(conflicts).deep.equal([]);
    expect(record).deep.equal({ ...withSettings({ density: 0.5, friction: 0.9 }), name: 'Heavy linen' });
  });

  it('are in conflict where both changed the same number, and only there', () => {
    const mine = withSettings({ density: 0.5, friction: 0.1 });
    const theirs = withSettings({ density: 0.7, thickness: 0.02 });
    const { record, conflicts } = mergeRecords(linen, mine, theirs);
    expect(conflicts).deep.equal([{ path: ['settings', 'density'], mine: 0.5, theirs: 0.7 }]);
    expect(record).deep.equal(withSettings({ density: 0.5, friction: 0.1, thickness: 0.02 }));
  });

  it('agree when they are the same, and when one side deletes what the other left alone', () => {
    const changed = withSettings({ density: 0.5 });
    expect(mergeRecords(linen, changed, withSettings({ density: 0.5 })).conflicts).deep.equal([]);
    expect(mergeRecords(linen, null, linen)).deep.equal({ record: null, conflicts: [] });
    expect(mergeRecords(linen, linen, null)).deep.equal({ record: null, conflicts: [] });
    expect(mergeRecords(linen, changed, null).conflicts).length(1);
  });

  it('merge to the same whichever side is called mine, where nothing is in conflict', () => {
    const numbers = fc.record({
      a: fc.integer({ min: 0, max: 2 }),
      b: fc.integer({ min: 0, max: 2 }),
      c: fc.integer({ min: 0, max: 2 }),
    });
    fc.assert(
      fc.property(numbers, numbers, numbers, (base, p, q) => {
        const make = (morphs: object) =>
          ({ type: 'scene', id: 'scene', morphs }) as unknown as AuthoredRecord;
        const [one, other] = [
          mergeRecords(make(base), make(p), make(q)),
          mergeRecords(make(base), make(q), make(p)),
        ];
        expect(one.conflicts.length).equal(other.conflicts.length);
        if (one.conflicts.length === 0) expect(one.record).deep.equal(other.record);
      }),
    );
  });
});

describe('two changes of one map', () => {
  it('are both kept where they touch different vertices, and counted where they touch the same', () => {
    fc.assert(
      fc.property(
        fc.array(
          fc.tuple(
            fc.integer({ min: 0, max: 3 }),
            fc.integer({ min: 0, max: 3 }),
            fc.integer({ min: 0, max: 3 }),
          ),
          { minLength: 1, maxLength: 30 },
        ),
        (rows) => {
          const [base, mine, theirs] = [0, 1, 2].map((k) => Float32Array.from(rows, (row) => row[k]!));
          const { values, conflicts } = mergeValues({ before: base!, after: mine! }, mine!, theirs!);
          let expected = 0;
          rows.forEach(([b, m, t], i) => {
            if (m !== b && t !== b && m !== t) expected++;
            expect(values![i]).equal(m !== b ? m : t);
          });
          expect(conflicts).equal(expected);
        },
      ),
    );
  });

  it('are read from a stroke as from a whole array', () => {
    const [base, mine, theirs] = [
      Float32Array.of(0, 0, 0, 0),
      Float32Array.of(0, 1, 0, 0),
      Float32Array.of(2, 0, 0, 0),
    ];
    const stroke = { indices: Uint32Array.of(1), before: Float32Array.of(0), after: Float32Array.of(1) };
    expect(mergeValues(stroke, mine, theirs)).deep.equal({
      values: Float32Array.of(2, 1, 0, 0),
      conflicts: 0,
    });
    expect(mergeValues({ before: base, after: mine }, mine, theirs).conflicts).equal(0);
    // The other side's mesh has other vertices.
    expect(mergeValues(stroke, mine, new Float32Array(3)).conflicts).above(0);
  });
});
