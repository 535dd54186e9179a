import type { Animation, AnimationChannel, AnimationSampler, Document, Node } from '@gltf-transform/core';
import type { Clip, Track, TrackPath } from '../../core/rig/index.ts';
import { readAccessor } from './read-accessor.ts';
import { makeNamesUnique, type RepairLog } from './repair-log.ts';

const WIDTHS: Readonly<Record<TrackPath, number>> = { translation: 3, rotation: 4, scale: 3, weights: 0 };

/** All clips. Keys that cannot be used are dropped and reported; a clip without any usable key is left out. */
export function readClips(document: Document, nodes: Node[], log: RepairLog): Clip[] {
  const nodeIndex = new Map(nodes.map((node, index) => [node, index]));
  const animations = document.getRoot().listAnimations();
  const names = makeNamesUnique(
    animations.map((animation) => animation.getName()),
    'clip',
    (index, before, after) =>
      log.repair(
        'clip-name',
        `animation ${index}`,
        before
          ? `A second clip named "${before}" is called "${after}".`
          : `It has no name and is called "${after}".`,
      ),
  );
  const clips: Clip[] = [];
  animations.forEach((animation, index) => {
    const clip = readClip(animation, names[index]!, nodeIndex, log);
    if (clip) clips.push(clip);
  });
  return clips;
}

function readClip(
  animation: Animation,
  name: string,
  nodeIndex: Map<Node, number>,
  log: RepairLog,
): Clip | null {
  const where = `clip "${name}"`;
  const tracks: Track[] = [];
  for (const channel of animation.listChannels()) {
    const track = readTrack(channel, nodeIndex, where, log);
    if (track) tracks.push(track);
  }
  if (tracks.length === 0) {
    log.repair('empty-clip', where, 'It moves nothing and is left out.');
    return null;
  }
  const duration = tracks.reduce((most, track) => Math.max(most, track.times[track.times.length - 1]!), 0);
  if (duration === 0) log.note('still-clip', where, 'It has no length: a still pose.');
  const start = tracks.reduce((least, track) => Math.min(least, track.times[0]!), Number.POSITIVE_INFINITY);
  if (start > 0.5)
    log.note('late-clip', where, `Its first key is at ${start.toFixed(2)} s; until then it holds still.`);
  return { name, duration, tracks };
}

function readTrack(
  channel: AnimationChannel,
  nodeIndex: Map<Node, number>,
  where: string,
  log: RepairLog,
): Track | null {
  const target = channel.getTargetNode();
  const sampler = channel.getSampler();
  const path = channel.getTargetPath() as TrackPath | null;
  const node = target ? nodeIndex.get(target) : undefined;
  if (!target || !sampler || !path || !(path in WIDTHS) || node === undefined) return null;
  const width = path === 'weights' ? countMorphs(target) : WIDTHS[path];
  if (width === 0) return null;
  const place = `${where}, ${path} of "${target.getName()}"`;
  const keys = readKeys(sampler, width, place, log);
  if (!keys) {
    log.repair('empty-track', place, 'It has no usable key and is left out.');
    return null;
  }
  return { node, path, interpolation: sampler.getInterpolation() as Track['interpolation'], ...keys };
}

function countMorphs(node: Node): number {
  return node.getMesh()?.listPrimitives()[0]?.listTargets().length ?? 0;
}

/** Times and values with bad keys dropped and times strictly rising; null when nothing is left. */
function readKeys(
  sampler: AnimationSampler,
  width: number,
  where: string,
  log: RepairLog,
): Pick<Track, 'times' | 'values'> | null {
  const input = sampler.getInput();
  const output = sampler.getOutput();
  if (!input || !output) return null;
  const times = readAccessor(input);
  const values = readAccessor(output);
  const row = sampler.getInterpolation() === 'CUBICSPLINE' ? 3 * width : width;
  const count = Math.min(times.length, Math.floor(values.length / row));
  if (count < times.length)
    log.repair('short-track', where, `${times.length} times, values for ${count}: the rest is dropped.`);
  const isUsable = (key: number): boolean => {
    if (!Number.isFinite(times[key]!)) return false;
    for (let i = key * row; i < (key + 1) * row; i++) if (!Number.isFinite(values[i]!)) return false;
    return true;
  };
  const finite = Array.from({ length: count }, (_, key) => key).filter(isUsable);
  if (finite.length < count)
    log.repair(
      'not-a-number',
      where,
      `${count - finite.length} of ${count} keys are not numbers and are dropped.`,
    );
  const isRising = finite.every((key, i) => i === 0 || times[key]! >= times[finite[i - 1]!]!);
  if (!isRising) {
    log.repair('unsorted-keys', where, 'Its keys run backwards in time and are sorted.');
    finite.sort((p, q) => times[p]! - times[q]!);
  }
  const kept: number[] = [];
  for (const key of finite) {
    // Of several keys at one time the last one counts.
    if (kept.length > 0 && times[kept[kept.length - 1]!] === times[key]) kept[kept.length - 1] = key;
    else kept.push(key);
  }
  if (kept.length < finite.length && finite.length > 1) {
    log.repair(
      'doubled-keys',
      where,
      `${finite.length - kept.length} keys share their time with another and are dropped.`,
    );
  }
  if (kept.length === 0) return null;
  const outValues = new Float32Array(kept.length * row);
  kept.forEach((key, i) => {
    outValues.set(values.subarray(key * row, (key + 1) * row), i * row);
  });
  return { times: Float32Array.from(kept, (key) => times[key]!), values: outValues };
}
