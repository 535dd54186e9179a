import { defineStep, replaceOwn } from './step-definition.ts';

/** The section is simulated in place of others, and not drawn. */
export const useAsSimMeshStep = defineStep({
  kind: 'useAsSimMesh',
  fields: {},
  isSimMesh: true,
  describe: () => 'simulated in place of another',
  apply: (context) => {
    const section = context.character.sections[context.sectionIndex]!;
    const { character } = replaceOwn(context, { ...section, isSimMesh: true });
    return { character, made: [context.sectionIndex] };
  },
});
