import { expect } from 'chai';
import type { IntakeError } from '../../formats/index.ts';
import { IntakePool } from './intake-pool.ts';

describe('intake workers', function () {
  this.timeout(240_000);

  /** An OBJ of so many faces that reading it takes a while. */
  const slow = (faces: number): Uint8Array => {
    const lines = ['v 0 0 0', 'v 1 0 0', 'v 0 1 0'];
    for (let i = 0; i < faces; i++) lines.push('f 1 2 3');
    return new TextEncoder().encode(lines.join('\n'));
  };
  const codeOf = (reading: Promise<unknown>): Promise<string> =>
    reading.then(
      () => 'read',
      (error: IntakeError) => error.code ?? error.message,
    );

  it('stop a file that takes too long, and read the next one', async () => {
    const pool = new IntakePool({ seconds: 3 });
    try {
      expect(await codeOf(pool.read([{ name: 'a.obj', bytes: slow(5) }]))).equal('read');
      expect(await codeOf(pool.read([{ name: 'huge.obj', bytes: slow(9_000_000) }]))).equal('timed-out');
      expect(await codeOf(pool.read([{ name: 'a.obj', bytes: slow(5) }]))).equal('read');
    } finally {
      await pool.close();
    }
  });

  it('stop a file that takes too much memory, and read the next one', async () => {
    const pool = new IntakePool({ memoryMb: 160 });
    try {
      expect(await codeOf(pool.read([{ name: 'huge.obj', bytes: slow(3_000_000) }]))).equal('out-of-memory');
      expect(await codeOf(pool.read([{ name: 'a.obj', bytes: slow(5) }]))).equal('read');
    } finally {
      await pool.close();
    }
  });
});
