import { useState } from 'react';
import { type CrowdMember, countFitting, listDistances } from '../../../core/crowd/index.ts';
import type { ProjectCrowd } from '../../wire/levels.ts';
import { Choice } from '../parts/Choice.tsx';
import { CrowdChart } from './CrowdChart.tsx';

/** What each character costs at which distance, and how many fit there. */
export function MembersCard({ crowd }: { crowd: ProjectCrowd }) {
  const { members, unmeasured } = crowd;
  const [chosenId, setChosenId] = useState<string | null>(null);
  const member = members.find(({ id }) => id === chosenId) ?? members[0];
  return (
    <section className="card p-4" aria-label="Distances">
      <div className="flex items-center justify-between gap-3">
        <h2 className="font-semibold">Distances</h2>
        {members.length > 1 && member && (
          <Choice
            label="Character"
            look="cells"
            value={member.id}
            options={members.map(({ id, name }) => ({ value: id, label: name }))}
            onChange={setChosenId}
          />
        )}
      </div>
      {member && (
        <>
          {member.isOld && (
            <p className="mt-1 text-xs text-marigold-ink">
              {member.name} was measured before its last edit, or for another target.{' '}
              <a className="underline" href={`/characters/${member.id}`}>
                Measure its levels again
              </a>
              .
            </p>
          )}
          <DistanceTable member={member} crowd={crowd} />
          <CrowdChart member={member} crowd={crowd} />
        </>
      )}
      {unmeasured.map(({ id, name, hasLevels }) => (
        <p key={id} className="mt-2 text-xs text-soft">
          <a className="underline" href={`/characters/${id}`}>
            {name}
          </a>{' '}
          {hasLevels
            ? 'has levels of detail that are not measured yet: measure them there (key 0).'
            : 'has no levels of detail yet: propose and measure them there (key 0).'}
        </p>
      ))}
    </section>
  );
}

function DistanceTable({ member, crowd }: { member: CrowdMember; crowd: ProjectCrowd }) {
  const { settings, target } = crowd;
  const distances = listDistances(member, settings.camera);
  return (
    <table className="mt-2 w-full border-collapse" aria-label={`Distances of ${member.name}`}>
      <thead className="text-xs text-soft">
        <tr className="[&>th]:pb-1 [&>th]:text-right [&>th]:font-medium">
          <th className="!text-left">Distance</th>
          <th>Height on screen</th>
          <th title="Of one, a frame, on the mean of what was measured">One costs</th>
          <th title="Of one, while it comes from the level before: both are simulated">While it switches</th>
          <th title="Of this character alone, all at this distance">How many fit</th>
        </tr>
      </thead>
      <tbody className="num">
        {member.bands.map(({ from, cost, switchCost }, b) => {
          const { near, far } = distances[b]!;
          const count = countFitting(member, b, target);
          return (
            <tr key={from} className="border-t border-line [&>td]:py-1 [&>td]:text-right">
              <td className="!text-left">
                {Number.isFinite(far)
                  ? `${near.toFixed(1)} to ${far.toFixed(1)} m`
                  : `from ${near.toFixed(1)} m`}
              </td>
              <td>
                {from > 0
                  ? `from ${Math.round(from)} px`
                  : `below ${Math.round(member.bands[b - 1]?.from ?? 0)} px`}
              </td>
              <td>{cost.toFixed(2)} ms</td>
              <td>{switchCost === null ? '–' : `${switchCost.toFixed(2)} ms`}</td>
              <td className={count === 0 ? 'font-bold text-brick' : 'font-bold'} data-fits={count}>
                {Number.isFinite(count) ? count.toLocaleString('en') : 'any number'}
              </td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}
