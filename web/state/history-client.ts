import {
  type AuthoredDocument,
  compareDocuments,
  createDocument,
  isEmptyDiff,
} from '../../core/document/index.ts';
import { api, type CharacterInfo } from './api.ts';
import type { Editor } from './editor.ts';
import type { Saver } from './saver.ts';
import type { ViewedVersion } from './viewed-version.ts';

/** Records with the numbers beside them, as a document. */
export async function readRecords(records: CharacterInfo['records']): Promise<AuthoredDocument> {
  const document = createDocument();
  await Promise.all(
    records.map(async ({ record, arrayHash }) => {
      document.records.set(record.id, record);
      if (arrayHash) document.arrays.set(record.id, new Float32Array(await api.readBlob(arrayHash)));
    }),
  );
  return document;
}

/** All records of a version of a character, or of the state that a trial is of. */
export function readState(
  characterId: string,
  { id, isTrial }: ViewedVersion,
): Promise<CharacterInfo['records']> {
  return isTrial ? api.readTrialRecords(id) : api.readVersion(characterId, id);
}

/** Address of the page that shows a version. @param how - `returnTo`: makes everything as in it. */
export function addressVersion(
  characterId: string,
  { id, label, isTrial }: ViewedVersion,
  how: 'version' | 'returnTo' = 'version',
): string {
  const query = new URLSearchParams({ [how]: id, label, ...(isTrial && { kind: 'trial' }) });
  return `/characters/${characterId}?${query}`;
}

/**
 * Makes everything as it was in a version, as one step that can be undone. What is on the screen now is kept as a version first.
 *
 * @returns Whether anything is different. @throws {Error} When what is on the screen cannot be saved, or the version is gone.
 */
export async function returnToVersion(
  { editor, saver, id }: { editor: Editor; saver: Saver; id: string },
  version: ViewedVersion,
): Promise<boolean> {
  await saver.flush();
  await api.keepVersion(id, null);
  const document = await readRecords(await readState(id, version));
  const diff = compareDocuments(editor.document, document);
  if (isEmptyDiff(diff)) return false;
  editor.change(`Return to ${version.label}`, diff);
  return true;
}

/** What a version is called: its name, or when it was kept. */
export function tellVersion({ name, createdAt }: { name: string | null; createdAt: string }): string {
  return name ?? tellTime(createdAt);
}

/** Time of day, with the day when it is another. */
export function tellTime(date: string, now = new Date()): string {
  const at = new Date(date);
  const time = at.toLocaleTimeString('en', { hour: '2-digit', minute: '2-digit', hour12: false });
  if (at.toDateString() === now.toDateString()) return time;
  return `${at.toLocaleDateString('en', { day: 'numeric', month: 'short' })}, ${time}`;
}
