import type { FitError } from '../../../core/cost/index.ts';

/** Garments that were timed: what was measured, what the fit says. */
export function TimedTable({ timed }: { timed: readonly FitError[] }) {
  return (
    <table className="w-full text-xs" aria-label="Timed garments">
      <thead className="text-left text-soft">
        <tr>
          <th className="font-medium">Garment</th>
          <th className="text-right font-medium">timed</th>
          <th className="text-right font-medium">fitted</th>
          <th className="text-right font-medium">off by</th>
        </tr>
      </thead>
      <tbody>
        {timed.map(({ name, predicted, measured }) => (
          <tr key={name}>
            <td className="py-px whitespace-nowrap">{name}</td>
            <td className="num py-px text-right">{measured.toFixed(2)} ms</td>
            <td className="num py-px text-right">{predicted.toFixed(2)} ms</td>
            <td className="num py-px text-right">{Math.round(100 * (predicted / measured - 1)) + 0} %</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
