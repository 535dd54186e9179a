/** A side of a triangle on a border: its two vertices in the triangle's order, and where they go outward. */
export interface RimSide {
  from: number;
  to: number;
}

/** The vertices of a shell, its rim, and where its vertices lie between the sides. */
export interface ShellLayout {
  /** Vertex of the one-sided mesh that each new one comes from. */
  source: number[];
  /** 0: outer side, 1: inner side, 0.5: the middle of a rim. */
  depth: number[];
  /** Vertices that a rounded rim pushes out. */
  bulging: ReadonlySet<number>;
  /** [rim vertex, vertex at the very same place]. */
  twins: [number, number][];
  /** Triangles of the rim. */
  rim: number[];
  sides: readonly RimSide[];
}

/**
 * Lays out a mesh with two sides and a rim between them.
 *
 * @param count - Vertices of the one-sided mesh. @param isRound - Whether the rim along a side of its border is rounded.
 */
export function layOutShell(
  count: number,
  sides: readonly RimSide[],
  isRound: (side: RimSide) => boolean,
  pointOfVertex: Uint32Array,
): ShellLayout {
  const shell = new Shell(count);
  const areRound = sides.map(isRound);
  const round = sides.filter((_, i) => areRound[i]);
  const square = sides.filter((_, i) => !areRound[i]);
  const pointsOf = (some: readonly RimSide[]): Set<number> =>
    new Set(some.flatMap(({ from, to }) => [pointOfVertex[from]!, pointOfVertex[to]!]));
  const [atRound, atSquare] = [pointsOf(round), pointsOf(square)];
  /** Where a rounded edge becomes square both have a middle, and it lies flat: nothing gapes there. */
  const isChange = (vertex: number): boolean => {
    const point = pointOfVertex[vertex]!;
    return atRound.has(point) && atSquare.has(point);
  };
  for (const { from, to } of round) {
    const middles = [from, to].map((vertex) => {
      const middle = shell.add(vertex, 0.5, 'round');
      if (!isChange(vertex)) shell.bulging.add(middle);
      return middle;
    }) as [number, number];
    shell.band([from, to], middles);
    shell.band(middles, [count + from, count + to]);
  }
  for (const { from, to } of square) {
    const [outer, inner] = ([0, 1] as const).map((depth) =>
      [from, to].map((vertex) => shell.add(vertex, depth, 'square')),
    ) as [[number, number], [number, number]];
    const [atFrom, atTo] = [from, to].map((vertex) =>
      isChange(vertex) ? shell.add(vertex, 0.5, 'square') : null,
    );
    shell.flatBand(outer, inner, atFrom!, atTo!);
  }
  return { ...shell, sides };
}

/** The vertices and the rim of a shell while it is laid out. */
class Shell implements Omit<ShellLayout, 'sides'> {
  readonly source: number[];
  readonly depth: number[];
  readonly bulging = new Set<number>();
  readonly twins: [number, number][] = [];
  readonly rim: number[] = [];
  readonly #count: number;
  readonly #known = new Map<string, number>();

  constructor(count: number) {
    this.#count = count;
    this.source = Array.from({ length: 2 * count }, (_, v) => v % count);
    this.depth = Array.from({ length: 2 * count }, (_, v) => (v < count ? 0 : 1));
  }

  /** A vertex of the rim; flat bands and rounded ones have vertices of their own, for their normals. */
  add(vertex: number, depth: 0 | 0.5 | 1, look: 'round' | 'square'): number {
    const key = `${vertex}:${depth}:${look}`;
    let made = this.#known.get(key);
    if (made === undefined) {
      made = this.source.length;
      this.#known.set(key, made);
      this.source.push(vertex);
      this.depth.push(depth);
      if (depth !== 0.5) this.twins.push([made, depth === 0 ? vertex : this.#count + vertex]);
    }
    return made;
  }

  band([a, b]: readonly [number, number], [c, d]: readonly [number, number]): void {
    this.rim.push(b, a, c, b, c, d);
  }

  /** A band with a middle at one of its ends, at both, or at none. */
  flatBand(
    outer: readonly [number, number],
    inner: readonly [number, number],
    atFrom: number | null,
    atTo: number | null,
  ): void {
    const [[a, b], [c, d]] = [outer, inner];
    if (atFrom === null && atTo === null) this.band(outer, inner);
    else if (atFrom === null) this.rim.push(atTo!, b, a, atTo!, a, c, atTo!, c, d);
    else {
      const far = atTo === null ? [d, b] : [d, atTo, b];
      const loop = [c, ...far, a];
      for (let i = 0; i + 1 < loop.length; i++) this.rim.push(atFrom, loop[i]!, loop[i + 1]!);
    }
  }
}
