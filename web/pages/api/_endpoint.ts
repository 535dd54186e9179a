import {
  DeadlockException,
  LockWaitTimeoutException,
  OptimisticLockError,
  UniqueConstraintViolationException,
} from '@mikro-orm/core';
import type { MikroORM, SqlEntityManager } from '@mikro-orm/postgresql';
import type { APIContext, APIRoute } from 'astro';
import { ValidationError } from 'yup';
import { IntakeError } from '../../../formats/index.ts';
import { createOrm } from '../../../server/database/orm.ts';
import { IntakePool } from '../../../server/intake/intake-pool.ts';
import { ServiceError } from '../../../server/services/service-error.ts';
import { TaskEvents } from '../../../server/tasks/task-events.ts';
import { TaskQueue } from '../../../server/tasks/task-queue.ts';

interface Services {
  orm: MikroORM;
  pool: IntakePool;
  events: TaskEvents;
  /** Opened when something is ordered for the first time. */
  openQueue(): Promise<TaskQueue>;
}

let opened: Promise<Services> | null = null;

/** Database and workers of this server, opened at the first request. */
function getServices(): Promise<Services> {
  opened ??= openServices();
  return opened;
}

async function openServices(): Promise<Services> {
  const url = process.env.COBWEB_DATABASE_URL;
  if (!url) throw new Error('COBWEB_DATABASE_URL is not set: start the application with ./cobweb start.');
  const orm = await createOrm(url);
  const pool = new IntakePool();
  const events = new TaskEvents(url);
  let queue: Promise<TaskQueue> | null = null;
  (globalThis as { cobwebClose?: () => Promise<void> }).cobwebClose = async () => {
    // The next request, should there be one (in tests), opens anew what is named then.
    opened = null;
    await events.close();
    await (await queue)?.close();
    await pool.close();
    await orm.close();
  };
  const openQueue = (): Promise<TaskQueue> => {
    queue ??= TaskQueue.open(url);
    // One that could not be opened is tried again.
    queue.catch(() => {
      queue = null;
    });
    return queue;
  };
  return { orm, pool, events, openQueue };
}

/** What the database says when two requests change the same at once. */
const COLLISIONS = [
  OptimisticLockError,
  DeadlockException,
  LockWaitTimeoutException,
  UniqueConstraintViolationException,
];

export interface EndpointContext extends Pick<Services, 'pool' | 'events' | 'openQueue'> {
  em: SqlEntityManager;
  /** An entity manager for what goes on after the answer has begun. */
  fork(): SqlEntityManager;
  request: Request;
  url: URL;
  /** A part of the path, `[id]` and the like. */
  param(name: string): string;
}

/** Wraps a handler: one entity manager for each request, errors as JSON with the right status. */
export function endpoint(handle: (context: EndpointContext) => Promise<Response>): APIRoute {
  return async ({ request, params, url }: APIContext) => {
    try {
      const { orm, ...services } = await getServices();
      const param = (name: string): string => params[name] ?? '';
      const fork = (): SqlEntityManager => orm.em.fork();
      return await handle({ em: fork(), fork, ...services, request, url, param });
    } catch (error) {
      return toErrorResponse(error);
    }
  };
}

export function json(value: unknown, status = 200): Response {
  return new Response(JSON.stringify(value), {
    status,
    headers: { 'Content-Type': 'application/json', 'Cache-Control': 'no-store' },
  });
}

function toErrorResponse(error: unknown): Response {
  if (error instanceof ServiceError)
    return json({ error: { message: error.message, ...(error.details as object) } }, error.status);
  if (error instanceof IntakeError) return json({ error: error.toJSON() }, 422);
  if (error instanceof ValidationError)
    return json({ error: { message: `The request is not valid: ${error.errors.join('; ')}.` } }, 400);
  if (error instanceof SyntaxError)
    return json({ error: { message: 'The request is not valid JSON.' } }, 400);
  if (COLLISIONS.some((kind) => error instanceof kind))
    return json(
      {
        error: { message: 'Something else changed this at the same moment. Nothing was stored; try again.' },
      },
      409,
    );
  console.error(error);
  return json(
    { error: { message: 'The server failed at this. Its console says why; nothing was changed.' } },
    500,
  );
}
