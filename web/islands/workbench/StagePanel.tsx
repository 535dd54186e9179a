import { useStore } from '../../state/store.ts';
import { useWorkbench } from '../../state/workbench.ts';
import { PreparationTask } from './PreparationTask.tsx';
import { BodiesPanel } from './panels/bodies/BodiesPanel.tsx';
import { FabricPanel } from './panels/FabricPanel.tsx';
import { GarmentPanel } from './panels/GarmentPanel.tsx';
import { IntakePanel } from './panels/IntakePanel.tsx';
import { LevelsPanel } from './panels/levels/LevelsPanel.tsx';
import { ReachPanel } from './panels/reach/ReachPanel.tsx';
import { ShipPanel } from './panels/ShipPanel.tsx';
import { SimMeshPanel } from './panels/SimMeshPanel.tsx';
import { TrialsPanel } from './panels/trials/TrialsPanel.tsx';

const PANELS = {
  intake: IntakePanel,
  garment: GarmentPanel,
  simMesh: SimMeshPanel,
  reach: ReachPanel,
  bodies: BodiesPanel,
  fabric: FabricPanel,
  trials: TrialsPanel,
  ship: ShipPanel,
  levels: LevelsPanel,
};

/** What the current stage needs, and nothing else. */
export function StagePanel() {
  const { session } = useWorkbench();
  const stage = useStore(session, (state) => state.stage);
  const Panel = PANELS[stage];
  return (
    <aside className="h-full overflow-y-auto px-4 py-3.5" aria-label="Stage">
      <Panel />
      <PreparationTask />
    </aside>
  );
}
