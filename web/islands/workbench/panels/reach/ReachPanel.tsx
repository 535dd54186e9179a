import { Tabs } from 'radix-ui';
import { type GarmentRecord, listGarments, listMaps } from '../../../../../core/document/index.ts';
import { tellVertices } from '../../../../../core/math/index.ts';
import { CHANNEL_KINDS, CHANNELS, type ChannelKind, formatValue } from '../../../../../core/reach/index.ts';
import { describeLegend } from '../../../../state/legend.ts';
import type { ReachTab } from '../../../../state/reach-work.ts';
import { useStore } from '../../../../state/store.ts';
import { useDocument, useWorkbench } from '../../../../state/workbench.ts';
import { BrushTab } from './BrushTab.tsx';
import { ImageTab } from './ImageTab.tsx';
import { LookTab } from './LookTab.tsx';
import { MapRow } from './MapRow.tsx';
import { PointsTab } from './PointsTab.tsx';
import { RampTab } from './RampTab.tsx';
import { SpreadChart } from './SpreadChart.tsx';
import { SuggestRow } from './SuggestRow.tsx';

const TABS: readonly { tab: ReachTab; label: string; Tab: () => React.ReactNode }[] = [
  { tab: 'brush', label: 'Brush', Tab: BrushTab },
  { tab: 'points', label: 'Select', Tab: PointsTab },
  { tab: 'ramp', label: 'Ramp', Tab: RampTab },
  { tab: 'image', label: 'Image', Tab: ImageTab },
  { tab: 'look', label: 'Look', Tab: LookTab },
];

/** Everything that bounds how far a garment's points may go: which map, and how it is made. */
export function ReachPanel() {
  const workbench = useWorkbench();
  const editor = useDocument();
  const garmentId = useStore(workbench.session, (session) => session.garmentId);
  const garment = listGarments(editor.document).find(({ id }) => id === garmentId);
  if (!garment || !workbench.reach.garment) {
    return (
      <>
        <h1 className="text-[20px] font-semibold tracking-tight">Reach</h1>
        <p className="mt-2 text-soft">
          Make a garment first; then paint here how far each of its vertices may move.
        </p>
        <button
          type="button"
          className="btn btn-main mt-3"
          onClick={() => workbench.session.set({ stage: 'garment' })}
        >
          Go to Garment
        </button>
      </>
    );
  }
  return <Painting garment={garment} />;
}

function Painting({ garment }: { garment: GarmentRecord }) {
  const workbench = useWorkbench();
  const editor = useDocument();
  const { reach } = workbench;
  const channel = useStore(workbench.session, (session) => session.channel);
  const tab = useStore(reach.store, (state) => state.tab);
  const has = (kind: ChannelKind): boolean => listMaps(editor.document, garment.id, kind).length > 0;
  return (
    <>
      <div className="flex items-center gap-2">
        <h1 className="text-[20px] font-semibold tracking-tight">Reach</h1>
        <select
          className="field"
          aria-label="Channel"
          title={CHANNELS[channel].effect}
          value={channel}
          onChange={(event) => reach.choose(event.target.value as ChannelKind)}
        >
          {CHANNEL_KINDS.map((kind) => (
            <option key={kind} value={kind}>
              {has(kind) ? '● ' : '○ '}
              {CHANNELS[kind].label}
            </option>
          ))}
        </select>
      </div>
      <MapRow garment={garment} />
      <Tabs.Root value={tab} onValueChange={(next) => reach.store.set({ tab: next as ReachTab })}>
        <Tabs.List className="mt-2 mb-2.5 flex border-b border-line" aria-label="Reach">
          {TABS.map((each) => (
            <Tabs.Trigger
              key={each.tab}
              value={each.tab}
              className="-mb-px flex-1 border-b-2 border-transparent pt-1 pb-1 font-semibold text-soft data-[state=active]:border-teal data-[state=active]:text-ink"
            >
              {each.label}
            </Tabs.Trigger>
          ))}
        </Tabs.List>
        {TABS.map((each) => (
          <Tabs.Content key={`${garment.id} ${each.tab}`} value={each.tab} tabIndex={-1}>
            <each.Tab />
          </Tabs.Content>
        ))}
      </Tabs.Root>
      {channel === 'maxDistance' && tab === 'brush' && <SuggestRow />}
      <Spread channel={channel} />
    </>
  );
}

function Spread({ channel }: { channel: ChannelKind }) {
  const workbench = useWorkbench();
  const editor = useDocument();
  const { reach } = workbench;
  useStore(reach.store, (state) => state);
  const { comparison, painted } = reach;
  if (!painted) return null;
  const { values } = painted;
  const legend = describeLegend(reach, values);
  if (comparison) return <Difference channel={channel} comparison={comparison} />;
  const held = values.reduce((count, each) => count + (each === 0 ? 1 : 0), 0);
  return (
    <section className="mt-3 border-t border-line pt-2" aria-label="Spread of values">
      <h2 className="heading">Spread of values</h2>
      <SpreadChart channel={channel} values={values} revision={editor.revision} top={legend.top} />
      {channel === 'maxDistance' && (
        <p className="num mt-0.5 text-xs text-soft" data-held={held}>
          {held.toLocaleString('en')} of {tellVertices(values.length)} held
        </p>
      )}
    </section>
  );
}

/** What another map has more or less, in numbers. */
function Difference({ channel, comparison }: { channel: ChannelKind; comparison: Float32Array }) {
  const workbench = useWorkbench();
  const { comparedId } = workbench.reach.store.state;
  const other = comparedId ? workbench.editor.document.records.get(comparedId) : undefined;
  let [differing, most, sum] = [0, 0, 0];
  for (const difference of comparison) {
    if (difference !== 0) differing++;
    most = Math.max(most, Math.abs(difference));
    sum += difference;
  }
  const mean = sum / Math.max(1, comparison.length);
  return (
    <section className="mt-3 border-t border-line pt-2" aria-label="Comparison">
      <h2 className="heading">Against {other?.type === 'channel' ? other.name : 'another map'}</h2>
      <p className="mt-1">
        <b className="num">{differing.toLocaleString('en')}</b> vertices differ, by up to{' '}
        <b className="num">{formatValue(channel, most)}</b>; on average it has{' '}
        <b className="num">{formatValue(channel, Math.abs(mean))}</b> {mean < 0 ? 'less' : 'more'}.
      </p>
    </section>
  );
}
