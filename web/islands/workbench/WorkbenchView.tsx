import { Minimize2 } from 'lucide-react';
import { useEffect, useRef } from 'react';
import { Group, Panel, type PanelImperativeHandle, Separator } from 'react-resizable-panels';
import { useStore } from '../../state/store.ts';
import { useWorkbench } from '../../state/workbench.ts';
import type { Viewport } from '../../viewport/viewport.ts';
import { ErrorBoundary } from '../parts/ErrorBoundary.tsx';
import { BudgetBar } from './BudgetBar.tsx';
import { blurAfterClick } from './blur-after-click.ts';
import { CommandPalette } from './CommandPalette.tsx';
import { ConflictDialog } from './ConflictDialog.tsx';
import { useCommandKeys } from './commands/use-command-keys.ts';
import { GarmentSidebar } from './GarmentSidebar.tsx';
import { HeaderTitle } from './HeaderTitle.tsx';
import { HistoryDialog } from './HistoryDialog.tsx';
import { KeySheet } from './KeySheet.tsx';
import { Reel } from './reel/Reel.tsx';
import { StagePanel } from './StagePanel.tsx';
import { StageThread } from './StageThread.tsx';
import { Tour } from './tour/Tour.tsx';
import { ViewportPane } from './ViewportPane.tsx';

/** Of what the stage needs, px; wide where that is a table. */
const PANEL_WIDTH = 276;
const WIDE_PANEL_WIDTH = 610;

/** The main screen: stage thread, garments, viewport, what the stage needs, and the reel. */
export function WorkbenchView() {
  const viewport = useRef<Viewport | null>(null);
  useCommandKeys(viewport);
  const { session } = useWorkbench();
  const panel = useRef<PanelImperativeHandle | null>(null);
  const sidebar = useRef<PanelImperativeHandle | null>(null);
  const isFullView = useStore(session, (state) => state.isFullView);
  const isWide = useStore(session, ({ stage }) => stage === 'trials' || stage === 'levels');
  const wasWide = useRef(isWide);
  useEffect(
    function makeRoom() {
      if (isWide === wasWide.current) return;
      wasWide.current = isWide;
      panel.current?.resize(isWide ? WIDE_PANEL_WIDTH : PANEL_WIDTH);
    },
    [isWide],
  );
  const wasFullView = useRef(false);
  useEffect(
    function hidePanels() {
      if (isFullView === wasFullView.current) return;
      wasFullView.current = isFullView;
      for (const { current } of [sidebar, panel]) {
        if (isFullView) current?.collapse();
        else current?.expand();
      }
    },
    [isFullView],
  );
  useEffect(function giveFocusUp() {
    addEventListener('click', blurAfterClick);
    return () => removeEventListener('click', blurAfterClick);
  }, []);
  return (
    <div className="flex h-full flex-col overflow-hidden">
      {!isFullView && (
        <header className="grid h-13 shrink-0 grid-cols-[auto_minmax(0,1fr)_auto] items-center max-[1129px]:gap-x-2 min-[1130px]:grid-cols-[minmax(280px,1fr)_auto_minmax(280px,1fr)] border-b border-line bg-panel px-4">
          <HeaderTitle />
          <StageThread />
          <BudgetBar />
        </header>
      )}
      <Group orientation="vertical" className="min-h-0 flex-1">
        <Panel minSize={260}>
          <Group orientation="horizontal" className="h-full">
            <Panel
              panelRef={sidebar}
              defaultSize={214}
              minSize={180}
              maxSize={360}
              collapsible
              className="bg-panel"
            >
              <ErrorBoundary what="The list of garments">
                <GarmentSidebar viewport={viewport} />
              </ErrorBoundary>
            </Panel>
            <Separator className="w-px bg-line hover:bg-teal" />
            <Panel minSize={320}>
              <ErrorBoundary what="The viewport">
                <ViewportPane viewport={viewport} />
              </ErrorBoundary>
            </Panel>
            <Separator className="w-px bg-line hover:bg-teal" />
            <Panel
              panelRef={panel}
              defaultSize={PANEL_WIDTH}
              minSize={240}
              maxSize={760}
              collapsible
              className="bg-panel"
            >
              <ErrorBoundary what="This stage">
                <StagePanel />
              </ErrorBoundary>
            </Panel>
          </Group>
        </Panel>
        <Separator className="h-px bg-line hover:bg-teal" />
        <Panel defaultSize={146} minSize={56} maxSize={260} className="bg-panel">
          <ErrorBoundary what="The reel">
            <Reel viewport={viewport} />
          </ErrorBoundary>
        </Panel>
      </Group>
      {isFullView && (
        <button
          type="button"
          className="btn fixed top-3 right-3 z-30"
          title="Everything again (Z)"
          onClick={() => session.set({ isFullView: false })}
        >
          <Minimize2 size={14} /> Leave the full view
        </button>
      )}
      <ConflictDialog />
      <CommandPalette viewport={viewport} />
      <KeySheet />
      <HistoryDialog />
      <Tour />
    </div>
  );
}
