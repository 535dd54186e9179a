import { refuseTooDear, remesh, type Surface } from '../mesh/index.ts';
import { collectOuterSurface, type OuterSurface, type Sides } from './collect-outer-surface.ts';
import { packSurface, unpackSurface } from './pack-surface.ts';
import { addSimSection, findStoodFor } from './sim-section.ts';
import { defineStep } from './step-definition.ts';
import { lengthField, sectionsField, shareField, sidesField, tellCentimetres } from './step-fields.ts';

export interface SimSurfaceSettings {
  /** Metres. */
  edgeLength: number;
  /** 0 to 1. */
  borderDetail: number;
  sides?: Sides | undefined;
  /** It may take longer than a minute. */
  isForced?: boolean;
}

/**
 * An even mesh over what was collected of some sections, in world space of the bind pose.
 * @throws {RangeError} When it would be too large, or take too long.
 */
export function makeSimSurface(
  { seams, ...source }: OuterSurface,
  { edgeLength, borderDetail, isForced }: Omit<SimSurfaceSettings, 'sides'>,
  onProgress: (share: number) => void = () => {},
): Surface {
  refuseTooDear(source, edgeLength, isForced);
  return remesh(source, { edgeLength, borderDetail, lines: seams, onProgress });
}

const TOLD: Record<Sides, string> = { judged: '', outer: ', outer side', both: ', both sides' };

/** An even mesh over this section and more, to be simulated in their place. Its surface is kept beside the step. */
export const makeSimMeshStep = defineStep({
  kind: 'makeSimMesh',
  fields: { edgeLength: lengthField, borderDetail: shareField, sides: sidesField, others: sectionsField },
  isSimMesh: true,
  describe: ({ edgeLength, borderDetail, sides = 'judged' }) =>
    `sim mesh, ${tellCentimetres(edgeLength)}, border ${Math.round(100 * borderDetail)} %${TOLD[sides]}`,
  others: ({ others }) => others,
  renameOthers: (act, rename) => ({ ...act, others: act.others.map(rename) }),
  makeArray: (context, act) =>
    packSurface(
      makeSimSurface(
        collectOuterSurface(context.character, findStoodFor(context, act.others), act.sides),
        act,
        context.onProgress,
      ),
    ),
  apply: (context, act) => {
    const { character, array, onProgress } = context;
    const sections = findStoodFor(context, act.others);
    const surface =
      unpackSurface(array) ??
      makeSimSurface(collectOuterSurface(character, sections, act.sides), act, onProgress);
    return addSimSection(character, sections, surface);
  },
});
