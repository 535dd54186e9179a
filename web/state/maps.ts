import {
  type AuthoredDocument,
  type ChannelRecord,
  createDiff,
  createMap,
  type DocumentDiff,
  type GarmentRecord,
  listMaps,
} from '../../core/document/index.ts';
import { CHANNELS, type ChannelKind } from '../../core/reach/index.ts';
import { createId, type Editor } from './editor.ts';

/** Makes a new map and puts it in use, as one step. @param values - Default: the channel's default everywhere. */
export function addMap(
  editor: Editor,
  garment: GarmentRecord,
  kind: ChannelKind,
  pointCount: number,
  values?: Float32Array,
): ChannelRecord {
  const made = createMap(editor.document, garment, kind, pointCount, createId(), values);
  const diff = createDiff();
  putInUse(editor.document, diff, made.map);
  diff.records.set(made.map.id, [null, made.map]);
  diff.arrays.set(made.map.id, { before: null, after: made.values });
  editor.change(`Add a map of ${CHANNELS[kind].label.toLowerCase()}`, diff);
  return made.map;
}

/** A copy with the same values, in use from now on. */
export function duplicateMap(editor: Editor, map: ChannelRecord): ChannelRecord {
  const diff = createDiff();
  const copy = { ...map, id: createId(), name: `${map.name} copy`, isInUse: true };
  putInUse(editor.document, diff, copy);
  diff.records.set(copy.id, [null, copy]);
  diff.arrays.set(copy.id, { before: null, after: editor.document.arrays.get(map.id)!.slice() });
  editor.change(`Duplicate map ${map.name}`, diff);
  return copy;
}

/** Puts another map of its channel in use. */
export function useMap(editor: Editor, map: ChannelRecord): void {
  if (map.isInUse) return;
  const diff = createDiff();
  putInUse(editor.document, diff, map);
  diff.records.set(map.id, [map, { ...map, isInUse: true }]);
  editor.change(`Use map ${map.name}`, diff);
}

/** Takes a map away; when it was in use, another of its channel is used, if there is one. */
export function removeMap(editor: Editor, map: ChannelRecord): void {
  const { document } = editor;
  const diff = createDiff();
  diff.records.set(map.id, [map, null]);
  diff.arrays.set(map.id, { before: document.arrays.get(map.id)?.slice() ?? null, after: null });
  const [next] = listMaps(document, map.garmentId, map.kind).filter(({ id }) => id !== map.id);
  if (map.isInUse && next) diff.records.set(next.id, [next, { ...next, isInUse: true }]);
  editor.change(`Remove map ${map.name}`, diff);
}

/** All other maps of the channel are not in use. */
function putInUse(document: AuthoredDocument, diff: DocumentDiff, map: ChannelRecord): void {
  for (const other of listMaps(document, map.garmentId, map.kind))
    if (other.isInUse && other.id !== map.id)
      diff.records.set(other.id, [other, { ...other, isInUse: false }]);
}
