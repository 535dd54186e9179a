import { mergeDisplacements } from '../../core/prepare/index.ts';
import { findSection, type SectionName } from '../../core/rig/index.ts';
import { packVertexEdits, type StepAct, unpackVertexEdits } from '../../core/steps/index.ts';
import type { Editor } from './editor.ts';
import type { Preparing } from './preparing.ts';
import { getSectionMesh } from './section-mesh.ts';

/** Ways that the points of a section were moved by, m, world space of the bind pose. [points, 3] */
export interface ShapeChange {
  section: SectionName;
  displacements: Float32Array;
}

/** Makes moved points of some sections part of the preparation, one undo step; a like step before takes them in. */
export async function putShapes(
  { editor, preparing }: { editor: Editor; preparing: Preparing },
  label: string,
  changes: readonly ShapeChange[],
  keepsLengths: boolean,
): Promise<void> {
  const act: StepAct = { kind: 'movePoints', keepsLengths };
  const entries = changes.map(({ section, displacements }) => {
    const last = preparing.findLastStep(section, 'movePoints');
    const into = last?.act.kind === 'movePoints' && last.act.keepsLengths === keepsLengths ? last : null;
    const known = into && unpackVertexEdits(editor.document.arrays.get(into.id));
    const mesh = getSectionMesh(editor.character, findSection(editor.character, section));
    return { section, act, packed: packVertexEdits(mergeDisplacements(known, mesh, displacements)), into };
  });
  await preparing.putEdits(label, entries);
}
