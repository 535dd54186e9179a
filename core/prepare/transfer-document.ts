import {
  type AuthoredDocument,
  type AuthoredRecord,
  type ChannelRecord,
  getScene,
  listGarments,
  listRecords,
  listSteps,
  type RecordId,
} from '../document/index.ts';
import { type Character, findSection, type SectionName } from '../rig/index.ts';
import { hasMadeArray, listOthers, renameOthers } from '../steps/index.ts';
import { makeArrays } from './make-arrays.ts';
import { Preparation, type StepProblem } from './preparation.ts';
import { reviewSections, type SectionReview } from './review-sections.ts';
import { type BodyReview, transferBodies } from './transfer-bodies.ts';
import { transferChannel } from './transfer-channel.ts';

/** What comes over to a new version of a source, what lies elsewhere, and what was not found. */
export interface SourceReview {
  sections: SectionReview[];
  /** Bodies whose joints are not there any more. */
  bodies: BodyReview[];
  clipsGone: string[];
  clipsNew: string[];
  /** Garments whose section is not there: they stay in the list, unworn, with all that was painted. */
  unbound: string[];
  /** Steps that cannot be applied to the new source: they stay in the list and are left out. */
  problems: StepProblem[];
}

export interface TransferredDocument {
  document: AuthoredDocument;
  review: SourceReview;
}

/**
 * Everything authored on one version of a source, for another. Sections, joints and clips are matched by name, painted
 * values by place on the surface. Nothing is taken away: what has no match stays as it is and is told.
 *
 * @param renames - Old section name → the new one that it is matched with, where names do not tell.
 */
export function transferDocument(
  from: Character,
  to: Character,
  document: AuthoredDocument,
  renames: Readonly<Record<string, string>> = {},
): TransferredDocument {
  const transferred: AuthoredDocument = {
    records: new Map([...document.records].map(([id, record]) => [id, renameSections(record, to, renames)])),
    arrays: new Map(document.arrays),
  };
  const sections = reviewSections(from, to, document, renames);
  dropStaleArrays(transferred, sections, renames);
  const bodies = transferBodies(from, to, transferred);
  const preparation = new Preparation(to);
  let surfaces: string | null = null;
  try {
    makeArrays(preparation, transferred);
  } catch (error) {
    if (!(error instanceof RangeError)) throw error;
    surfaces = error.message;
  }
  const after = preparation.update(transferred);
  relocateSections(transferred, after.character);
  const before = new Preparation(from).update(document).character;
  const unbound = transferChannels(before, after.character, document, transferred);
  const clips = (character: Character): string[] => character.clips.map(({ name }) => name);
  const scene = getScene(transferred);
  if (scene.clipName !== null && !clips(to).includes(scene.clipName))
    transferred.records.set(scene.id, { ...scene, clipName: clips(to)[0] ?? null });
  return {
    document: transferred,
    review: {
      sections,
      bodies,
      clipsGone: clips(from).filter((name) => !clips(to).includes(name)),
      clipsNew: clips(to).filter((name) => !clips(from).includes(name)),
      unbound,
      problems:
        surfaces && after.problems.length === 0
          ? [{ stepId: '' as RecordId, sectionName: '', reason: surfaces }]
          : after.problems,
    },
  };
}

function renameSections(
  record: AuthoredRecord,
  to: Character,
  renames: Readonly<Record<string, string>>,
): AuthoredRecord {
  const rename = <T extends SectionName>(name: T): T => {
    const sectionName = renames[name.sectionName] ?? name.sectionName;
    const sectionIndex = findSection(to, { ...name, sectionName });
    // Sections that steps make come later; their places are set when they are there.
    return { ...name, sectionName, sectionIndex: sectionIndex < 0 ? name.sectionIndex : sectionIndex };
  };
  if (record.type === 'garment') return { ...rename(record), renders: record.renders.map(rename) };
  if (record.type === 'bodyMesh') return rename(record);
  if (record.type !== 'step') return record;
  const step = rename(record);
  return { ...step, act: renameOthers(step.act, rename) };
}

/** Places of sections that steps made, once they are there. */
function relocateSections(transferred: AuthoredDocument, character: Character): void {
  const locate = <T extends SectionName>(name: T): T => {
    const sectionIndex = findSection(character, name);
    return sectionIndex < 0 ? name : { ...name, sectionIndex };
  };
  for (const garment of listGarments(transferred))
    transferred.records.set(garment.id, { ...locate(garment), renders: garment.renders.map(locate) });
  for (const mesh of listRecords(transferred, 'bodyMesh')) transferred.records.set(mesh.id, locate(mesh));
}

/** A sim mesh over what has changed is made anew. */
function dropStaleArrays(
  transferred: AuthoredDocument,
  sections: readonly SectionReview[],
  renames: Readonly<Record<string, string>>,
): void {
  const changed = new Set(
    sections.filter(({ state }) => state === 'changed').map(({ name }) => renames[name] ?? name),
  );
  for (const { id, act, sectionName } of listSteps(transferred)) {
    if (!hasMadeArray(act)) continue;
    const names = [sectionName, ...listOthers(act).map((other) => other.sectionName)];
    if (names.some((name) => changed.has(name))) transferred.arrays.delete(id);
  }
}

/** Painted values by place. @returns Garments whose section is not there. */
function transferChannels(
  before: Character,
  after: Character,
  document: AuthoredDocument,
  transferred: AuthoredDocument,
): string[] {
  const unbound: string[] = [];
  for (const garment of listGarments(transferred)) {
    const sectionIndex = findSection(after, garment);
    const old = document.records.get(garment.id) as typeof garment;
    const oldIndex = findSection(before, old);
    if (sectionIndex < 0) {
      unbound.push(garment.name);
      continue;
    }
    for (const channel of listRecords(transferred, 'channel')) {
      const values = document.arrays.get(channel.id);
      if (channel.garmentId !== garment.id || !values || oldIndex < 0) continue;
      const source = { character: before, sectionIndex: oldIndex };
      const next = transferChannel(source, { character: after, sectionIndex }, values, channel.kind);
      transferred.arrays.set(channel.id, next);
      transferred.records.set(channel.id, { ...channel, pointCount: next.length } satisfies ChannelRecord);
    }
  }
  return unbound;
}
