import { type InferType, type ObjectSchema, object, type Schema, string } from 'yup';
import type { Character, Section, SectionName } from '../rig/index.ts';
import { replaceSection } from './section-mesh.ts';
import type { Fields } from './step-fields.ts';

/** What a step works on. */
export interface StepContext {
  /** As it is before the step. */
  character: Character;
  /** -1 where a step of the whole is named of a section that is not there. */
  sectionIndex: number;
  /** Numbers that are kept beside the step. */
  array: Float32Array | undefined;
  /** Sections that are the body which garments must stay out of. */
  listBody(): number[];
  /** Called with the share that is done. */
  onProgress(share: number): void;
}

/** What a step made of the character. Shares every section that it does not touch. */
export interface StepResult {
  character: Character;
  /** Places of the sections that it added, or that are now what a garment is simulated on. */
  made: readonly number[];
  /** What is wrong with what it made, a sentence each. */
  faults?: readonly string[];
}

/** Another section in the place of the one that the step is on. */
export function replaceOwn({ character, sectionIndex }: StepContext, section: Section): StepResult {
  return { character: replaceSection(character, sectionIndex, section), made: [] };
}

/** Names of the fields that may be left out. */
type OptionalOf<F extends Fields> = {
  [Key in keyof F]: undefined extends InferType<F[Key]> ? Key : never;
}[keyof F];

/** Settings of a step, with the kind of step that they are of. */
export type ActOf<Kind extends string, F extends Fields> = { kind: Kind } & {
  [Key in Exclude<keyof F, OptionalOf<F>>]: InferType<F[Key]>;
} & { [Key in OptionalOf<F>]?: InferType<F[Key]> };

/** A kind of preparation step: all that is known of it stands in one file. */
export interface StepDefinition<Kind extends string = string, F extends Fields = Fields> {
  kind: Kind;
  /** Its settings, each with its range. */
  fields: F;
  /** What it does, in words, as a list of steps says it. */
  describe(act: ActOf<Kind, F>): string;
  /**
   * @throws {RangeError} When it cannot be applied to this character, with the reason.
   */
  apply(context: StepContext, act: ActOf<Kind, F>): StepResult;
  /** Sections that it works on beside its own: they are found again by name in another version of the source. */
  others?: (act: ActOf<Kind, F>) => readonly SectionName[];
  /** The same step with its other sections called otherwise. */
  renameOthers?: (act: ActOf<Kind, F>, rename: (name: SectionName) => SectionName) => ActOf<Kind, F>;
  /** Makes the numbers beside the step, where they follow from the character and are kept because they take long. */
  makeArray?: (context: StepContext, act: ActOf<Kind, F>) => Float32Array;
  /** It makes, or names, the mesh that a garment is simulated on. */
  isSimMesh?: boolean;
  /** It is done to the whole character, and whatever became of the section that it is named of. */
  isOfWhole?: boolean;
}

/** Checks the fields' types against what the step does with them. */
export function defineStep<const Kind extends string, F extends Fields>(
  definition: StepDefinition<Kind, F>,
): StepDefinition<Kind, F> {
  return definition;
}

/** Schema of a step's settings: no field is missing, none is unknown. */
export function createActSchema({
  kind,
  fields,
}: {
  kind: string;
  fields: Record<string, Schema>;
}): ObjectSchema<object> {
  return object({ kind: string().oneOf([kind]).required(), ...fields })
    .noUnknown()
    .required();
}
