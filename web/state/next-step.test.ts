import { expect } from 'chai';
import { createSheet, createTestCharacter } from '../../core/cloth/test-cloth.ts';
import {
  BODY_DEFAULTS,
  type BodyRecord,
  createDocument,
  findChannel,
  listGarments,
  type RecordId,
} from '../../core/document/index.ts';
import { Editor } from './editor.ts';
import { findNextStep, type NextStep, type WorkState } from './next-step.ts';

describe('the next step', () => {
  const sheet = createSheet(4, 4, (u, v) => [u, -v, 0]);
  const editor = new Editor(createTestCharacter(sheet.positions, sheet.triangles), createDocument());
  const tell = (more: Partial<WorkState> = {}): NextStep | null =>
    findNextStep({
      document: editor.document,
      garmentId: null,
      newest: null,
      isShipped: false,
      hasClips: true,
      ...more,
    });

  it('leads from a bare character to a finished file, one thing at a time', () => {
    expect(tell()!.stage).equal('garment');
    const id = editor.addGarment(0);
    const garment = listGarments(editor.document).find((one) => one.id === id)!;
    expect(tell()).include({ stage: 'reach', title: 'Let the cloth move' });
    expect(tell()!.why).contain(garment.name);
    editor.document.arrays.get(findChannel(editor.document, id)!.id)!.fill(0.1, 0, 1);
    expect(tell()!.stage).equal('bodies');
    const body: BodyRecord = {
      ...BODY_DEFAULTS,
      type: 'body',
      id: 'body' as RecordId,
      bodySetId: garment.bodySetId,
      name: 'thigh',
      jointName: 'root',
      shape: { kind: 'sphere', a: [0, 0, 0], b: [0, 0, 0], radiusA: 0.1, radiusB: 0.1 },
    };
    editor.document.records.set(body.id, body);
    expect(tell()).include({ stage: 'trials', title: 'Prove it on every clip' });
    expect(tell({ newest: { fits: false, broken: 0 } })!.why).contain('earlier state');
    expect(tell({ newest: { fits: true, broken: 1 } })!.why).match(/^1 limit is broken/);
    expect(tell({ newest: { fits: true, broken: 3 } })!.why).match(/^3 limits are broken/);
    expect(tell({ newest: { fits: true, broken: 0 } })!.stage).equal('ship');
    expect(tell({ newest: { fits: true, broken: 0 }, isShipped: true })).equal(null);
  });

  it('asks for no trial where there is no clip', () => {
    expect(tell({ hasClips: false })!.stage).equal('ship');
  });
});
