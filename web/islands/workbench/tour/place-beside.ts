interface Size {
  width: number;
  height: number;
}

export interface Box extends Size {
  left: number;
  top: number;
}

const GAP = 16;

/**
 * Where a card goes beside what it speaks of: to its left or right, or else above or below, always on the screen. Pixels.
 * @param box - What it speaks of; without it the card stands above the middle of the lower edge.
 */
export function placeBeside(box: Box | null, card: Size, screen: Size): { left: number; top: number } {
  const clamp = (value: number, most: number): number => Math.max(GAP, Math.min(most - GAP, value));
  if (!box) return { left: (screen.width - card.width) / 2, top: screen.height - card.height - 180 };
  const top = clamp(box.top, screen.height - card.height);
  const toLeft = box.left - card.width - GAP;
  if (toLeft >= GAP) return { left: toLeft, top };
  const toRight = box.left + box.width + GAP;
  if (toRight + card.width + GAP <= screen.width) return { left: toRight, top };
  const above = box.top - card.height - GAP;
  const left = clamp(box.left, screen.width - card.width);
  return {
    left,
    top: above >= GAP ? above : clamp(box.top + box.height + GAP, screen.height - card.height),
  };
}
