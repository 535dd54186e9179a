import { useMemo } from 'react';

const WIDTH = 56;
const HEIGHT = 12;

export interface SparklineProps {
  /** A value a frame; NaN where it is not known. */
  row: Float32Array;
  /** What the whole height is, at least. */
  top: number;
}

/** A row of a trial in small: the highest of the frames behind each picture element. */
export function Sparkline({ row, top }: SparklineProps) {
  const path = useMemo(() => {
    const highest = row.reduce((most, value) => (value > most ? value : most), top);
    const columns = Math.min(WIDTH, row.length);
    const points: string[] = [];
    for (let column = 0; column < columns; column++) {
      const part = row.subarray(
        Math.floor((column * row.length) / columns),
        Math.floor(((column + 1) * row.length) / columns),
      );
      const most = part.reduce((high, value) => (value > high ? value : high), Number.NEGATIVE_INFINITY);
      if (!Number.isFinite(most)) continue;
      const x = columns > 1 ? (column / (columns - 1)) * WIDTH : 0;
      points.push(`${x.toFixed(1)},${(HEIGHT - 1 - (HEIGHT - 2) * (most / (highest || 1))).toFixed(1)}`);
    }
    return points.join(' ');
  }, [row, top]);
  return (
    <svg
      className="mt-0.5 block h-3 w-full"
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      preserveAspectRatio="none"
      aria-hidden
    >
      <polyline
        points={path}
        fill="none"
        stroke="currentColor"
        strokeWidth={1}
        vectorEffect="non-scaling-stroke"
      />
    </svg>
  );
}
