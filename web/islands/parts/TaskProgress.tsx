export interface TaskProgressProps {
  /** What it is called, for who cannot see it. */
  label: string;
  /** What is being done now. */
  task: string;
  /** 0 to 1. */
  share: number;
  /** Null while it cannot be told. */
  secondsLeft?: number | null;
  onStop(): void;
}

/** A long task: what it does, how far it is, and a way to end it. */
export function TaskProgress({ label, task, share, secondsLeft = null, onStop }: TaskProgressProps) {
  return (
    <div className="mt-2" role="status">
      <div className="flex items-center gap-2">
        <span className="min-w-0 flex-1">{task}…</span>
        <button type="button" className="btn !py-0.5" onClick={onStop}>
          Stop
        </button>
      </div>
      <progress className="mt-1.5 h-1.5 w-full" value={share} max={1} aria-label={label} />
      <p className="num text-xs text-soft">
        {secondsLeft === null
          ? `${Math.round(100 * share)} %`
          : `about ${Math.max(1, Math.round(secondsLeft))} s left`}
      </p>
    </div>
  );
}
