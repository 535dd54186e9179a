import { COST_GROUPS } from '../../../core/budget/index.ts';
import type { FittedGroup } from '../../../core/cost/index.ts';

/** What unit costs of each kind of work were multiplied by, and how sure that is. */
export function GroupTable({ groups }: { groups: readonly FittedGroup[] }) {
  return (
    <table className="w-full text-xs" aria-label="Kinds of work">
      <thead className="text-left text-soft">
        <tr>
          <th className="font-medium">Kind of work</th>
          <th className="text-right font-medium" title="Times what it costs on this machine">
            × this machine
          </th>
        </tr>
      </thead>
      <tbody>
        {groups.map(({ key, factor, error, isAssumed }) => (
          <tr key={key} data-group={key} data-assumed={isAssumed}>
            <td className="py-px">{COST_GROUPS.find((group) => group.key === key)?.label ?? key}</td>
            <td className="num py-px text-right whitespace-nowrap">
              {factor.toFixed(2)}{' '}
              {isAssumed ? (
                <span className="text-marigold-ink">assumed</span>
              ) : (
                <span className="text-soft">± {error.toFixed(2)}</span>
              )}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
