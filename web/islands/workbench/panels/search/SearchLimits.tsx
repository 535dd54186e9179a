import { ChevronDown } from 'lucide-react';
import { useState } from 'react';
import { type GarmentRecord, type Limits, listGarments } from '../../../../../core/document/index.ts';
import { MEASURES, resolveAllLimits } from '../../../../../core/trials/index.ts';
import { useDocument } from '../../../../state/workbench.ts';
import { NumberField } from '../../../parts/NumberField.tsx';

export interface SearchLimitsProps {
  garment: GarmentRecord;
  /** For this search alone; what is not named is as the garment has it. */
  limits: Limits;
  onChange(limits: Limits): void;
}

/** What candidates are judged by: the limits of the garment, or others for this search. */
export function SearchLimits({ garment, limits, onChange }: SearchLimitsProps) {
  const editor = useDocument();
  const [isOpen, setOpen] = useState(false);
  const own = resolveAllLimits(editor.document).get(garment.id)!;
  // A search cannot go by what is judged by the budget, nor by a layer where there is one garment alone.
  const isSingle = listGarments(editor.document).length < 2;
  const judged = MEASURES.filter(
    ({ key }) =>
      key !== 'cost' && !(key === 'layers' && isSingle) && (own[key] !== null || limits[key] != null),
  );
  const others = Object.keys(limits).length;
  return (
    <div className="mt-1.5">
      <button
        type="button"
        className="btn btn-quiet !px-0 !py-0 text-xs"
        aria-expanded={isOpen}
        title="What candidates are judged by"
        onClick={() => setOpen(!isOpen)}
      >
        Judged by {others > 0 ? 'limits of its own' : `the limits of ${garment.name}`}
        <ChevronDown size={14} className={isOpen ? 'rotate-180' : ''} />
      </button>
      {isOpen && (
        <div className="mt-1 flex flex-col gap-1">
          {judged.map(({ key, label, unit, factor, digits, effect }) => (
            <div key={key} className="flex items-center justify-between gap-1 text-xs">
              <span className={limits[key] !== undefined ? 'font-bold' : ''} title={effect}>
                {label}
              </span>
              <span className="w-[96px]">
                <NumberField
                  label={`Limit of ${label} in the search`}
                  value={factor * (limits[key] ?? own[key] ?? 0)}
                  unit={unit}
                  digits={digits}
                  step={digits > 1 ? 0.1 : 1}
                  onCommit={(typed) =>
                    onChange({ ...limits, [key]: Math.max(10 ** -digits, typed) / factor })
                  }
                />
              </span>
            </div>
          ))}
          {others > 0 && (
            <button
              type="button"
              className="btn btn-quiet self-start !px-0 !py-0 text-xs"
              onClick={() => onChange({})}
            >
              As the garment has them
            </button>
          )}
        </div>
      )}
    </div>
  );
}
