import { type PointerEvent, useRef } from 'react';
import { evaluateCurve, moveKnot, type RampCurve } from '../../../../../core/reach/index.ts';

const WIDTH = 240;
const HEIGHT = 84;
const PAD = 7;
/** Steps of the arrow keys. */
const STEP = 0.02;

export interface CurveEditorProps {
  curve: RampCurve;
  /** A drag begins; it ends with `onEnd`. */
  onBegin(): void;
  onChange(curve: RampCurve): void;
  onEnd(): void;
}

/** The way from the low to the high end, with two knots to drag. */
export function CurveEditor({ curve, onBegin, onChange, onEnd }: CurveEditorProps) {
  const box = useRef<SVGSVGElement>(null);
  const toX = (x: number): number => PAD + x * (WIDTH - 2 * PAD);
  const toY = (y: number): number => HEIGHT - PAD - y * (HEIGHT - 2 * PAD);
  const drag = (knot: 'first' | 'second', event: PointerEvent): void => {
    const { left, top, width, height } = box.current!.getBoundingClientRect();
    const x = (((event.clientX - left) / width) * WIDTH - PAD) / (WIDTH - 2 * PAD);
    const y = (HEIGHT - PAD - ((event.clientY - top) / height) * HEIGHT) / (HEIGHT - 2 * PAD);
    onChange(moveKnot(curve, knot, x, y));
  };
  const line = Array.from({ length: 49 }, (_, i) => {
    const t = i / 48;
    return `${toX(t).toFixed(1)},${toY(evaluateCurve(curve, t)).toFixed(1)}`;
  }).join(' ');
  return (
    <svg
      ref={box}
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      className="mt-1 w-full touch-none rounded-md border border-line bg-surface"
      role="group"
      aria-label="Curve of the ramp"
    >
      {[0.25, 0.5, 0.75].map((share) => (
        <line
          key={share}
          x1={toX(share)}
          x2={toX(share)}
          y1={toY(0)}
          y2={toY(1)}
          stroke="var(--color-track)"
        />
      ))}
      <line x1={toX(0)} x2={toX(1)} y1={toY(0)} y2={toY(0)} stroke="var(--color-line)" />
      <polyline points={line} fill="none" stroke="var(--color-teal)" strokeWidth="2" />
      {(['first', 'second'] as const).map((knot) => {
        const [x, y] = curve[knot];
        return (
          <circle
            key={knot}
            cx={toX(x)}
            cy={toY(y)}
            r="6"
            fill="var(--color-panel)"
            stroke="var(--color-teal)"
            strokeWidth="2"
            className="cursor-grab"
            role="slider"
            tabIndex={0}
            aria-label={`${knot} knot`}
            aria-valuemin={0}
            aria-valuemax={100}
            aria-valuenow={Math.round(100 * y)}
            aria-valuetext={`${Math.round(100 * y)} % at ${Math.round(100 * x)} % of the way`}
            onPointerDown={(event) => {
              event.currentTarget.setPointerCapture(event.pointerId);
              onBegin();
            }}
            onPointerMove={(event) => {
              if (event.currentTarget.hasPointerCapture(event.pointerId)) drag(knot, event);
            }}
            onLostPointerCapture={onEnd}
            onKeyDown={(event) => {
              const move = KEYS[event.key];
              if (!move) return;
              event.preventDefault();
              event.stopPropagation();
              onChange(moveKnot(curve, knot, x + move[0], y + move[1]));
            }}
          />
        );
      })}
    </svg>
  );
}

const KEYS: Readonly<Record<string, readonly [number, number]>> = {
  ArrowLeft: [-STEP, 0],
  ArrowRight: [STEP, 0],
  ArrowDown: [0, -STEP],
  ArrowUp: [0, STEP],
};
