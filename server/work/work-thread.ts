import type { MessagePort } from 'node:worker_threads';
import { doJob, type JobKind, type KnownSubject, openSubject, type Subject } from './jobs/index.ts';

/** What a thread is to do. */
export interface ThreadTask extends Subject {
  kind: JobKind;
  job: unknown;
  /** Told how much is done, as the job counts it. */
  port: MessagePort;
}

/** It is told so often, ms. */
const TELL_EVERY_MS = 100;

let known: KnownSubject | null = null;

/** Entry of the threads: does one job. */
export default function work({ kind, job, port, ...subject }: ThreadTask): unknown {
  try {
    known = known?.key === subject.key ? known : openSubject(subject);
    let toldAt = performance.now();
    return doJob(kind, known, job, (done) => {
      if (performance.now() - toldAt < TELL_EVERY_MS) return;
      toldAt = performance.now();
      port.postMessage(done);
    });
  } finally {
    port.close();
  }
}
