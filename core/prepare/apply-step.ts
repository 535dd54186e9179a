import { type AuthoredDocument, findSection, listBodySections, type StepRecord } from '../document/index.ts';
import { assert } from '../math/index.ts';
import type { Character, Section } from '../rig/index.ts';
import { unpackHandwork } from './handwork.ts';
import { replaceSection } from './section-mesh.ts';
import { cutSection } from './steps/cut-section.ts';
import { dropFaces } from './steps/drop-faces.ts';
import {
  handOver,
  limitSectionWeights,
  smoothSectionWeights,
  transferWeights,
} from './steps/edit-weights.ts';
import { evenOut } from './steps/even-out.ts';
import { joinRows } from './steps/join-rows.ts';
import { makeCardSurface } from './steps/make-card.ts';
import { createSimSection, makeSimSurface, unpackSurface } from './steps/make-sim-mesh.ts';
import { movePoints } from './steps/move-points.ts';
import { pushOut } from './steps/push-out.ts';
import { restInPose } from './steps/rest-in-pose.ts';
import { setWeights } from './steps/set-weights.ts';
import { splitPieces } from './steps/split-pieces.ts';
import { thicken } from './steps/thicken.ts';
import { transferMorphs } from './steps/transfer-morphs.ts';
import { alignDiagonals, turnFaces } from './steps/turn-faces.ts';
import { weldSection } from './steps/weld.ts';

/**
 * The character after one step of preparation. Shares every section that the step does not touch.
 *
 * @param document - For what a step needs beside itself: which sections are body, and surfaces kept beside steps.
 * @throws {RangeError} When the step cannot be applied to this character, with the reason.
 */
export function applyStep(
  character: Character,
  step: StepRecord,
  document: AuthoredDocument,
  onProgress: (share: number) => void = () => {},
): Character {
  const index = findSection(character, step);
  if (index < 0) throw new RangeError(`there is no section "${step.sectionName}"`);
  const change = (section: Section): Character => replaceSection(character, index, section);
  const { act } = step;
  switch (act.kind) {
    case 'weld':
      return change(weldSection(character, index));
    case 'dropFaces':
      return change(dropFaces(character, index));
    case 'turnFaces':
      return change(turnFaces(character, index));
    case 'joinRows':
      return change(joinRows(character, index));
    case 'alignDiagonals':
      return change(alignDiagonals(character, index));
    case 'splitPieces':
      return splitPieces(character, index);
    case 'cut':
      return cutSection(character, index, act.name, document.arrays.get(step.id));
    case 'evenOut':
      return change(evenOut(character, index, act.edgeLength));
    case 'pushOut':
      return change(pushOut(character, index, listBodySections(document, character), act.offset));
    case 'restInPose':
      return change(restInPose(character, index, act.clipName));
    case 'transferWeights': {
      const { maxDistance, maxAngle, influences } = act;
      const body = listBodySections(document, character);
      return change(
        transferWeights(character, index, body, { maxDistance, maxAngle, influences, onProgress }).section,
      );
    }
    case 'transferMorphs': {
      const { maxDistance, maxAngle } = act;
      const body = listBodySections(document, character);
      return change(transferMorphs(character, index, body, { maxDistance, maxAngle, onProgress }));
    }
    case 'handOverWeights':
      return change(handOver(character, index, act.keptJoints, act.toJoint));
    case 'smoothWeights':
      return change(smoothSectionWeights(character, index, act.strength, act.times));
    case 'limitWeights':
      return change(limitSectionWeights(character, index, act.influences, act.least));
    case 'thicken':
      return change(thicken(character, index, act.thickness, act.rim));
    case 'movePoints': {
      const handwork = unpackHandwork(document.arrays.get(step.id));
      return change(movePoints(character, index, handwork, act.keepsLengths));
    }
    case 'setWeights':
      return change(setWeights(character, index, act.joints, unpackHandwork(document.arrays.get(step.id))));
    case 'useAsSimMesh':
      return change({ ...character.sections[index]!, isSimMesh: true });
    case 'makeCard':
    case 'makeSimMesh': {
      const others = act.others.map((other) => findSection(character, other));
      const lost = others.indexOf(-1);
      if (lost >= 0) throw new RangeError(`there is no section "${act.others[lost]!.sectionName}"`);
      const indices = [index, ...others];
      const surface =
        act.kind === 'makeCard'
          ? makeCardSurface(character, indices, act.rows)
          : (unpackSurface(document.arrays.get(step.id)) ??
            makeSimSurface(character, indices, act, onProgress));
      return replaceSection(
        character,
        character.sections.length,
        createSimSection(character, indices, surface),
      );
    }
    default: {
      const unknown: never = act;
      assert(false, `there is no step ${JSON.stringify(unknown)}`);
      return character;
    }
  }
}
