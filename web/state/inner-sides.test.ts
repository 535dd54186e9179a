import { expect } from 'chai';
import { createSheet, createTestCharacter } from '../../core/cloth/test-cloth.ts';
import { createDocument } from '../../core/document/index.ts';
import type { SectionName } from '../../core/rig/index.ts';
import { Editor } from './editor.ts';
import { InnerSides } from './inner-sides.ts';
import { ReachWork } from './reach-work.ts';
import { SESSION_START } from './session.ts';
import { Store } from './store.ts';

function open() {
  const sheet = createSheet(4, 4, (u, v) => [u, -v, 0]);
  const editor = new Editor(createTestCharacter(sheet.positions, sheet.triangles), createDocument());
  const garmentId = editor.addGarment(0);
  const asked: SectionName[] = [];
  let answer: () => Promise<Uint8Array> = async () => new Uint8Array(25).fill(1);
  const inner = new InnerSides(editor, {
    findInnerSide: (name) => {
      asked.push(name);
      return answer();
    },
  });
  const garment = () => editor.document.records.get(garmentId) as never as SectionName;
  return {
    editor,
    garmentId,
    garment,
    inner,
    asked,
    answerWith(next: typeof answer) {
      answer = next;
    },
  };
}

const settle = () => new Promise((resolve) => setTimeout(resolve, 0));

describe('inner sides', () => {
  it('are asked for once, told of when they are known, and asked anew for another mesh', async () => {
    const { editor, garment, inner, asked } = open();
    let told = 0;
    inner.store.subscribe(() => told++);
    expect([inner.get(garment()), inner.get(garment())]).deep.equal([null, null]);
    await settle();
    expect(inner.get(garment())!.length).equal(25);
    expect([asked.length, told]).deep.equal([1, 1]);
    const [section] = editor.character.sections;
    editor.takeCharacter({ ...editor.character, sections: [{ ...section! }] });
    expect(inner.get(garment())).equal(null);
    await settle();
    expect(asked.length).equal(2);
    expect(inner.get({ sectionIndex: 7, sectionName: 'gone' })).equal(null);
  });

  it('are asked for again when the question was cancelled', async () => {
    const { garment, inner, answerWith } = open();
    answerWith(() => Promise.reject(new Error('cancelled')));
    inner.get(garment());
    await settle();
    answerWith(async () => new Uint8Array(25));
    expect(inner.get(garment())).equal(null);
    await settle();
    expect(inner.get(garment())).not.equal(null);
  });

  it('are what a map of the lining begins with; until they are known there is none', async () => {
    const { editor, garmentId, inner } = open();
    const garment = editor.document.records.get(garmentId)!;
    if (garment.type === 'garment') editor.updateRecord('line', garment, { lining: 'inside' });
    const session = new Store({ ...SESSION_START, garmentId });
    const reach = new ReachWork(editor, session, inner);
    reach.choose('lining');
    expect(reach.ensure('lining')).equal(null);
    await settle();
    expect([...reach.ensure('lining')!.values]).deep.equal(new Array(25).fill(1));
  });
});
