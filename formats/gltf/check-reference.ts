import { IntakeError } from '../intake-error.ts';

export function isCount(value: unknown): value is number {
  return typeof value === 'number' && Number.isInteger(value) && value >= 0;
}

/** @param list - What is referred to. @throws {IntakeError} When there is no such item. */
export function checkReference(
  file: string,
  index: unknown,
  list: readonly unknown[] | undefined,
  kind: string,
  where: string,
  isOptional = false,
): void {
  if (index === undefined && isOptional) return;
  const length = list?.length ?? 0;
  if (isCount(index) && index < length) return;
  throw new IntakeError(
    'bad-reference',
    file,
    where,
    `It refers to ${kind} ${JSON.stringify(index ?? null)}; the file has ${length}.`,
    'Export the file again, or repair it in the program it came from.',
  );
}
