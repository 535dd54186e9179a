import { useStore } from '../../../../state/store.ts';
import { useWorkbench } from '../../../../state/workbench.ts';
import { SuggestIcon } from '../../../parts/icons/ToolIcons.tsx';
import { TaskProgress } from '../../../parts/TaskProgress.tsx';

/** A first map from the seam and the clips, to paint over. */
export function SuggestRow() {
  const { suggesting, editor, version } = useWorkbench();
  const { task, share, secondsLeft, failure } = useStore(suggesting.store, (state) => state);
  const clips = editor.character.clips.length;
  return (
    <section className="mt-2" aria-label="Suggestion">
      {task === null ? (
        <button
          type="button"
          className="btn"
          disabled={clips === 0 || version !== null}
          title={
            clips === 0
              ? 'There are no clips to measure on'
              : 'Runs the clips with the cloth free, held at its seam alone, and measures how far each vertex goes. The seam: picked vertices, or else what is held, or the highest border'
          }
          onClick={() => void suggesting.start()}
        >
          <SuggestIcon /> Suggest from the clips
        </button>
      ) : (
        <TaskProgress
          label="Suggesting"
          task={task}
          share={share}
          secondsLeft={secondsLeft}
          onStop={() => suggesting.cancel()}
        />
      )}
      {failure && (
        <p role="alert" className="mt-1.5 text-brick">
          {failure}
        </p>
      )}
    </section>
  );
}
