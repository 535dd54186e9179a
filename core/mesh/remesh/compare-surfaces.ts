import { DisjointSets, SpatialIndex, type Vector3 } from '../../math/index.ts';
import { buildEdgeTable, type EdgeTable, NO_TRIANGLE } from '../edge-table.ts';
import type { Surface } from '../surface.ts';
import { isTurned } from './is-turned.ts';
import { measureBorderDeviation } from './measure-surface.ts';
import { getPosition, normalOfSource } from './places.ts';

/** What a made surface has, and what its source. */
interface Pair {
  made: number;
  source: number;
}

/** How far a made surface is from standing for its source. */
export interface SurfaceComparison {
  /**
   * Triangles that face away from all of the source within half their longest edge: knife edges of parts that are thinner
   * than that are none.
   */
  turned: number;
  /** Length of the edges at which more than two triangles meet, m. */
  crowded: Pair;
  pieces: Pair;
  /** Closed lines of open borders. */
  loops: Pair;
  /** m² */
  area: Pair;
  /** m³; null unless both are closed. */
  volume: Pair | null;
  /** Greatest distance of points and middles of triangles of the one from the other, either way, m. */
  deviation: number;
  /** Greatest distance of the open borders of the one from those of the other, either way, m; null unless both have some. */
  borderDeviation: number | null;
}

/** More than so much of its area or volume is not to be lost or gained, as shares. */
const MOST_AREA_CHANGE = 0.1;
const MOST_VOLUME_CHANGE = 0.15;
/** Nothing is to be farther off than so many edge lengths, and no border. */
const MOST_DEVIATION = 0.5;
const MOST_BORDER_DEVIATION = 1;
/** Lines at which more than two triangles meet may come out longer by this share, from chords along them. */
const MOST_CROWDED = 1.1;

/** @param source - Mended, see `mendSource`. About O(n log n). Ours. */
export function compareSurfaces(made: Surface, source: Surface): SurfaceComparison {
  const [ofMade, ofSource] = [made, source].map((surface) => {
    const table = buildEdgeTable(surface.triangles, surface.positions.length / 3);
    return {
      ...measureForm(surface, table),
      index: new SpatialIndex(surface.positions.slice(), surface.triangles),
    };
  }) as [Form & { index: SpatialIndex }, Form & { index: SpatialIndex }];
  const pair = (key: keyof Form): Pair => ({ made: ofMade[key], source: ofSource[key] });
  const isClosed = [ofMade, ofSource].every(({ loops, crowded }) => loops === 0 && crowded === 0);
  return {
    turned: countTurned(made, source, ofSource.index),
    crowded: pair('crowded'),
    pieces: pair('pieces'),
    loops: pair('loops'),
    area: pair('area'),
    volume: isClosed ? pair('volume') : null,
    deviation: Math.max(measureFarthestFrom(made, ofSource.index), measureFarthestFrom(source, ofMade.index)),
    borderDeviation: ofMade.loops > 0 && ofSource.loops > 0 ? measureBorderDeviation(made, source) : null,
  };
}

/** What is wrong with a made surface, a sentence each; none when it stands for its source. @param edgeLength - Wished, m. */
export function listFaults(comparison: SurfaceComparison, edgeLength: number): string[] {
  const { turned, crowded, pieces, loops, area, volume, deviation, borderDeviation } = comparison;
  const faults: string[] = [];
  const tell = (isFault: boolean, sentence: string): void => {
    if (isFault) faults.push(sentence);
  };
  const share = ({ made, source }: Pair): number => (source > 0 ? made / source - 1 : 0);
  const percent = (pair: Pair): string =>
    `${Math.abs(100 * share(pair)).toFixed(0)} % ${share(pair) < 0 ? 'less' : 'more'}`;
  tell(turned > 0, `${turned} triangles face away from the source.`);
  tell(
    crowded.made > MOST_CROWDED * crowded.source,
    `More than two triangles meet along ${(100 * (crowded.made - crowded.source)).toFixed(1)} cm where the source has none such.`,
  );
  tell(pieces.made !== pieces.source, `It has ${pieces.made} pieces; the source has ${pieces.source}.`);
  tell(loops.made !== loops.source, `It has ${loops.made} open borders; the source has ${loops.source}.`);
  tell(Math.abs(share(area)) > MOST_AREA_CHANGE, `Its area is ${percent(area)} than the source's.`);
  tell(
    volume !== null && Math.abs(share(volume)) > MOST_VOLUME_CHANGE,
    `Its volume is ${volume ? percent(volume) : ''} than the source's: the edges are too long for how thin it is.`,
  );
  const centimetres = (value: number): string => `${(100 * value).toPrecision(2)} cm`;
  tell(
    deviation > MOST_DEVIATION * edgeLength,
    `It is up to ${centimetres(deviation)} away from the source, more than half an edge.`,
  );
  tell(
    borderDeviation !== null && borderDeviation > MOST_BORDER_DEVIATION * edgeLength,
    `Its border is up to ${centimetres(borderDeviation ?? 0)} off, more than an edge.`,
  );
  return faults;
}

