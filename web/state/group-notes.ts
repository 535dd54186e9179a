import type { ReportNote } from '../../core/document/index.ts';
import { tellCount } from '../../core/math/index.ts';

/** Notes of one kind; a single one says itself what it is. */
export interface NoteGroup {
  code: string;
  /** What all of them are, with their number. */
  title: string;
  notes: readonly ReportNote[];
}

/** What several notes of a kind have in common. */
const TITLES: Readonly<Record<string, (count: number) => string>> = {
  'node-name': (count) => `${tellCount(count, 'node')} had no name, or that of another`,
  'clip-name': (count) => `${tellCount(count, 'clip')} had no name, or that of another`,
  rotation: (count) => `${tellCount(count, 'node')} had a rotation that was not of unit length`,
  normals: (count) => `${tellCount(count, 'section')} had no usable normals`,
  'weight-sum': (count) => `In ${tellCount(count, 'section')} weights did not sum to one`,
  'no-weights': (count) => `In ${tellCount(count, 'section')} vertices had no weights`,
  'bad-weights': (count) => `In ${tellCount(count, 'section')} weights were not numbers`,
  'near-vertices': (count) => `In ${tellCount(count, 'section')} vertices were rounded apart and are joined`,
  'doubled-keys': (count) => `${tellCount(count, 'track')} had several keys at one time`,
  'unsorted-keys': (count) => `${tellCount(count, 'track')} had keys out of order`,
  'not-a-number': (count) => `${tellCount(count, 'track')} had keys that are not numbers`,
  'short-track': (count) => `${tellCount(count, 'track')} had fewer values than keys`,
  'empty-track': (count) => `${tellCount(count, 'track')} had no keys`,
  'empty-clip': (count) => `${tellCount(count, 'clip')} moved nothing`,
  'still-clip': (count) => `${tellCount(count, 'clip')} had no length`,
  'not-triangles': (count) => `${tellCount(count, 'mesh part')} made of points or lines left out`,
  'no-joints': (count) => `${tellCount(count, 'section')} with a skin had no weights`,
  mirrored: (count) => `${tellCount(count, 'section')} stood on a mirroring node`,
  influences: (count) => `${tellCount(count, 'section')} had more than eight joints to a vertex`,
  'no-image': (count) => `${tellCount(count, 'texture')} had no image`,
};

/** Notes by their kind, in the order in which each kind first comes. */
export function groupNotes(notes: readonly ReportNote[]): NoteGroup[] {
  const byCode = new Map<string, ReportNote[]>();
  for (const note of notes) byCode.set(note.code, [...(byCode.get(note.code) ?? []), note]);
  return [...byCode].map(([code, same]) => {
    const tell = TITLES[code] ?? ((count: number) => `${same[0]!.sentence} ${count - 1} more like it.`);
    return { code, title: same.length === 1 ? same[0]!.sentence : tell(same.length), notes: same };
  });
}
