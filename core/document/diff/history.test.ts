import { expect } from 'chai';
import type { RecordId } from '../index.ts';
import { createDiff, type DocumentDiff, History } from './index.ts';

describe('history', () => {
  const named = (name: string): DocumentDiff => {
    const diff = createDiff();
    diff.records.set('x' as RecordId, [
      null,
      { type: 'bodySet', id: 'x' as RecordId, name, follows: 'skin' },
    ]);
    return diff;
  };
  const listLabels = (history: History): string[] => {
    const labels: string[] = [];
    for (;;) {
      const entry = history.popUndo();
      if (!entry) return labels.reverse();
      labels.push(entry.label);
    }
  };

  it('joins changes of one gesture, however long it takes, and no others', () => {
    const history = new History();
    history.push('slide', named('a'), 'slider');
    history.push('slide', named('b'), 'slider');
    history.mark();
    history.push('slide again', named('c'), 'slider');
    history.push('other', named('d'), 'other');
    history.push('alone', named('e'), null);
    history.push('alone', named('f'), null);
    const [, after] = history.popUndo()!.diff.records.get('x' as RecordId)!;
    expect(after).include({ name: 'f' });
    expect(listLabels(history)).deep.equal(['slide', 'slide again', 'other', 'alone']);
  });

  it('keeps a stroke one step, whatever happens in it', () => {
    const history = new History();
    history.push('before', named('a'), 'key');
    history.begin();
    history.push('stroke', named('b'), 'key');
    history.mark();
    history.push('inner', named('c'), null);
    history.begin();
    history.push('nested', named('d'), 'other');
    history.end();
    history.push('rest', named('e'), null);
    history.end();
    history.push('after', named('f'), 'other');
    expect(listLabels(history)).deep.equal(['before', 'stroke', 'after']);
    expect(() => history.end()).throw('not begun');
  });

  it('names each step, so that one is known from another', () => {
    const history = new History();
    expect(history.newestId).equal(null);
    history.push('a', named('a'), null);
    const first = history.newestId;
    history.push('b', named('b'), null);
    expect(history.newestId).not.equal(first);
    history.popUndo();
    expect(history.newestId).equal(first);
    history.popRedo();
    history.popUndo();
    history.push('c', named('c'), null);
    expect(history.newestId).not.equal(first);
  });

  it('joins nothing to a step that was taken back and done again', () => {
    const history = new History();
    history.push('slide', named('a'), 'slider');
    history.popUndo();
    history.popRedo();
    history.push('slide', named('b'), 'slider');
    expect(listLabels(history)).deep.equal(['slide', 'slide']);
  });

  it('drops what could be done again once something else is done', () => {
    const history = new History();
    history.push('a', named('a'), null);
    history.popUndo();
    expect(history.redoLabel).equal('a');
    history.push('b', named('b'), null);
    expect(history.redoLabel).equal(null);
  });
});
