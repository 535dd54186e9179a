import { remesh, type Surface } from '../mesh/index.ts';
import type { Character } from '../rig/index.ts';
import { collectOuterSurface } from './collect-outer-surface.ts';
import { packSurface, unpackSurface } from './pack-surface.ts';
import { addSimSection, findStoodFor } from './sim-section.ts';
import { defineStep } from './step-definition.ts';
import { lengthField, sectionsField, shareField, tellCentimetres } from './step-fields.ts';

export interface SimSurfaceSettings {
  /** Metres. */
  edgeLength: number;
  /** 0 to 1. */
  borderDetail: number;
}

/** An even mesh over some sections, in world space of the bind pose. */
export function makeSimSurface(
  character: Character,
  sectionIndices: readonly number[],
  { edgeLength, borderDetail }: SimSurfaceSettings,
  onProgress: (share: number) => void = () => {},
): Surface {
  const { seams, ...source } = collectOuterSurface(character, sectionIndices);
  return remesh(source, { edgeLength, borderDetail, lines: seams, onProgress });
}

/** An even mesh over this section and more, to be simulated in their place. Its surface is kept beside the step. */
export const makeSimMeshStep = defineStep({
  kind: 'makeSimMesh',
  fields: { edgeLength: lengthField, borderDetail: shareField, others: sectionsField },
  isSimMesh: true,
  describe: ({ edgeLength, borderDetail }) =>
    `sim mesh, ${tellCentimetres(edgeLength)}, border ${Math.round(100 * borderDetail)} %`,
  others: ({ others }) => others,
  renameOthers: (act, rename) => ({ ...act, others: act.others.map(rename) }),
  makeArray: (context, act) =>
    packSurface(
      makeSimSurface(context.character, findStoodFor(context, act.others), act, context.onProgress),
    ),
  apply: (context, act) => {
    const { character, array, onProgress } = context;
    const sections = findStoodFor(context, act.others);
    const surface = unpackSurface(array) ?? makeSimSurface(character, sections, act, onProgress);
    return addSimSection(character, sections, surface);
  },
});
