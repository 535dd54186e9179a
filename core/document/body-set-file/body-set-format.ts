import { array, number, object, string, ValidationError } from 'yup';
import { type BodyShape, createShapeField } from '../../bodies/index.ts';
import {
  BODY_FOLLOWS,
  BODY_SET_DEFAULTS,
  type BodyFollows,
  GROUP_COUNT,
  MOST_MARGIN,
} from '../records/index.ts';

export const BODY_SET_FORMAT = 'cobweb-body-set';
/** Version 1 did not say what bodies do with a body shape; it is read as well. */
export const BODY_SET_VERSION = 2;
const READ_VERSIONS: readonly unknown[] = [1, BODY_SET_VERSION];

/** One body of a file: its shape in the space of its joint, m. */
export interface BodyOfFile {
  name: string;
  joint: string;
  /** How long the bone of the joint is in bind pose, m, see `measureBone`: sizes go by it. */
  boneLength: number;
  margin: number;
  group: number;
  shape: BodyShape;
}

/** A body set as a file of its own. The schema is in docs/formats. */
export interface BodySetFile {
  format: typeof BODY_SET_FORMAT;
  version: typeof BODY_SET_VERSION;
  name: string;
  /** What bodies do when the character takes another body shape. */
  follows: BodyFollows;
  bodies: BodyOfFile[];
}

const fileField = object({
  format: string().oneOf([BODY_SET_FORMAT]).required(),
  version: number().oneOf([BODY_SET_VERSION]).required(),
  name: string().required().min(1).max(200),
  follows: string().oneOf(BODY_FOLLOWS).required(),
  bodies: array(
    object({
      name: string().required().min(1).max(200),
      joint: string().required().min(1).max(400),
      boneLength: number().required().min(0).max(1000),
      margin: number().required().min(0).max(MOST_MARGIN),
      group: number().required().integer().min(1).max(GROUP_COUNT),
      shape: createShapeField(),
    })
      .noUnknown()
      .required(),
  )
    .required()
    .max(1000),
})
  .noUnknown()
  .required();

/** A file that is not a body set, with what is wrong and where. */
export class BodySetError extends Error {
  override readonly name = 'BodySetError';
}

/** @throws {BodySetError} When the text is not a body set, or one of another version. */
export function parseBodySet(text: string): BodySetFile {
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch {
    throw new BodySetError('The file is not JSON. Choose a body set that was exported here.');
  }
  const { format, version } = (value ?? {}) as Partial<BodySetFile>;
  if (format !== BODY_SET_FORMAT)
    throw new BodySetError('The file is JSON, but no body set. Choose one that was exported here.');
  if (!READ_VERSIONS.includes(version)) {
    throw new BodySetError(
      `Its version is ${JSON.stringify(version ?? null)}; this build reads ${READ_VERSIONS.join(' and ')}. Update Cobweb, or export the set again.`,
    );
  }
  try {
    const raised = version === BODY_SET_VERSION ? {} : { ...BODY_SET_DEFAULTS, version: BODY_SET_VERSION };
    return fileField.validateSync({ ...(value as object), ...raised }, { strict: true }) as BodySetFile;
  } catch (error) {
    if (error instanceof ValidationError)
      throw new BodySetError(`The body set is damaged: ${error.message}.`);
    throw error;
  }
}
