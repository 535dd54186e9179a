import { BookOpen } from 'lucide-react';
import { useStore } from '../../state/store.ts';
import { useWorkbench } from '../../state/workbench.ts';
import { ManualPage } from '../parts/Term.tsx';
import { getManualAddress } from './commands/help-commands.ts';
import { NextWhy } from './NextHint.tsx';
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
    <aside className="stage-panel h-full overflow-y-auto px-4 py-3.5" aria-label="Stage">
      <NextWhy />
      <ManualPage value={getManualAddress(stage)}>
        <Panel />
      </ManualPage>
      <PreparationTask />
      <a
        className="mt-5 inline-flex items-center gap-1.5 text-xs text-soft underline decoration-line underline-offset-2 hover:text-ink"
        href={getManualAddress(stage)}
        target="_blank"
        rel="noreferrer"
        title="Opens beside this page (F1)"
      >
        <BookOpen size={13} /> This stage in the manual
      </a>
    </aside>
  );
}
