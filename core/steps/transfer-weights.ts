import { fillSmoothly, findInnerSide, pairShells } from '../mesh/index.ts';
import {
  type Character,
  type Section,
  type TransferOptions,
  type TransferOutcome,
  transferFields,
} from '../rig/index.ts';
import { spreadWeights } from './edit-weights.ts';
import { joinSections } from './join-sections.ts';
import { createSectionMesh } from './section-mesh.ts';
import { defineStep, replaceOwn } from './step-definition.ts';
import { angleField, influencesField, lengthField } from './step-fields.ts';
import { tellMisplaced } from './tell-misplaced.ts';

export interface WeightTransfer {
  section: Section;
  outcome: Omit<TransferOutcome, 'values'>;
}

/**
 * Skin weights of the body for a garment, see `transferFields`. The garment takes over the body's skin.
 *
 * @param bodySections - Sections of one skin that are the body.
 * @throws {RangeError} Without a body, or when nothing is near it, with a guess why.
 */
export function transferWeights(
  character: Character,
  sectionIndex: number,
  bodySections: readonly number[],
  { influences = 4, ...options }: TransferOptions & { influences?: number } = {},
): WeightTransfer {
  const skinned = bodySections.filter(
    (index) => index !== sectionIndex && !character.sections[index]!.isRigid,
  );
  const skinIndex = character.sections[skinned[0] ?? -1]?.skin;
  if (skinIndex === undefined) throw new RangeError('there is no skinned body to take weights from');
  const jointCount = character.skins[skinIndex]!.joints.length;
  const body = joinSections(
    character,
    skinned.filter((index) => character.sections[index]!.skin === skinIndex),
    jointCount,
  );
  const mesh = createSectionMesh(character, sectionIndex);
  const isInner = findInnerSide(mesh);
  const outerFaces = listOuterFaces(mesh.faces, isInner);
  const { values, ...outcome } = transferFields(
    { positions: mesh.pointPositions, triangles: outerFaces },
    body,
    body.weights,
    jointCount,
    options,
  );
  const misplaced = outcome.matched === 0 ? tellMisplaced(mesh.pointPositions, body.positions) : null;
  if (misplaced) throw new RangeError(misplaced);
  // The inside faces the skin's other way; it moves with the outside that it lies behind, and rims between the two.
  const isKnown = new Uint8Array(mesh.pointCount);
  const reached = new Set(outerFaces);
  for (const point of reached) isKnown[point] = 1;
  const within = mesh.pointCount - reached.size;
  pairShells(mesh).forEach((partner, p) => {
    if (!isInner[p] || partner < 0) return;
    isKnown[p] = 1;
    values.copyWithin(p * jointCount, partner * jointCount, (partner + 1) * jointCount);
  });
  // Points of no outer face were transferred without a surface around them.
  isKnown.forEach((known, p) => {
    if (!known) values.fill(0, p * jointCount, (p + 1) * jointCount);
  });
  fillSmoothly({ positions: mesh.pointPositions, triangles: mesh.faces }, values, jointCount, isKnown);
  for (let i = 0; i < values.length; i++) values[i] = Math.max(0, values[i]!);
  const section = character.sections[sectionIndex]!;
  const weights = spreadWeights(values, jointCount, section, mesh.pointOfVertex, { influences });
  return {
    section: { ...section, ...weights, skin: skinIndex, isRigid: false },
    outcome: { ...outcome, filled: outcome.filled + within, farOff: outcome.farOff - within },
  };
}

function listOuterFaces(faces: Uint32Array, isInner: Uint8Array): Uint32Array {
  return faces.filter((_, i) => {
    const f = i - (i % 3);
    return !isInner[faces[f]!] && !isInner[faces[f + 1]!] && !isInner[faces[f + 2]!];
  });
}

export const transferWeightsStep = defineStep({
  kind: 'transferWeights',
  fields: { maxDistance: lengthField, maxAngle: angleField, influences: influencesField },
  describe: () => 'weights from the body',
  apply: (context, { kind: _kind, ...settings }) => {
    const { character, sectionIndex, onProgress } = context;
    const options = { ...settings, onProgress };
    return replaceOwn(context, transferWeights(character, sectionIndex, context.listBody(), options).section);
  },
});
