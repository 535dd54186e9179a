import { type RefObject, useEffect } from 'react';
import { measureHeight } from '../../../core/levels/index.ts';
import { useStore } from '../../state/store.ts';
import { useDocument, useWorkbench } from '../../state/workbench.ts';
import type { Viewport } from '../../viewport/viewport.ts';

/** How often the size in the viewport is looked at, ms. */
const LOOK_EVERY_MS = 120;

/** At which level of detail the garments are that are seen, and how high the character is when that decides it. */
export function LevelsReading({ viewport }: { viewport: RefObject<Viewport | null> }) {
  const { levels } = useWorkbench();
  const { character } = useDocument();
  const { isByView, viewPixels, heldPixels } = useStore(levels.store, (state) => state);
  useEffect(
    function followView() {
      if (!isByView) return;
      const look = (): void => {
        if (viewport.current) levels.followView(viewport.current.tellShare(measureHeight(character)));
      };
      look();
      const timer = setInterval(look, LOOK_EVERY_MS);
      return () => clearInterval(timer);
    },
    [isByView, levels, viewport, character],
  );
  if (heldPixels === null) return null;
  const band = levels.listBands().findIndex(({ from }) => heldPixels >= from);
  return (
    <div className="floating absolute bottom-3 left-3" data-held={band}>
      {band === 0 ? 'As they are' : `Level ${band}`}
      {isByView && viewPixels !== null && (
        <span className="text-soft">
          {' '}
          · <span className="num">{viewPixels}</span> px high on a picture of 1,080
        </span>
      )}
    </div>
  );
}
