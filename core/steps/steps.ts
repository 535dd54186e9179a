import type { Schema } from 'yup';
import type { SectionName } from '../rig/index.ts';
import { alignDiagonalsStep } from './align-diagonals.ts';
import { cutStep } from './cut.ts';
import { dropFacesStep } from './drop-faces.ts';
import { evenOutStep } from './even-out.ts';
import { handOverWeightsStep } from './hand-over-weights.ts';
import { joinRowsStep } from './join-rows.ts';
import { limitWeightsStep } from './limit-weights.ts';
import { makeBodyMeshStep } from './make-body-mesh.ts';
import { makeCardStep } from './make-card.ts';
import { makeSimMeshStep } from './make-sim-mesh.ts';
import { mendNormalsStep } from './mend-normals.ts';
import { movePointsStep } from './move-points.ts';
import { placeStep } from './place.ts';
import { pushOutStep } from './push-out.ts';
import { restInPoseStep } from './rest-in-pose.ts';
import { setWeightsStep } from './set-weights.ts';
import { smoothWeightsStep } from './smooth-weights.ts';
import { splitPiecesStep } from './split-pieces.ts';
import {
  type ActOf,
  createActSchema,
  type StepContext,
  type StepDefinition,
  type StepResult,
} from './step-definition.ts';
import { thickenStep } from './thicken.ts';
import { transferMorphsStep } from './transfer-morphs.ts';
import { transferWeightsStep } from './transfer-weights.ts';
import { turnFacesStep } from './turn-faces.ts';
import { useAsSimMeshStep } from './use-as-sim-mesh.ts';
import { weldStep } from './weld.ts';

/** All kinds of preparation steps. What is known of one stands in its file. */
const STEPS = [
  placeStep,
  weldStep,
  dropFacesStep,
  turnFacesStep,
  joinRowsStep,
  alignDiagonalsStep,
  mendNormalsStep,
  splitPiecesStep,
  cutStep,
  evenOutStep,
  pushOutStep,
  restInPoseStep,
  transferWeightsStep,
  transferMorphsStep,
  handOverWeightsStep,
  smoothWeightsStep,
  limitWeightsStep,
  setWeightsStep,
  movePointsStep,
  thickenStep,
  makeSimMeshStep,
  makeCardStep,
  makeBodyMeshStep,
  useAsSimMeshStep,
] as const;

type AnyStep = (typeof STEPS)[number];
type ActOfStep<Step> = Step extends StepDefinition<infer Kind, infer Fields> ? ActOf<Kind, Fields> : never;

/** What a step of preparation does, with its settings. Lengths in metres, angles in radians. */
export type StepAct = ActOfStep<AnyStep>;
export type StepKind = StepAct['kind'];

const BY_KIND: ReadonlyMap<string, StepDefinition> = new Map(
  STEPS.map((step) => [step.kind, step as unknown as StepDefinition]),
);

/** Whether this version knows a kind of step. */
export function isStepKind(kind: unknown): kind is StepKind {
  return typeof kind === 'string' && BY_KIND.has(kind);
}

/** @throws {RangeError} For a kind that this version does not know. */
function getStep(act: { kind: string }): StepDefinition {
  const step = BY_KIND.get(act.kind);
  if (!step) throw new RangeError(`this version knows no step "${act.kind}"`);
  return step;
}

/** Schema of the settings of a kind of step; null for an unknown one. */
export function getActSchema(kind: unknown): Schema | null {
  return isStepKind(kind) ? createActSchema(BY_KIND.get(kind)!) : null;
}

/** What a step does, in words. */
export function describeAct(act: StepAct): string {
  return getStep(act).describe(act);
}

/** @throws {RangeError} When the step cannot be applied, with the reason. */
export function applyAct(context: StepContext, act: StepAct): StepResult {
  return getStep(act).apply(context, act);
}

/** Whether the numbers beside the step follow from the character, and are kept because they take long. */
export function hasMadeArray(act: StepAct): boolean {
  return getStep(act).makeArray !== undefined;
}

/** @throws {RangeError} When a section is not there, or nothing can be made of it. */
export function makeArrayOf(context: StepContext, act: StepAct): Float32Array {
  return getStep(act).makeArray!(context, act);
}

/** Sections that a step names beside its own. */
export function listOthers(act: StepAct): readonly SectionName[] {
  return getStep(act).others?.(act) ?? [];
}

/** A step whose other sections are called otherwise. */
export function renameOthers(act: StepAct, rename: (name: SectionName) => SectionName): StepAct {
  return (getStep(act).renameOthers?.(act, rename) ?? act) as StepAct;
}

/** Whether a step makes, or names, the mesh that a garment is simulated on. */
export function isSimMeshStep(act: StepAct): boolean {
  return getStep(act).isSimMesh === true;
}

/** Whether a step is done to the whole character. */
export function isOfWhole(act: StepAct): boolean {
  return getStep(act).isOfWhole === true;
}

export const STEP_KINDS: readonly StepKind[] = STEPS.map(({ kind }) => kind);
