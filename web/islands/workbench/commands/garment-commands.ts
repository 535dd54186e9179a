import { listFreeSections, listGarments } from '../../../../core/document/index.ts';
import type { Command, CommandContext } from './command.ts';

/** One command for each garment, and for each section that could become one. */
export function listGarmentCommands({ workbench }: CommandContext): Command[] {
  const { editor, session } = workbench;
  const { sections } = editor.character;
  return [
    ...listGarments(editor.document).map(
      ({ id, name }): Command => ({
        id: `garment-${id}`,
        label: `Select ${name}`,
        group: 'Garments',
        run: () => workbench.selectGarment(id),
      }),
    ),
    ...listFreeSections(editor.document, sections).map(
      (index): Command => ({
        id: `make-${index}`,
        label: `Make ${sections[index]!.name} a garment`,
        group: 'Garments',
        run: () => session.set({ garmentId: editor.addGarment(index), stage: 'garment' }),
      }),
    ),
  ];
}
