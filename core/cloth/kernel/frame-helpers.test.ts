import { expect } from 'chai';
import { compileGarment, FABRIC_DEFAULTS } from '../index.ts';
import { createSheet, createTestCharacter } from '../test-cloth.ts';
import { FRAME, STILL } from '../test-hang.ts';
import { FrameHelpers } from './frame-helpers.ts';
import { FrameQueue } from './frame-queue.ts';
import { type FrameMessage, FrameServer } from './frame-server.ts';
import { KernelSolver } from './kernel-solver.ts';

const { positions, triangles } = createSheet(6, 6, (u, v) => [0.4 * u, 1 - 0.4 * v, 0]);
const garment = compileGarment(createTestCharacter(positions, triangles), 0);
const FREE = new Float32Array(49).map((_, p) => (p < 7 ? 0 : 1));

function hang(isShared: boolean): KernelSolver {
  const solver = new KernelSolver(garment, FABRIC_DEFAULTS, { isShared });
  solver.setMaxDistances(FREE);
  return solver;
}

/** Helpers whose threads are this one, and do with what they are told as `act` says. */
function createHelpers(most: number, act: (server: FrameServer, message: FrameMessage) => void) {
  return new FrameHelpers(
    most,
    () => {
      const server = new FrameServer(() => 0);
      return (message) => act(server, message);
    },
    30,
  );
}

function begin(helpers: FrameHelpers, solvers: readonly KernelSolver[]): void {
  for (const solver of solvers) {
    solver.begin(FRAME, garment.restPositions, STILL);
    expect(helpers.add(solver)).equal(true);
  }
}

/** Looks until nothing is under way, or it is said that a thread has ended. */
function collectAll(helpers: FrameHelpers): void {
  while (helpers.computeOne());
  for (let look = 0; look < 4; look++) helpers.takeFinished(true);
}

describe('threads that compute frames of cloth', () => {
  it('forget cloth that is gone', () => {
    const known = new Set<number>();
    let most = 0;
    const helpers = createHelpers(1, (server, message) => {
      if (message.kind === 'learn') known.add(message.kernel);
      if (message.kind === 'forget') known.delete(message.kernel);
      most = Math.max(most, known.size);
      server.handle(message);
    });
    for (let round = 0; round < 25; round++) {
      const solvers = [hang(true), hang(true), hang(true)];
      begin(helpers, solvers);
      helpers.wake();
      while (helpers.computeOne());
      expect(new Set(helpers.takeFinished(true))).deep.equal(new Set(solvers));
    }
    expect(most).within(20, 33);
  });

  it('are not waited for before they are ready: this thread does it all, and tells each once', () => {
    const started: FrameMessage[] = [];
    const helpers = createHelpers(2, (_server, message) => started.push(message));
    const solvers = [hang(true), hang(true), hang(true)];
    begin(helpers, solvers);
    helpers.wake();
    helpers.wake();
    // One at a time is started; it has not said that it is there.
    expect(started.filter(({ kind }) => kind === 'start').length).equal(1);
    expect(helpers.readyCount).equal(0);
    expect(helpers.takeFinished(false)).deep.equal([]);
    while (helpers.computeOne());
    expect(helpers.takeFinished(false)).deep.equal(solvers);
    expect(helpers.takeFinished(true)).deep.equal([]);
    const alone = hang(false);
    alone.step(FRAME, garment.restPositions, STILL);
    for (const solver of solvers) {
      solver.finish();
      expect(solver.positions).deep.equal(alone.positions);
    }
  });

  it('say so when they fail', () => {
    const helpers = createHelpers(1, (server, message) => {
      const { kind } = message;
      // Addresses that lie outside of it.
      const memory = new WebAssembly.Memory({ initial: 1, maximum: 1, shared: true });
      new Uint32Array(memory.buffer).fill(0x3fffffff);
      try {
        server.handle(kind === 'learn' ? { ...message, memory } : message);
      } catch (error) {
        expect(error).instanceOf(WebAssembly.RuntimeError);
      }
    });
    begin(helpers, [hang(true), hang(true)]);
    helpers.wake();
    begin(helpers, [hang(true)]);
    // Ready now: it takes a frame.
    helpers.wake();
    expect(helpers.readyCount).equal(0);
    expect(() => collectAll(helpers)).throw(/has ended/);
  });

  it('say so when they fall silent over a frame', () => {
    let queue: FrameQueue | null = null;
    const helpers = createHelpers(1, (server, message) => {
      if (message.kind === 'start') queue = new FrameQueue(message.queue);
      if (message.kind === 'wake') queue!.take(queue!.next!);
      else server.handle(message);
    });
    begin(helpers, [hang(true), hang(true)]);
    helpers.wake();
    helpers.wake();
    expect(() => collectAll(helpers)).throw(/has ended/);
  });

  it('have room for a bounded number of frames at once', () => {
    const helpers = createHelpers(1, () => {});
    const solver = hang(true);
    solver.begin(FRAME, garment.restPositions, STILL);
    let count = 0;
    while (helpers.add(solver)) count++;
    expect(count).equal(64);
    while (helpers.computeOne());
    expect(helpers.takeFinished(true).length).equal(64);
    expect(helpers.add(solver)).equal(true);
  });
});
