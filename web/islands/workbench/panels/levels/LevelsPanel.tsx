import { UsersRound } from 'lucide-react';
import {
  getScene,
  LONGEST_LEVEL_SWITCH,
  listGarments,
  SCENE_DEFAULTS,
} from '../../../../../core/document/index.ts';
import { useStore } from '../../../../state/store.ts';
import { useDocument, useWorkbench } from '../../../../state/workbench.ts';
import { NumberRow } from '../../../parts/NumberRow.tsx';
import { GarmentLevels } from './GarmentLevels.tsx';
import { MeasureLevels } from './MeasureLevels.tsx';
import { SizesTable } from './SizesTable.tsx';

/** How garments are simulated while the character is small on the screen: what each size costs and looks like, and the levels of a garment. */
export function LevelsPanel() {
  const { levels, info, session } = useWorkbench();
  const editor = useDocument();
  const { failure } = useStore(levels.store, (state) => state);
  const selected = useStore(session, (state) => state.garmentId);
  const garments = listGarments(editor.document);
  const garment = garments.find(({ id }) => id === selected) ?? garments[0];
  const scene = getScene(editor.document);
  const hasLevels = garments.some((each) => each.levels.length > 0);
  return (
    <>
      <div className="flex items-baseline justify-between">
        <h1 className="text-[20px] font-semibold tracking-tight">Levels of detail</h1>
        <a
          className="flex items-center gap-1.5 text-xs underline"
          href={`/projects/${info.project.id}/crowd`}
        >
          <UsersRound size={13} /> Crowd of {info.project.name}
        </a>
      </div>
      <p className="mt-0.5 text-xs text-soft">
        While a character is small on the screen, its garments may be simulated more coarsely, or not at all.
      </p>
      {garments.length === 0 && (
        <p className="mt-3 text-soft">There is no garment yet: make one in Garment first.</p>
      )}
      {garments.length > 0 && !hasLevels && (
        <button type="button" className="btn btn-main mt-3" onClick={() => levels.propose(garments)}>
          Propose levels for all garments
        </button>
      )}
      {hasLevels && (
        <>
          <SizesTable />
          <MeasureLevels />
          <div className="w-[280px]">
            <NumberRow
              label="Switch in"
              hint="Garments go over from one level to the next in this time"
              value={scene.levelSwitchSeconds}
              unit="s"
              min={0}
              max={1}
              typedMax={LONGEST_LEVEL_SWITCH}
              step={0.05}
              digits={2}
              defaultValue={SCENE_DEFAULTS.levelSwitchSeconds}
              onChange={(levelSwitchSeconds) =>
                editor.updateScene('Time between levels', { levelSwitchSeconds })
              }
            />
          </div>
        </>
      )}
      {failure && (
        <p role="alert" className="mt-1.5 text-xs text-brick">
          {failure}
        </p>
      )}
      {garment && <GarmentLevels key={garment.id} garment={garment} />}
    </>
  );
}
