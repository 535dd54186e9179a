import { toast } from 'sonner';
import { Cancelled } from './worker-calls.ts';

/** Does a change of the preparation; tells when it was cancelled or could not be done. @returns Whether it was done. */
export async function runPreparation(change: () => Promise<void>): Promise<boolean> {
  try {
    await change();
    return true;
  } catch (error) {
    if (error instanceof Cancelled) toast('Cancelled; nothing was changed.', { duration: 1500 });
    else toast.error(`That could not be done: ${(error as Error).message}.`);
    return false;
  }
}
