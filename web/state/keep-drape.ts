import type { RecordId } from '../../core/document/index.ts';
import type { Editor } from './editor.ts';
import type { Preparing } from './preparing.ts';
import type { PreviewClient } from './preview-client.ts';
import { putShapes } from './put-shapes.ts';
import { getSectionMesh } from './section-mesh.ts';

/**
 * Takes the places of the last finished frame, which must be of the bind pose, as the shape of a garment's simulated
 * section and of what is drawn in its place.
 *
 * @throws {Error} When the garment is not simulated.
 */
export async function keepDrape(
  { editor, preparing, preview }: { editor: Editor; preparing: Preparing; preview: PreviewClient },
  garmentId: RecordId,
  keepsLengths: boolean,
): Promise<void> {
  const frame = preview.readFrame();
  const layout = frame?.layout.garments.find(({ id }) => id === garmentId);
  if (!frame || !layout) throw new Error('the garment is not simulated now');
  const changes = [layout, ...layout.renders].map(({ sectionIndex, positions }) => {
    const mesh = getSectionMesh(editor.character, sectionIndex);
    const displacements = new Float32Array(mesh.pointPositions.length);
    mesh.vertexOfPoint.forEach((vertex, p) => {
      for (let k = 0; k < 3; k++)
        displacements[3 * p + k] =
          frame.floats[positions + 3 * vertex + k]! - mesh.pointPositions[3 * p + k]!;
    });
    return {
      section: { sectionIndex, sectionName: editor.character.sections[sectionIndex]!.name },
      displacements,
    };
  });
  const garment = editor.document.records.get(garmentId);
  await putShapes(
    { editor, preparing },
    `Drape ${garment?.type === 'garment' ? garment.name : ''}`,
    changes,
    keepsLengths,
  );
}
