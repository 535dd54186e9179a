import type { Price } from '../../../../core/cost/index.ts';
import { type AuthoredDocument, listGarments, type RecordId } from '../../../../core/document/index.ts';
import type { ClipCost } from '../../../state/clip-cost.ts';
import { useStore } from '../../../state/store.ts';
import { useDocument, useWorkbench } from '../../../state/workbench.ts';
import { COST_PARTS } from './cost-parts.ts';

/** Bodies that are listed: those that cost most. */
const MOST_BODIES = 5;

/** What a frame costs: over the clip, by what spends it, by garment and by body. */
export function CostFigures({ cost }: { cost: ClipCost | null }) {
  const { session } = useWorkbench();
  const editor = useDocument();
  const clip = useStore(session, (state) => state.clip);
  if (!cost) return <p className="text-soft">No frame has been simulated yet.</p>;
  const { mean, p95, worst, kind } = cost;
  const name = clip === null ? 'Bind pose' : editor.character.clips[clip]!.name;
  const bodies = listBodyCosts(mean, editor.document);
  return (
    <>
      <h2 className="font-semibold">{kind === 'clip' ? name : `${name}, last half second`}</h2>
      <div className="mt-1.5 grid grid-cols-3 gap-2 text-center">
        <Figure label="mean" value={mean.total} />
        <Figure label="95 % of frames below" value={p95} />
        <Figure label="worst frame" value={worst} />
      </div>
      <SeveralCores mean={mean} />
      <h3 className="mt-3 font-semibold">Cost by task</h3>
      <table className="mt-1 w-full">
        <tbody>
          {COST_PARTS.filter(({ key }) => mean.parts[key] > 0).map(({ key, label, color }) => (
            <Row key={key} label={label} color={color} value={mean.parts[key]} />
          ))}
        </tbody>
      </table>
      <h3 className="mt-3 font-semibold">By garment</h3>
      <table className="mt-1 w-full">
        <tbody>
          {listGarments(editor.document).map((garment) => (
            <Row
              key={garment.id}
              label={garment.name}
              value={mean.garments.find(({ garmentId }) => garmentId === garment.id)?.total ?? 0}
            />
          ))}
        </tbody>
      </table>
      {bodies.length > 0 && (
        <>
          <h3 className="mt-3 font-semibold">
            By collision body{bodies.length > MOST_BODIES && `, the most costly of ${bodies.length}`}
          </h3>
          <table className="mt-1 w-full">
            <tbody>
              {bodies.slice(0, MOST_BODIES).map(({ id, label, value }) => (
                <Row key={id} label={label} value={value} />
              ))}
            </tbody>
          </table>
        </>
      )}
    </>
  );
}

/** On a target that has them: what all cores do together, which tasks and garments add up to. */
function SeveralCores({ mean: { total, sum } }: { mean: Price }) {
  const { targets } = useWorkbench();
  const { cores } = useStore(targets.store, (state) => state.target);
  if (cores < 2) return null;
  return (
    <p className="mt-2 text-xs text-soft">
      Until the last of <span className="num">{cores}</span> cores is done; together they work{' '}
      <span className="num text-ink" data-work={sum.toFixed(6)}>
        {sum.toFixed(2)} ms.
      </span>{' '}
      {total < sum - 0.005
        ? 'Garments that wait for each other are computed one after the other.'
        : 'Every garment waits for those beneath it, so they are computed one after the other.'}
    </p>
  );
}

/** What each body costs all garments together, the most costly first. */
function listBodyCosts(
  { garments }: Price,
  document: AuthoredDocument,
): { id: string; label: string; value: number }[] {
  const costs = new Map<string, number>();
  for (const { bodies } of garments)
    for (const [id, value] of bodies) costs.set(id, (costs.get(id) ?? 0) + value);
  return [...costs]
    .flatMap(([id, value]) => {
      const body = document.records.get(id as RecordId);
      return body?.type === 'body' ? [{ id, label: body.name, value }] : [];
    })
    .sort((p, q) => q.value - p.value);
}

function Figure({ label, value }: { label: string; value: number | null }) {
  return (
    <div className="rounded-md bg-paper px-1 py-1.5">
      <div className="num font-semibold">{value === null ? '–' : `${value.toFixed(2)} ms`}</div>
      <div className="text-xs leading-tight text-soft">{label}</div>
    </div>
  );
}

function Row({ label, value, color }: { label: string; value: number; color?: string }) {
  return (
    <tr>
      <td className="py-px">
        {color && <span className="mr-2 inline-block size-2 rounded-full" style={{ background: color }} />}
        {label}
      </td>
      <td className="num text-right">{value.toFixed(3)} ms</td>
    </tr>
  );
}
