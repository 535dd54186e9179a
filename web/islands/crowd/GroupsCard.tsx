import { Plus, Trash2 } from 'lucide-react';
import { type CrowdGroup, type CrowdPlan, DISTANCE_RANGE, MOST_COUNT } from '../../../core/crowd/index.ts';
import type { CrowdWork } from '../../state/crowd-work.ts';
import type { ProjectCrowd } from '../../wire/levels.ts';
import { NumberField } from '../parts/NumberField.tsx';

/** Who stands where, and what all of them cost together. */
export function GroupsCard({ work, crowd }: { work: CrowdWork; crowd: ProjectCrowd }) {
  const { members, settings, target } = crowd;
  const plan = work.plan()!;
  const known = settings.groups.filter(({ memberId }) => members.some(({ id }) => id === memberId));
  return (
    <section className="card p-4" aria-label="In view">
      <h2 className="font-semibold">In view</h2>
      {members.length === 0 && (
        <p className="mt-1 text-xs text-soft">Measure the levels of a character first.</p>
      )}
      {known.length > 0 && (
        <table className="mt-1.5 w-full border-collapse text-xs" aria-label="Groups">
          <thead className="text-soft">
            <tr className="[&>th]:pb-1 [&>th]:text-left [&>th]:font-medium">
              <th>Character</th>
              <th className="w-[54px]">Number</th>
              <th className="w-[66px]">From</th>
              <th className="w-[66px]">To</th>
              <th className="w-[64px] !text-right">Cost</th>
              <th className="w-[22px]">
                <span className="sr-only">Remove</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {settings.groups.map((group, index) => {
              const planned = known.indexOf(group);
              if (planned < 0) return null;
              return (
                <GroupRow
                  // biome-ignore lint/suspicious/noArrayIndexKey: a group is known by its place alone.
                  key={index}
                  group={group}
                  crowd={crowd}
                  cost={plan.groups[planned]!.sum}
                  onChange={(change) => work.setGroup(index, change)}
                  onRemove={() => work.removeGroup(index)}
                />
              );
            })}
          </tbody>
        </table>
      )}
      <div className="mt-2 flex flex-wrap gap-1.5">
        {members.map((member) => (
          <button
            key={member.id}
            type="button"
            className="btn !py-0.5 text-xs"
            onClick={() => work.addGroup(member)}
          >
            <Plus size={13} /> {member.name}
          </button>
        ))}
      </div>
      {plan.count > 0 && <Sum plan={plan} budget={target.budget} cores={target.cores} />}
    </section>
  );
}

interface GroupRowProps {
  group: CrowdGroup;
  crowd: ProjectCrowd;
  /** ms */
  cost: number;
  onChange(change: Partial<CrowdGroup>): void;
  onRemove(): void;
}

function GroupRow({ group, crowd, cost, onChange, onRemove }: GroupRowProps) {
  const [least, most] = DISTANCE_RANGE;
  const limit = (value: number): number => Math.min(most, Math.max(least, value));
  const { name } = crowd.members.find(({ id }) => id === group.memberId)!;
  return (
    <tr className="[&>td]:py-0.5 [&>td]:pr-1">
      <td className="truncate">{name}</td>
      <td>
        <NumberField
          label={`Number of ${name}`}
          value={group.count}
          unit=""
          digits={0}
          onCommit={(value) => onChange({ count: Math.min(MOST_COUNT, Math.max(0, Math.round(value))) })}
        />
      </td>
      <td>
        <NumberField
          label={`Nearest ${name}`}
          value={group.near}
          unit="m"
          digits={1}
          step={0.5}
          onCommit={(value) => onChange({ near: limit(value) })}
        />
      </td>
      <td>
        <NumberField
          label={`Farthest ${name}`}
          value={group.far}
          unit="m"
          digits={1}
          step={0.5}
          onCommit={(value) => onChange({ far: limit(value) })}
        />
      </td>
      <td className="num text-right whitespace-nowrap">{cost.toFixed(2)} ms</td>
      <td>
        <button type="button" className="text-soft" aria-label={`Remove group of ${name}`} onClick={onRemove}>
          <Trash2 size={13} />
        </button>
      </td>
    </tr>
  );
}

function Sum({ plan, budget, cores }: { plan: CrowdPlan; budget: number; cores: number }) {
  const place = cores === 1 ? '' : ` on the busiest of ${cores} cores`;
  return (
    <dl
      className="mt-2 grid grid-cols-[1fr_auto] gap-x-3 gap-y-1 border-t border-line pt-2"
      data-cost={plan.cost}
      data-worst={plan.worstCost}
    >
      <dt>
        {plan.count} {plan.count === 1 ? 'character' : 'characters'}
        {place}
      </dt>
      <Verdict cost={plan.cost} budget={budget} isWithin={plan.isWithin} />
      <dt title="Each simulated at the level it leaves and the one it goes to">
        While all of them switch at once
      </dt>
      <Verdict cost={plan.worstCost} budget={budget} isWithin={plan.isWorstWithin} />
    </dl>
  );
}

function Verdict({ cost, budget, isWithin }: { cost: number; budget: number; isWithin: boolean }) {
  return (
    <dd className={`text-right ${isWithin ? 'text-moss' : 'font-semibold text-brick'}`}>
      <span className="num">{cost.toFixed(2)}</span> ms{' '}
      {isWithin ? '✓ fits' : `✕ ${(cost - budget).toFixed(2)} ms over`}
    </dd>
  );
}
