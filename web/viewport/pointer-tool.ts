import type { Ray } from 'three';

/** What the pointer does in the viewport: one tool at a time, chosen by the stage. */
export interface PointerTool {
  /** @returns True when the tool takes this drag; otherwise it turns the camera. */
  press(ray: Ray, event: PointerEvent): boolean;
  move(ray: Ray, event: PointerEvent, isPressed: boolean): void;
  release(event: PointerEvent): void;
  /** The pointer left, or another tool takes over. */
  leave(): void;
}
