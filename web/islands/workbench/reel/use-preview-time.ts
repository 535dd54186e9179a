import { useEffect, useRef } from 'react';
import { useWorkbench } from '../../../state/workbench.ts';

/** Calls with the time of the preview's clip, s, on each frame of the screen, without rendering React. */
export function usePreviewTime(follow: (time: number) => void): void {
  const { preview } = useWorkbench();
  const newest = useRef(follow);
  newest.current = follow;
  useEffect(
    function followTime() {
      let request = 0;
      const look = (): void => {
        request = requestAnimationFrame(look);
        const frame = preview.readFrame();
        if (frame) newest.current(frame.time);
      };
      look();
      return () => cancelAnimationFrame(request);
    },
    [preview],
  );
}
