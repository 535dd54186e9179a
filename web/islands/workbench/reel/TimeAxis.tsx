import { chooseTickStep } from './reel-rows.ts';

/** Seconds of the clip beneath the rows. */
export function TimeAxis({ duration }: { duration: number }) {
  const step = chooseTickStep(duration);
  const ticks = Array.from({ length: Math.floor(duration / step + 1e-6) + 1 }, (_, i) => i * step);
  const digits = step < 0.1 ? 2 : step < 1 ? (step === 0.25 ? 2 : 1) : 0;
  return (
    <div className="num relative h-full text-[10px] leading-3 text-soft" data-axis="seconds">
      {ticks.map((time) => (
        <span
          key={time}
          className="absolute top-0 border-l border-rim pl-0.5"
          style={{ left: `${(100 * time) / (duration || 1)}%`, transform: atEnd(time, duration) }}
        >
          {time.toFixed(digits)}
          {time === 0 ? ' s' : ''}
        </span>
      ))}
    </div>
  );
}

/** The last label stays within the axis. */
function atEnd(time: number, duration: number): string | undefined {
  return time > 0.96 * duration ? 'translateX(-100%)' : undefined;
}
