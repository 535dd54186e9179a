import { expect } from 'chai';
import { readCharacter } from '../../formats/index.ts';
import { createStrip } from '../../formats/test-gltf.ts';
import { groupNotes } from './group-notes.ts';

describe('notes of the intake', () => {
  it('of one kind are one line that says how many; a single one says itself', () => {
    const note = (code: string, where: string) => ({ code, where, sentence: `${code} at ${where}.` });
    const groups = groupNotes([
      note('node-name', 'a'),
      note('size', ''),
      note('node-name', 'b'),
      note('new kind', 'c'),
      note('new kind', 'd'),
    ]);
    expect(groups.map(({ title }) => title)).deep.equal([
      '2 nodes had no name, or that of another',
      'size at .',
      'new kind at c. 1 more like it.',
    ]);
    expect(groups[0]!.notes.map(({ where }) => where)).deep.equal(['a', 'b']);
  });

  it('of a file with many nameless nodes are one line', async () => {
    const builder = createStrip();
    for (const node of builder.json.nodes!) delete node.name;
    const { report } = await readCharacter([{ name: 'strip.glb', bytes: builder.toGlb() }]);
    const [group] = groupNotes(report.repairs.filter(({ code }) => code === 'node-name'));
    expect(group!.title).equal(`${builder.json.nodes!.length} nodes had no name, or that of another`);
  });
});
