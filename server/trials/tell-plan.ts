import type { TrialCase, TrialPlan } from '../../core/trials/index.ts';

/** What a trial plays, in words: "5 clips and 1 blend, 12 runs". */
export function tellPlan({ motions }: Pick<TrialPlan, 'motions'>, cases: readonly TrialCase[]): string {
  const clips = motions.filter(({ kind }) => kind === 'clip').length;
  const blends = motions.length - clips;
  const words = [clips > 0 && tellCount(clips, 'clip'), blends > 0 && tellCount(blends, 'blend')];
  return `${words.filter(Boolean).join(' and ')}, ${tellCount(cases.length, 'run')}`;
}

export function tellCount(count: number, one: string, several = `${one}s`): string {
  return `${count} ${count === 1 ? one : several}`;
}
