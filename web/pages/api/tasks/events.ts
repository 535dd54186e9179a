import { ServiceError } from '../../../../server/services/service-error.ts';
import { TaskService } from '../../../../server/tasks/task-service.ts';
import { endpoint } from '../_endpoint.ts';

export const prerender = false;

/** A line now and then, so that whatever lies between does not take the silence for an end. */
const ALIVE_EVERY_MS = 15_000;

/** Server-sent events: the whole list at first ("tasks"), then each task that has changed ("task"). */
export const GET = endpoint(async ({ fork, events }) => {
  const encoder = new TextEncoder();
  let end = (): void => {};
  const stream = new ReadableStream<Uint8Array>({
    async start(controller) {
      const send = (text: string): void => {
        try {
          controller.enqueue(encoder.encode(text));
        } catch {
          // Nobody reads it any more.
          end();
        }
      };
      const sendAll = async (): Promise<void> =>
        send(`event: tasks\ndata: ${JSON.stringify({ tasks: await new TaskService(fork()).list() })}\n\n`);
      const sendOne = async (taskId: string): Promise<void> =>
        send(`event: task\ndata: ${JSON.stringify(await new TaskService(fork()).find(taskId))}\n\n`);
      const stop = await events.subscribe((taskId) => {
        (taskId === null ? sendAll() : sendOne(taskId)).catch((error: unknown) => {
          // It was deleted with its character. Of anything else the next change tells.
          if (!(error instanceof ServiceError)) console.error(error);
        });
      });
      const timer = setInterval(() => send(': alive\n\n'), ALIVE_EVERY_MS);
      end = () => {
        clearInterval(timer);
        stop();
      };
      await sendAll();
    },
    cancel: () => end(),
  });
  return new Response(stream, {
    // Compressed, it would be kept until there is enough of it.
    headers: { 'Content-Type': 'text/event-stream', 'Cache-Control': 'no-store, no-transform' },
  });
});
