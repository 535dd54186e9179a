/** Edges longer than this are halved, m: what is looked for by its nearest point must have points near it. */
const LONGEST_EDGE = 0.04;
/** No more triangles than this, however large the character. */
const MOST_TRIANGLES = 120_000;

export interface RefinedSkin {
  /** Each point as shares of points of the original, [n, 3] each; unused shares are 0. */
  sources: Uint32Array;
  shares: Float32Array;
  /** [t, 3] */
  triangles: Uint32Array;
}

/**
 * A surface with its long edges halved until none is longer than 4 cm. The new points lie on the old triangles in every pose. Ours.
 *
 * @param positions - [n, 3] metres. @param triangles - [t, 3]
 */
export function refineSkin(positions: Float32Array, triangles: Uint32Array): RefinedSkin {
  const points: { sources: number[]; shares: number[] }[] = [];
  const places: number[] = Array.from(positions);
  for (let p = 0; p < positions.length / 3; p++) points.push({ sources: [p], shares: [1] });
  let current = Array.from(triangles);
  for (;;) {
    const { halves, isDone } = halveLongEdges(places, points, current);
    if (isDone || current.length > 3 * MOST_TRIANGLES) break;
    current = halves;
  }
  const sources = new Uint32Array(3 * points.length);
  const shares = new Float32Array(3 * points.length);
  points.forEach((point, p) => {
    sources.set(point.sources, 3 * p);
    shares.set(point.shares, 3 * p);
  });
  return { sources, shares, triangles: Uint32Array.from(current) };
}

function halveLongEdges(
  places: number[],
  points: { sources: number[]; shares: number[] }[],
  triangles: readonly number[],
): { halves: number[]; isDone: boolean } {
  const middles = new Map<number, number>();
  const findMiddle = (a: number, b: number): number => {
    const squared = [0, 1, 2].reduce((sum, k) => sum + (places[3 * a + k]! - places[3 * b + k]!) ** 2, 0);
    if (!(squared > LONGEST_EDGE * LONGEST_EDGE)) return -1;
    const key = Math.min(a, b) * 2 ** 26 + Math.max(a, b);
    const known = middles.get(key);
    if (known !== undefined) return known;
    const middle = mixPoints(points[a]!, points[b]!);
    // An edge across several triangles of the original cannot be: points in between lie on one of them.
    points.push(middle);
    for (let k = 0; k < 3; k++) places.push(0.5 * (places[3 * a + k]! + places[3 * b + k]!));
    middles.set(key, points.length - 1);
    return points.length - 1;
  };
  const halves: number[] = [];
  for (let t = 0; t < triangles.length; t += 3) {
    const corners = [triangles[t]!, triangles[t + 1]!, triangles[t + 2]!];
    const middle = [0, 1, 2].map((k) => findMiddle(corners[k]!, corners[(k + 1) % 3]!));
    splitTriangle(corners, middle, halves);
  }
  return { halves, isDone: middles.size === 0 };
}

/** Up to four triangles of one, by the middles of its sides (-1: whole). */
function splitTriangle(corners: readonly number[], middles: readonly number[], out: number[]): void {
  const count = middles.filter((middle) => middle >= 0).length;
  // Turned so that a lone side (halved, or whole) comes first.
  const lone = count === 1 ? middles.findIndex((middle) => middle >= 0) : middles.indexOf(-1);
  const turn = lone < 0 ? 0 : lone;
  const [a, b, c] = [0, 1, 2].map((k) => corners[(k + turn) % 3]!) as [number, number, number];
  const [ab, bc, ca] = [0, 1, 2].map((k) => middles[(k + turn) % 3]!) as [number, number, number];
  if (count === 0) out.push(a, b, c);
  else if (count === 1) out.push(a, ab, c, ab, b, c);
  else if (count === 2) out.push(a, b, bc, a, bc, ca, ca, bc, c);
  else out.push(a, ab, ca, ab, b, bc, ca, bc, c, ab, bc, ca);
}

function mixPoints(
  a: { sources: number[]; shares: number[] },
  b: { sources: number[]; shares: number[] },
): { sources: number[]; shares: number[] } {
  const sources = [...a.sources];
  const shares = a.shares.map((share) => 0.5 * share);
  b.sources.forEach((source, i) => {
    const at = sources.indexOf(source);
    const share = 0.5 * b.shares[i]!;
    if (at >= 0) shares[at] = shares[at]! + share;
    else {
      sources.push(source);
      shares.push(share);
    }
  });
  return { sources, shares };
}
