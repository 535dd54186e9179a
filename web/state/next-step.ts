import {
  type AuthoredDocument,
  countBodies,
  findChannel,
  type GarmentRecord,
  listGarments,
  type RecordId,
} from '../../core/document/index.ts';
import { tellCount } from '../../core/math/index.ts';
import type { Stage } from './session.ts';

/** What the way to a finished character depends on. */
export interface WorkState {
  document: AuthoredDocument;
  /** The selected garment. */
  garmentId: RecordId | null;
  /** The newest trial; null without one. */
  newest: { fits: boolean; broken: number } | null;
  isShipped: boolean;
  hasClips: boolean;
}

/** What to do next, where, and why. */
export interface NextStep {
  stage: Stage;
  title: string;
  why: string;
}

/** The first thing that is missing before a character is finished; null when nothing is. */
export function findNextStep({
  document,
  garmentId,
  newest,
  isShipped,
  hasClips,
}: WorkState): NextStep | null {
  const garments = listGarments(document);
  if (garments.length === 0) {
    return {
      stage: 'garment',
      title: 'Make a garment',
      why: 'Choose the section that is cloth. It begins held everywhere, so nothing looks different yet.',
    };
  }
  const inOrder = [...garments].sort((p, q) => Number(q.id === garmentId) - Number(p.id === garmentId));
  const held = inOrder.find((garment) => isHeld(document, garment));
  if (held) {
    return {
      stage: 'reach',
      title: 'Let the cloth move',
      why: `Every vertex of ${held.name} is held: it follows the body as skin does, and no fabric shows. Paint how far it may move, flood it, or have it suggested from the clips.`,
    };
  }
  const bare = inOrder.find(({ bodySetId }) => countBodies(document, bodySetId) === 0);
  if (bare) {
    return {
      stage: 'bodies',
      title: 'Keep the cloth out of the body',
      why: `Nothing stands in the way of ${bare.name}. Have bodies suggested, or add them by hand.`,
    };
  }
  if (!hasClips) return isShipped ? null : SHIP;
  if (!newest?.fits) {
    return {
      stage: 'trials',
      title: 'Prove it on every clip',
      why: newest
        ? 'The newest trial is of an earlier state. Run one of what is here now.'
        : 'A trial runs all clips and measures where skin shows, cloth stretches or shakes.',
    };
  }
  if (newest.broken > 0) {
    return {
      stage: 'trials',
      title: 'See what fails',
      why: `${tellCount(newest.broken, 'limit')} ${newest.broken === 1 ? 'is' : 'are'} broken in the newest trial: each leads to its frame and place.`,
    };
  }
  return isShipped ? null : SHIP;
}

const SHIP: NextStep = {
  stage: 'ship',
  title: 'Write the file',
  why: 'One file for the engine, with all of this in it, checked by a validator.',
};

/** Whether no vertex of a garment may move. */
export function isHeld(document: AuthoredDocument, garment: GarmentRecord): boolean {
  const channel = findChannel(document, garment.id);
  return !channel || !document.arrays.get(channel.id)?.some((value) => value > 0);
}