interface Form {
  crowded: number;
  pieces: number;
  loops: number;
  area: number;
  volume: number;
}

function measureForm(surface: Surface, table: EdgeTable): Form {
  const { positions: p, triangles } = surface;
  const pieces = new DisjointSets(p.length / 3);
  const borders = new DisjointSets(p.length / 3);
  const onBorder = new Set<number>();
  for (let e = 0; e < table.edgeCount; e++) {
    const [a, b] = [table.edges[2 * e]!, table.edges[2 * e + 1]!];
    pieces.join(a, b);
    if (table.triangles[2 * e + 1] !== NO_TRIANGLE) continue;
    borders.join(a, b);
    onBorder.add(a);
    onBorder.add(b);
  }
  let crowded = 0;
  for (const e of table.nonManifold) {
    const [a, b] = [3 * table.edges[2 * e]!, 3 * table.edges[2 * e + 1]!];
    crowded += Math.sqrt((p[a]! - p[b]!) ** 2 + (p[a + 1]! - p[b + 1]!) ** 2 + (p[a + 2]! - p[b + 2]!) ** 2);
  }
  let area = 0;
  let volume = 0;
  // From one of its own points: far from the origin little would be left of the differences.
  const origin = [p[0] ?? 0, p[1] ?? 0, p[2] ?? 0];
  for (let t = 0; t < triangles.length / 3; t++) {
    const n = normalOfSource(surface, t);
    area += 0.5 * Math.sqrt(n[0] * n[0] + n[1] * n[1] + n[2] * n[2]);
    const at = 3 * triangles[3 * t]!;
    for (let k = 0; k < 3; k++) volume += ((p[at + k]! - origin[k]!) * n[k]!) / 6;
  }
  return {
    crowded,
    pieces: new Set(Array.from(triangles, (point) => pieces.find(point))).size,
    loops: new Set(Array.from(onBorder, (point) => borders.find(point))).size,
    area,
    volume,
  };
}

function countTurned({ positions, triangles }: Surface, source: Surface, index: SpatialIndex): number {
  let turned = 0;
  for (let t = 0; t < triangles.length; t += 3) {
    const corner = (k: number): Vector3 => getPosition({ positions }, triangles[t + k]!);
    if (isTurned(source, index, corner(0), corner(1), corner(2))) turned++;
  }
  return turned;
}

/** Greatest distance of the points of a surface, and of the middles of its triangles, from another, m. */
function measureFarthestFrom(surface: Surface, index: SpatialIndex): number {
  const { positions: p, triangles } = surface;
  let farthest = 0;
  const look = (x: number, y: number, z: number): void => {
    farthest = Math.max(farthest, index.findClosest(x, y, z)?.distance ?? 0);
  };
  for (const point of new Set(triangles)) look(p[3 * point]!, p[3 * point + 1]!, p[3 * point + 2]!);
  for (let t = 0; t < triangles.length; t += 3) {
    const [a, b, c] = [3 * triangles[t]!, 3 * triangles[t + 1]!, 3 * triangles[t + 2]!];
    const middle = (k: number): number => (p[a + k]! + p[b + k]! + p[c + k]!) / 3;
    look(middle(0), middle(1), middle(2));
  }
  return farthest;
}
