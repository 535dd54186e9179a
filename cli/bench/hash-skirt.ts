import { createHash } from 'node:crypto';
import { createClothRunner } from './cloth-runner.ts';
import { createSkirt } from './skirt.ts';

/** Sixty frames of the bench's skirt, as one number: the same on every thread and machine. */
export function hashSkirt(): string {
  const runner = createClothRunner(createSkirt(24), 'kernel', { selfDistance: 0.02, airDrag: 1 });
  for (let frame = 1; frame <= 60; frame++) {
    runner.prepare(frame);
    runner.step();
  }
  const { buffer, byteOffset, byteLength } = runner.solver.positions;
  return createHash('sha256')
    .update(new Uint8Array(buffer, byteOffset, byteLength))
    .digest('hex');
}

/** Entry of worker threads. */
export default hashSkirt;
