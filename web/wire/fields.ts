import { array, mixed, number, object, string } from 'yup';

export const idField = string().required();
export const hashField = string()
  .matches(/^[0-9a-f]{64}$/)
  .required();
export const countField = number().integer().min(0).required();
export const dateField = string().required();
export const textsField = array(string().required()).required();

/** A value whose own parts are checked where it was made. */
export function opaque<T extends object>() {
  return mixed<T>((value): value is T => value !== null && typeof value === 'object').required();
}

/** Whole numbers by record. */
export const versionsField = opaque<Record<string, number>>().test(
  'versions',
  'versions are whole numbers by record',
  (versions) => Object.values(versions ?? {}).every((version) => Number.isInteger(version) && version >= 0),
);

/** Rename, delete, or take a deletion back. */
export const editSchema = object({
  name: string().max(1000),
  isDeleted: mixed<boolean>((value): value is boolean => typeof value === 'boolean'),
}).noUnknown();
