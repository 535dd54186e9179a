import type { Pricing } from '../../../core/cost/index.ts';
import { getScene, listGarments } from '../../../core/document/index.ts';
import {
  type BandFigures,
  countSwitchFrames,
  listBands,
  makeLevelMeshes,
  measureSwitch,
  placeLevels,
  setUpLevel,
  summariseBand,
} from '../../../core/levels/index.ts';
import { SurfaceCache } from '../../../core/prepare/index.ts';
import { countCaseFrames, type TrialCase } from '../../../core/trials/index.ts';
import { playCase } from './play-case.ts';
import type { KnownSubject } from './subject.ts';

/** A band of levels, to be played on some cases and gone over to from the band before. */
export interface BandJob {
  cases: readonly TrialCase[];
  /** Among those of the document, from near to far. */
  band: number;
  pricing: Pricing;
}

/** Plays all cases at a band. @param onDone - Told how many frames are measured. */
export function measureBand(
  known: KnownSubject,
  { cases, band, pricing }: BandJob,
  onDone: (frames: number) => void,
): BandFigures {
  const { character, document } = known;
  known.surfaces ??= new SurfaceCache();
  const bands = listBands(listGarments(document));
  const near = bands.slice(Math.max(0, band - 1), band + 1);
  const made = makeLevelMeshes(character, document, near, known.surfaces);
  const { levels } = bands[band]!;
  const placed = { character: made.character, document: placeLevels(document, made, levels) };
  let before = 0;
  const rows = cases.map((trialCase) => {
    const played = { ...placed, cache: known.cache, levels, pricing };
    const found = playCase(played, trialCase, (frames) => onDone(before + frames));
    before += found.times.length;
    return found;
  });
  const [motion] = cases.flatMap(({ motion }) => (motion.kind === 'clip' ? [motion] : []));
  const switchTo =
    band > 0 && motion
      ? measureSwitch(setUpLevel(document, made, near[0]!), setUpLevel(document, made, near[1]!), {
          clip: motion.clip,
          seconds: getScene(document).levelSwitchSeconds,
          pricing,
        })
      : null;
  if (switchTo) onDone(before + countSwitchFrames(getScene(document).levelSwitchSeconds));
  return summariseBand(rows, pricing, { switchTo, faults: made.faults });
}

/** Frames that a band counts as. */
export function countBandFrames(
  cases: readonly TrialCase[],
  character: Parameters<typeof countCaseFrames>[1],
  band: number,
  switchSeconds: number,
): number {
  const played = cases.reduce((sum, each) => sum + countCaseFrames(each, character), 0);
  return played + (band > 0 ? countSwitchFrames(switchSeconds) : 0);
}
