import { expect } from 'chai';
import fc from 'fast-check';
import { type AuthoredDocument, createDocument, type RecordId } from '../index.ts';
import { applyDiff, createDiff, type DocumentDiff, History, invertDiff, mergeDiffs } from './index.ts';

type Operation =
  | { kind: 'record'; id: number; name: string | null }
  | { kind: 'paint'; id: number; at: number; value: number }
  | { kind: 'array'; id: number; values: number[] | null };

const id = fc.integer({ min: 0, max: 2 });
const operation: fc.Arbitrary<Operation> = fc.oneof(
  fc.record({
    kind: fc.constant('record' as const),
    id,
    name: fc.option(fc.string({ minLength: 1, maxLength: 3 })),
  }),
  fc.record({
    kind: fc.constant('paint' as const),
    id,
    at: fc.integer({ min: 0, max: 3 }),
    value: fc.integer({ min: 0, max: 9 }),
  }),
  fc.record({
    kind: fc.constant('array' as const),
    id,
    values: fc.option(fc.array(fc.integer({ min: 0, max: 9 }), { minLength: 4, maxLength: 4 })),
  }),
);

/** The diff of an operation on a document as it is now; empty when the operation does not apply. */
function toDiff(document: AuthoredDocument, op: Operation): DocumentDiff {
  const diff = createDiff();
  const recordId = `r${op.id}` as RecordId;
  if (op.kind === 'record') {
    const after =
      op.name === null ? null : ({ type: 'bodySet', id: recordId, name: op.name, follows: 'skin' } as const);
    diff.records.set(recordId, [document.records.get(recordId) ?? null, after]);
  } else if (op.kind === 'array') {
    diff.arrays.set(recordId, {
      before: document.arrays.get(recordId)?.slice() ?? null,
      after: op.values && Float32Array.from(op.values),
    });
  } else {
    const values = document.arrays.get(recordId);
    if (values)
      diff.arrays.set(recordId, {
        indices: Uint32Array.of(op.at),
        before: Float32Array.of(values[op.at]!),
        after: Float32Array.of(op.value),
      });
  }
  return diff;
}

const snapshot = (document: AuthoredDocument): unknown =>
  structuredClone([
    [...document.records].sort(),
    [...document.arrays].map(([key, values]) => [key, [...values]]).sort(),
  ]);

describe('diffs of the document', () => {
  it('invert and merge exactly (random operations)', () => {
    fc.assert(
      fc.property(fc.array(operation, { minLength: 1, maxLength: 30 }), (operations) => {
        const document = createDocument();
        const start = snapshot(document);
        let merged = createDiff();
        for (const op of operations) {
          const diff = toDiff(document, op);
          applyDiff(document, diff);
          merged = mergeDiffs(merged, diff);
        }
        const end = snapshot(document);
        applyDiff(document, invertDiff(merged));
        expect(snapshot(document)).deep.equal(start);
        applyDiff(document, merged);
        expect(snapshot(document)).deep.equal(end);
      }),
      { numRuns: 400 },
    );
  });

  it('go back and forth through a history to every state on the way (random operations)', () => {
    fc.assert(
      fc.property(fc.array(operation, { minLength: 1, maxLength: 20 }), (operations) => {
        const document = createDocument();
        const history = new History();
        const states = [snapshot(document)];
        for (const op of operations) {
          const diff = toDiff(document, op);
          applyDiff(document, diff);
          history.push(op.kind, diff, null);
          states.push(snapshot(document));
        }
        for (let i = operations.length - 1; i >= 0; i--) {
          applyDiff(document, invertDiff(history.popUndo()!.diff));
          expect(snapshot(document)).deep.equal(states[i]);
        }
        expect(history.popUndo()).equal(null);
        for (let i = 1; i <= operations.length; i++) {
          applyDiff(document, history.popRedo()!.diff);
          expect(snapshot(document)).deep.equal(states[i]);
        }
      }),
    );
  });
});
