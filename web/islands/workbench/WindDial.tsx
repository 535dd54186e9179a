import { type PointerEvent, type RefObject, useEffect, useRef, useState } from 'react';
import { getScene } from '../../../core/document/index.ts';
import { useDocument } from '../../state/workbench.ts';
import type { Viewport } from '../../viewport/viewport.ts';

const SIZE = 104;
const CENTRE = SIZE / 2;
const RIM = 40;
/** m/s at the rim. */
const RIM_SPEED = 12;
/** Nearer to the centre than this, there is no wind. */
const CALM = 0.3;

export interface WindDialProps {
  viewport: RefObject<Viewport | null>;
}

/** The wind from above, turned as the eye is turned: drag the arrow's tip. Arrow keys turn and change it. */
export function WindDial({ viewport }: WindDialProps) {
  const editor = useDocument();
  const { windSpeed, windDirection } = getScene(editor.document);
  const heading = useHeading(viewport);
  const dial = useRef<HTMLDivElement>(null);
  const turn = (windDirection * Math.PI) / 180 - heading;
  const length = RIM * Math.min(1, windSpeed / RIM_SPEED);
  const tip = [CENTRE - length * Math.sin(turn), CENTRE - length * Math.cos(turn)] as const;
  const set = (speed: number, direction: number): void =>
    editor.updateScene('Set the wind', { windSpeed: speed, windDirection: direction });
  const drag = (event: PointerEvent): void => {
    if (event.buttons !== 1) return;
    const box = dial.current!.getBoundingClientRect();
    const x = event.clientX - box.left - CENTRE;
    const y = event.clientY - box.top - CENTRE;
    const speed = Math.min(RIM_SPEED, (Math.hypot(x, y) / RIM) * RIM_SPEED);
    const direction = ((Math.atan2(-x, -y) + heading) * 180) / Math.PI;
    set(speed < CALM ? 0 : Math.round(10 * speed) / 10, wrapDegrees(Math.round(direction)));
  };
  const front = [CENTRE + RIM * Math.sin(heading), CENTRE - RIM * Math.cos(heading)] as const;
  return (
    <div className="floating absolute top-3 left-3 flex items-center gap-2 !py-1.5" data-testid="wind-dial">
      <div
        ref={dial}
        className="cursor-crosshair touch-none"
        role="slider"
        tabIndex={0}
        aria-label="Wind"
        aria-valuemin={0}
        aria-valuemax={RIM_SPEED}
        aria-valuenow={windSpeed}
        aria-valuetext={`${windSpeed.toFixed(1)} metres a second towards ${windDirection} degrees`}
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId);
          editor.beginStroke();
          drag(event);
        }}
        onPointerMove={drag}
        onLostPointerCapture={() => editor.endStroke()}
        onKeyDown={(event) => {
          const speed = { ArrowUp: 0.5, ArrowDown: -0.5 }[event.key] ?? 0;
          const angle = { ArrowLeft: 15, ArrowRight: -15 }[event.key] ?? 0;
          if (speed === 0 && angle === 0) return;
          event.preventDefault();
          set(Math.max(0, Math.min(20, windSpeed + speed)), wrapDegrees(windDirection + angle));
        }}
      >
        <svg width={SIZE} height={SIZE} aria-hidden>
          <circle cx={CENTRE} cy={CENTRE} r={RIM} fill="var(--color-panel)" stroke="var(--color-rim)" />
          {[1, 2].map((ring) => (
            <circle
              key={ring}
              cx={CENTRE}
              cy={CENTRE}
              r={(RIM * ring) / 3}
              fill="none"
              stroke="var(--color-line)"
            />
          ))}
          <circle cx={front[0]} cy={front[1]} r={3} fill="var(--color-soft)">
            <title>The way the character faces</title>
          </circle>
          <circle cx={CENTRE} cy={CENTRE} r={2.5} fill="var(--color-ink)" />
          <line
            x1={CENTRE}
            y1={CENTRE}
            x2={tip[0]}
            y2={tip[1]}
            stroke="var(--color-teal)"
            strokeWidth={2.5}
          />
          <circle
            cx={tip[0]}
            cy={tip[1]}
            r={5}
            fill="var(--color-surface)"
            stroke="var(--color-teal)"
            strokeWidth={2}
          />
        </svg>
      </div>
      <div className="w-[104px] text-xs">
        <div className="num">
          <b className="text-sm">{windSpeed.toFixed(1)}</b> m/s
        </div>
        <div className="text-soft">wind: drag its tip</div>
        <div className="mt-1 text-soft">cloth: drag to pull</div>
      </div>
    </div>
  );
}

/** The eye's heading, read while the dial is shown; renders only when it turns. */
function useHeading(viewport: RefObject<Viewport | null>): number {
  const [heading, setHeading] = useState(0);
  useEffect(
    function followEye() {
      let request = 0;
      const follow = (): void => {
        request = requestAnimationFrame(follow);
        const now = viewport.current?.heading;
        // Rounded, so that nothing renders while the eye rests.
        if (now !== undefined) setHeading(Math.round(now * 50) / 50);
      };
      follow();
      return () => cancelAnimationFrame(request);
    },
    [viewport],
  );
  return heading;
}

function wrapDegrees(degrees: number): number {
  return degrees > 180 ? degrees - 360 : degrees <= -180 ? degrees + 360 : degrees;
}
