import { number, string } from 'yup';
import { placeCharacter, UP_AXES } from '../rig/index.ts';
import { defineStep } from './step-definition.ts';

/** The whole character, when its file counts in another unit or has another side up. Named of any of its sections. */
export const placeStep = defineStep({
  kind: 'place',
  isOfWhole: true,
  fields: {
    scale: number().required().min(1e-5).max(1e5),
    up: string().oneOf(UP_AXES).required(),
  },
  describe: ({ scale, up }) =>
    [
      ...(scale === 1 ? [] : [`scale ${Number(scale.toPrecision(6))}×`]),
      ...(up === '+Y' ? [] : [`${up} up`]),
    ].join(', ') || 'scale and up axis as in the file',
  apply: ({ character }, placement) => ({ character: placeCharacter(character, placement), made: [] }),
});
