import { countBodies, listGarments } from '../../../../core/document/index.ts';
import { isHeld } from '../../../state/next-step.ts';
import type { Stage } from '../../../state/session.ts';
import type { Workbench } from '../../../state/workbench.ts';

export interface TourStep {
  id: string;
  title: string;
  text: string;
  /** Where it is done; null where that does not matter. */
  stage: Stage | null;
  /** Selectors of the control to point at; the first that is on the screen. */
  targets: readonly string[];
  /** What is remembered of the moment at which the step was come to. */
  remember?(workbench: Workbench): string;
  isDone(workbench: Workbench, before: string): boolean;
}

const region = (name: string): string => `section[aria-label="${name}"]`;

/** From a file to a finished character, in the order of the stages. */
export const TOUR_STEPS: readonly TourStep[] = [
  {
    id: 'garment',
    title: 'Make a section a garment',
    text: 'Press Make beside the section that is cloth.',
    stage: 'garment',
    targets: ['[data-tour="free-sections"]'],
    isDone: ({ editor }) => listGarments(editor.document).length > 0,
  },
  {
    id: 'clip',
    title: 'Choose a clip',
    text: 'The cloth is simulated while the clip plays, and all the while you work.',
    stage: null,
    targets: ['[aria-label="Clips"]'],
    isDone: ({ session }) => session.state.clip !== null,
  },
  {
    id: 'reach',
    title: 'Let the cloth move',
    text: 'So far every vertex is held. Have a first map suggested from the clips, or paint with the brush.',
    stage: 'reach',
    targets: [region('Suggestion')],
    isDone: ({ editor }) => {
      const garments = listGarments(editor.document);
      return garments.length > 0 && !garments.every((garment) => isHeld(editor.document, garment));
    },
  },
  {
    id: 'bodies',
    title: 'Keep it out of the body',
    text: 'Press Suggest bodies, then Suggest; when the sets are there, choose one and use it.',
    stage: 'bodies',
    targets: [region('Suggest bodies'), '[data-tour="suggest-bodies"]'],
    isDone: ({ editor }) =>
      listGarments(editor.document).some(({ bodySetId }) => countBodies(editor.document, bodySetId) > 0),
  },
  {
    id: 'fabric',
    title: 'Choose a fabric',
    text: 'Each is a real cloth in real units. Try another one, or move a slider, and watch it hang.',
    stage: 'fabric',
    targets: ['[aria-label="Fabric"]'],
    remember: readFabrics,
    isDone: (workbench, before) => readFabrics(workbench) !== before,
  },
  {
    id: 'trial',
    title: 'Prove it on every clip',
    text: 'Run a trial. It measures where skin shows through and where cloth stretches or shakes; a cell leads to its frame.',
    stage: 'trials',
    targets: [region('Run')],
    remember: ({ trials }) => trials.store.state.trials[0]?.id ?? '',
    isDone: ({ trials }, before) => (trials.store.state.trials[0]?.id ?? '') !== before,
  },
  {
    id: 'ship',
    title: 'Write the file',
    text: 'One binary glTF with everything in it, checked by a validator.',
    stage: 'ship',
    targets: ['[data-tour="write-file"]'],
    isDone: () => document.querySelector('[data-shipment]') !== null,
  },
];

/** All fabrics in use, to tell whether one was changed. */
function readFabrics({ editor: { document } }: Workbench): string {
  return JSON.stringify(listGarments(document).map(({ fabricId }) => document.records.get(fabricId)));
}
