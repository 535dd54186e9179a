import { array, number, object, type Schema, string } from 'yup';
import { SIDES } from './collect-outer-surface.ts';

/** What the settings of several steps are made of. Lengths in metres, angles in radians. */
export const lengthField = number().required().min(1e-5).max(1000);
export const shareField = number().required().min(0).max(1);
export const angleField = number().required().min(0).max(Math.PI);
export const vertexCountField = number().required().integer().min(12).max(20_000);
export const influencesField = number().required().integer().min(1).max(8);
/** Left out by documents from before there was a choice: the outer side where it is certain. */
export const sidesField = string().oneOf(SIDES).optional();
export const nameField = string().required().max(400);

/** A section by place and name. */
export const sectionIndexField = number().required().integer().min(0);
export const sectionNameField = string().defined().max(400);
export const sectionField = object({ sectionIndex: sectionIndexField, sectionName: sectionNameField })
  .noUnknown()
  .required();

export const sectionsField = array(sectionField).defined().max(200);
export const jointNamesField = array(nameField).required().max(1000);

/** 0.05 → `5 cm`. */
export function tellCentimetres(metres: number): string {
  return `${Number((100 * metres).toFixed(1))} cm`;
}

export type Fields = Record<string, Schema>;
