import { useRef } from 'react';
import { usePreviewTime } from './use-preview-time.ts';

/** Follows the preview without rendering React. */
export function Playhead({ duration }: { duration: number }) {
  const line = useRef<HTMLDivElement>(null);
  usePreviewTime((time) => {
    if (line.current)
      line.current.style.left = `${duration > 0 ? Math.min(100, (100 * time) / duration) : 0}%`;
  });
  return (
    <div ref={line} className="absolute inset-y-0 w-[2px] -translate-x-1/2 bg-teal">
      <div className="absolute -top-1 left-1/2 h-2 w-2.5 -translate-x-1/2 rounded-[2px] bg-teal" />
    </div>
  );
}
