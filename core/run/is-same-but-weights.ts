import type { MorphTarget, Section } from '../rig/index.ts';

/** What skin weights are. */
const WEIGHT_KEYS: ReadonlySet<string> = new Set(['influences', 'jointIndices', 'jointWeights']);

/** Whether two sections differ in nothing but their skin weights. Arrays that are the same object cost nothing. */
export function isSameButWeights(p: Section, q: Section): boolean {
  if (p === q) return true;
  const keys = new Set([...Object.keys(p), ...Object.keys(q)]);
  for (const key of keys) {
    if (WEIGHT_KEYS.has(key)) continue;
    if (!isSame(p[key as keyof Section], q[key as keyof Section])) return false;
  }
  return true;
}

function isSame(p: unknown, q: unknown): boolean {
  if (p === q) return true;
  // Left out and null say the same.
  if (p == null || q == null) return p == null && q == null;
  if (ArrayBuffer.isView(p) && ArrayBuffer.isView(q))
    return isSameArray(p as Float32Array, q as Float32Array);
  if (Array.isArray(p) && Array.isArray(q))
    return p.length === q.length && p.every((item, i) => isSame(item, q[i]));
  if (typeof p === 'object' && typeof q === 'object') {
    const [a, b] = [p as MorphTarget, q as MorphTarget];
    return isSame(a.name, b.name) && isSame(a.positions, b.positions) && isSame(a.normals, b.normals);
  }
  return false;
}

function isSameArray(p: Float32Array, q: Float32Array): boolean {
  if (p.length !== q.length) return false;
  for (let i = 0; i < p.length; i++) if (p[i] !== q[i]) return false;
  return true;
}
