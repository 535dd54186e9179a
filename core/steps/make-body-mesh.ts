import { tellVertices } from '../math/index.ts';
import { fitSurface, reduceSurface, type Surface } from '../mesh/index.ts';
import type { Character } from '../rig/index.ts';
import { chooseSectionName } from './choose-section-name.ts';
import { collectSkin } from './collect-skin.ts';
import { packSurface, unpackSurface } from './pack-surface.ts';
import { resampleSection } from './resample-section.ts';
import { replaceSection } from './section-mesh.ts';
import { findStoodFor } from './sim-section.ts';
import { defineStep } from './step-definition.ts';
import { jointNamesField, nameField, sectionsField, vertexCountField } from './step-fields.ts';

/** Share of the progress that reducing takes. */
const REDUCE_SHARE = 0.8;

export interface BodyMeshSettings {
  /** Vertices that it may have at most. */
  vertexCount: number;
  /** Names of joints whose skin is left out. */
  without: readonly string[];
}

/**
 * A mesh of few vertices over the skin of some sections, as near to it within as beyond, in world space of the bind pose.
 * @throws {RangeError} When nothing of the skin is left.
 */
export function makeBodySurface(
  character: Character,
  sectionIndices: readonly number[],
  { vertexCount, without }: BodyMeshSettings,
  onProgress: (share: number) => void = () => {},
): Surface {
  const skin = collectSkin(character, sectionIndices, without);
  if (skin.triangles.length === 0)
    throw new RangeError('all of the skin is left out; take some of the joints back in');
  const reduced = reduceSurface(skin, {
    pointCount: vertexCount,
    onProgress: (share) => onProgress(REDUCE_SHARE * share),
  });
  const fitted = fitSurface(reduced, skin);
  onProgress(1);
  return fitted;
}

/**
 * A mesh of few vertices over the skin of this section and more, for cloth to be kept out of. Its surface is kept beside the step. It has a
 * name of its own, so that it keeps it when another one goes.
 */
export const makeBodyMeshStep = defineStep({
  kind: 'makeBodyMesh',
  fields: {
    name: nameField,
    vertexCount: vertexCountField,
    without: jointNamesField,
    others: sectionsField,
  },
  describe: ({ vertexCount, without }) =>
    `body mesh of ${tellVertices(vertexCount)}${without.length > 0 ? `, without ${without.length === 1 ? without[0] : `${without.length} joints`}` : ''}`,
  others: ({ others }) => others,
  renameOthers: (act, rename) => ({ ...act, others: act.others.map(rename) }),
  makeArray: (context, act) =>
    packSurface(
      makeBodySurface(context.character, findStoodFor(context, act.others), act, context.onProgress),
    ),
  apply: (context, act) => {
    const { character, array, onProgress } = context;
    const sections = findStoodFor(context, act.others);
    const surface = unpackSurface(array) ?? makeBodySurface(character, sections, act, onProgress);
    const made = character.sections.length;
    const section = {
      ...resampleSection(character, sections, surface, { skipsUvs: true }),
      name: chooseSectionName(character, act.name),
      colors: null,
      isSimMesh: true,
    };
    const count = surface.positions.length / 3;
    return {
      character: replaceSection(character, made, section),
      made: [made],
      faults:
        count > act.vertexCount
          ? [`It has ${tellVertices(count)}: the skin has too many separate pieces and openings for fewer.`]
          : [],
    };
  },
});
