/**
 * A button that was clicked with the mouse gives the focus up, so that Space goes on to play and pause. Reached by keyboard it keeps
 * it, and Space presses it.
 */
export function blurAfterClick(event: MouseEvent): void {
  const button = (event.target as Element).closest('button');
  // Keyboards click with no count.
  if (event.detail > 0 && button && button === document.activeElement) button.blur();
}
