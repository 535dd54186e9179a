import { expect } from 'chai';
import {
  BODY_DEFAULTS,
  type BodyRecord,
  createDocument,
  listRecords,
  type RecordId,
} from '../../core/document/index.ts';
import { createWardrobe } from '../../core/prepare/test-wardrobe.ts';
import { copyBodies, placeCopiedBodies, readCopiedBodies } from './body-clipboard.ts';
import { Editor } from './editor.ts';
import { useLocalStorage } from './test-storage.ts';

describe('copied bodies', () => {
  const kept = useLocalStorage();

  function copy(names: readonly string[]): Editor {
    const editor = new Editor(createWardrobe(), createDocument());
    editor.ensureBodySet();
    const set = listRecords(editor.document, 'bodySet')[0]!;
    const ids = names.map((name): RecordId => {
      const id = name as RecordId;
      const body: BodyRecord = {
        type: 'body',
        id,
        bodySetId: set.id,
        name,
        jointName: name,
        shape: { kind: 'sphere', a: [0, 0.1, 0], b: [0, 0.1, 0], radiusA: 0.05, radiusB: 0.05 },
        ...BODY_DEFAULTS,
        margin: 0.002,
      };
      editor.changeRecords('Add', [[id, body]]);
      return id;
    });
    copyBodies(editor, set, ids.slice(1));
    return editor;
  }

  it('are those that were chosen, as they were', () => {
    const editor = copy(['hip', 'knee']);
    const placed = placeCopiedBodies(editor);
    expect(placed.map(({ name, scale }) => [name, scale])).deep.equal([['knee', 1]]);
    const knee = editor.document.records.get('knee' as RecordId) as BodyRecord;
    const { id: _id, bodySetId: _set, ...rest } = knee;
    expect(placed[0]!.body).deep.equal(rest);
  });

  it('go onto joints of like names, and tell of joints that are not there', () => {
    copy(['hip', 'hip', 'knee']);
    const character = createWardrobe();
    character.skeleton.names[0] = 'Other:HIP';
    character.skeleton.names[1] = 'shin';
    const placed = placeCopiedBodies({ character });
    expect(placed.map(({ joint, onto }) => [joint, onto])).deep.equal([
      ['hip', 'Other:HIP'],
      ['knee', null],
    ]);
  });

  it('are none when nothing was copied, or something that is no body', () => {
    const character = createWardrobe();
    expect(readCopiedBodies()).equal(null);
    for (const text of ['', '{', '17', 'null', '{"format":"cobweb-body-set","version":99}']) {
      kept.set('body-clipboard', text);
      expect(readCopiedBodies(), text).equal(null);
      expect(placeCopiedBodies({ character })).deep.equal([]);
    }
  });
});
