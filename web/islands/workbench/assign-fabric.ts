import { LIBRARY_FABRICS } from '../../../core/cloth/index.ts';
import type { RecordId } from '../../../core/document/index.ts';
import type { Workbench } from '../../state/workbench.ts';
import { toastUndo } from '../parts/toast-undo.ts';

/** Gives a garment a fabric of the library, and selects it. */
export function assignFabric({ editor, session }: Workbench, garmentId: RecordId, fabricName: string): void {
  const model = LIBRARY_FABRICS.find(({ name }) => name === fabricName);
  const garment = editor.document.records.get(garmentId);
  if (!model || garment?.type !== 'garment') return;
  const fabric = editor.document.records.get(garment.fabricId);
  if (fabric?.type !== 'fabric') return;
  editor.updateRecord(`Give ${garment.name} ${model.name}`, fabric, {
    name: model.name,
    settings: { ...model.settings },
  });
  session.set({ garmentId });
  toastUndo(editor, `${garment.name} is of ${model.name.toLowerCase()} now`);
}
