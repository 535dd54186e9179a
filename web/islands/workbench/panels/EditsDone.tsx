import { runPreparation } from '../../../state/run-preparation.ts';
import type { Session } from '../../../state/session.ts';
import { useWorkbench } from '../../../state/workbench.ts';

export interface EditsDoneProps {
  work: NonNullable<Session['hand']>;
}

/** Keeps what was done by hand and goes back to the stage. */
export function EditsDone({ work }: EditsDoneProps) {
  const workbench = useWorkbench();
  const finish = async (): Promise<void> => {
    await work.keep();
    workbench.endEdits();
  };
  return (
    <button type="button" className="btn mt-2" onClick={() => void runPreparation(finish)}>
      Done
    </button>
  );
}
