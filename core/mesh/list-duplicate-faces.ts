/** Faces over the same three points as an earlier one. @param faces - [f, 3], fewer than 2^26 points. O(f) expected. */
export function listDuplicateFaces(faces: Uint32Array): number[] {
  // By the two lower points, then the highest among those that such triangles had.
  const seen = new Map<number, number[]>();
  const duplicates: number[] = [];
  for (let f = 0; f < faces.length / 3; f++) {
    const [a, b, c] = [faces[3 * f]!, faces[3 * f + 1]!, faces[3 * f + 2]!];
    const [low, high] = [Math.min(a, b, c), Math.max(a, b, c)];
    const key = low * 2 ** 26 + (a + b + c - low - high);
    const highest = seen.get(key);
    if (!highest) seen.set(key, [high]);
    else if (highest.includes(high)) duplicates.push(f);
    else highest.push(high);
  }
  return duplicates;
}

/** Faces without those that are there once more. */
export function dropDuplicateFaces(faces: Uint32Array): Uint32Array {
  const duplicates = new Set(listDuplicateFaces(faces));
  return duplicates.size === 0 ? faces : faces.filter((_, i) => !duplicates.has(Math.floor(i / 3)));
}
