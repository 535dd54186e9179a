import type { BodyFigures } from '../state/body-figures.ts';
import type { LooksClient } from '../state/looks-client.ts';
import type { PreviewClient } from '../state/preview-client.ts';
import type { ReachWork } from '../state/reach-work.ts';
import type { Workbench } from '../state/workbench.ts';

/** Where a viewport gets what it draws: a workbench, or one side of a comparison. */
export interface ViewportSource extends Pick<Workbench, 'editor' | 'session' | 'report'> {
  /** What the files look like. */
  readonly looks?: LooksClient;
  /** Painting; a comparison has none. */
  readonly reach?: ReachWork;
  /** How bodies fit; a comparison has none. */
  readonly bodyFigures?: BodyFigures;
  readonly preview: Pick<PreviewClient, 'readFrame' | 'store' | 'travels' | 'bodyIds' | 'send'>;
}
