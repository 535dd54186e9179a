import { MACHINE_ID } from '../../../../core/cost/index.ts';
import { useStore } from '../../../state/store.ts';
import { useWorkbench } from '../../../state/workbench.ts';
import { MeasureMachine } from '../../targets/MeasureMachine.tsx';
import { SourceNote } from '../../targets/SourceNote.tsx';

/** For which machine costs are told, how good that is, and measuring it anew. */
export function CostSource() {
  const { targets } = useWorkbench();
  const { all, target, failure } = useStore(targets.store, (state) => state);
  const { framesPerSecond } = target;
  return (
    <div className="mt-2 text-xs text-soft">
      <div className="flex items-center gap-2 text-[13px] text-ink">
        <label htmlFor="target-profile" className="w-[84px]">
          Target
        </label>
        <select
          id="target-profile"
          className="field flex-1"
          value={target.id}
          title="The machine that costs are told for, in all of this project"
          onChange={(event) => void targets.choose(event.target.value)}
        >
          {all.map(({ id, name }) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
        </select>
        <a className="underline" href="/targets">
          Target profiles
        </a>
      </div>
      <p className="mt-1.5">
        Counted work of a frame of <span className="num">1/{framesPerSecond} s</span> times what each piece of
        it costs there: the same for the same clip, however busy this machine is.{' '}
        <SourceNote costs={target.costs} />
      </p>
      {target.id === MACHINE_ID && (
        <div className="mt-1.5">
          <MeasureMachine targets={targets} />
        </div>
      )}
      {failure && (
        <p role="alert" className="mt-1 text-brick">
          {failure}
        </p>
      )}
    </div>
  );
}
