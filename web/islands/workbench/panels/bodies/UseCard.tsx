import { useState } from 'react';
import { joinUses } from '../../../../../core/body-figures/index.ts';
import type { BodyRecord, RecordId } from '../../../../../core/document/index.ts';
import { useStore } from '../../../../state/store.ts';
import { useDocument, useWorkbench } from '../../../../state/workbench.ts';
import { Choice } from '../../../parts/Choice.tsx';
import { TaskProgress } from '../../../parts/TaskProgress.tsx';
import { toastUndo } from '../../../parts/toast-undo.ts';

type Scope = 'clip' | 'all';

export interface UseCardProps {
  bodySetId: RecordId;
  bodies: readonly BodyRecord[];
}

/** What each body does on a clip or on all: measured on demand, shown in the table; bodies that nothing touches go with one click. */
export function UseCard({ bodySetId, bodies }: UseCardProps) {
  const { session, bodyFigures } = useWorkbench();
  const editor = useDocument();
  const { clips } = editor.character;
  const clip = useStore(session, (state) => state.clip);
  const { use, task, share, secondsLeft, failure } = useStore(bodyFigures.store, (state) => state);
  const [scope, setScope] = useState<Scope>('clip');
  if (clips.length === 0) return null;
  const own = use?.bodySetId === bodySetId ? use : null;
  const uses = own && joinUses(own.clips.map(({ uses: found }) => found));
  const idle = bodies.filter(({ id }) => uses?.get(id)?.vertices === 0);
  const playing = clip ?? 0;
  const start = (): void => {
    const chosen = scope === 'all' ? [...clips.keys()] : [playing];
    void bodyFigures.measureUse(bodySetId, chosen);
  };
  const remove = (): void => {
    const label = idle.length === 1 ? `Remove body ${idle[0]!.name}` : `Remove ${idle.length} bodies`;
    editor.changeRecords(
      label,
      idle.map(({ id }): [RecordId, null] => [id, null]),
    );
    toastUndo(
      editor,
      idle.length === 1 ? `${idle[0]!.name} was removed` : `${idle.length} bodies were removed`,
    );
  };
  return (
    <section className="mt-3 border-t border-line pt-3" aria-label="What each body does">
      <h2 className="font-semibold">What each body does</h2>
      {task === null ? (
        <>
          <div className="mt-2">
            <Choice<Scope>
              label="Clips to measure"
              look="cells"
              value={scope}
              options={[
                { value: 'clip', label: <span className="truncate">{clips[playing]!.name}</span> },
                { value: 'all', label: clips.length === 1 ? 'The clip' : `All ${clips.length} clips` },
              ]}
              onChange={setScope}
            />
          </div>
          <button
            type="button"
            className="btn mt-2 w-full"
            title="Plays it with all bodies, and without each of them in turn"
            onClick={start}
          >
            {own ? 'Measure again' : 'Measure touches, depth and cost'}
          </button>
        </>
      ) : (
        <TaskProgress
          label="Measuring"
          task={task}
          share={share}
          secondsLeft={secondsLeft}
          onStop={() => bodyFigures.cancel()}
        />
      )}
      {failure && (
        <p role="alert" className="mt-1.5 text-brick">
          {failure}
        </p>
      )}
      {own && (
        <p className="mt-1.5 text-xs text-soft">
          In the table: of {own.clips.map((one) => clips[one.clip]?.name).join(', ')}
          {own.isOld && '; bodies, maps or cloth changed since'}.
        </p>
      )}
      {own && idle.length > 0 && (
        <div className="mt-1.5 rounded-md bg-paper px-2 py-1.5">
          <p>Nothing touches {idle.map(({ name }) => name).join(', ')} there.</p>
          <button type="button" className="btn mt-1.5 !py-0.5" onClick={remove}>
            Remove {idle.length === 1 ? 'it' : `these ${idle.length}`}
          </button>
        </div>
      )}
    </section>
  );
}
