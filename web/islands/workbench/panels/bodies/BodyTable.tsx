import { ChevronDown, ChevronUp } from 'lucide-react';
import { useState } from 'react';
import { type BodyShape, getShapeDefinition, SHAPES } from '../../../../../core/bodies/index.ts';
import type { BodyRecord, RecordId } from '../../../../../core/document/index.ts';
import { useStore } from '../../../../state/store.ts';
import { useWorkbench } from '../../../../state/workbench.ts';

interface Column {
  id: string;
  label: string;
  title: string;
  /** What it is sorted by. */
  key(body: BodyRecord, place: number): string | number;
  show(body: BodyRecord): string;
  isNumber?: boolean;
}

const COLUMNS: readonly Column[] = [
  {
    id: 'name',
    label: 'Body',
    title: 'In the order of the skeleton',
    key: (_body, place) => place,
    show: ({ name }) => name,
  },
  {
    id: 'shape',
    label: 'Shape',
    title: 'Kind of shape',
    key: ({ shape }) => SHAPES[shape.kind].label,
    show: ({ shape }) => SHAPES[shape.kind].label,
  },
  {
    id: 'size',
    label: 'Size, cm',
    title: 'Radii, sides, or the radius around its middle',
    key: ({ shape }) => Math.max(0, ...listSizes(shape)),
    show: ({ shape }) => tellSizes(shape),
    isNumber: true,
  },
  {
    id: 'joint',
    label: 'Joint',
    title: 'Joint that it sits on',
    key: ({ jointName }) => jointName,
    show: ({ jointName }) => jointName,
  },
];

export interface BodyTableProps {
  /** In the order of the skeleton. */
  bodies: readonly BodyRecord[];
}

/** All bodies of a set: sorted by a column, selected by a click, several with Shift. */
export function BodyTable({ bodies }: BodyTableProps) {
  const { session } = useWorkbench();
  const bodyIds = useStore(session, (state) => state.bodyIds);
  const [order, setOrder] = useState({ column: 'name', isDown: false });
  const column = COLUMNS.find(({ id }) => id === order.column)!;
  const places = new Map(bodies.map((body, place) => [body.id, place]));
  const compare = (p: BodyRecord, q: BodyRecord): number => {
    const [a, b] = [p, q].map((body) => column.key(body, places.get(body.id)!));
    const difference = typeof a === 'number' ? a - (b as number) : a!.localeCompare(String(b));
    return (order.isDown ? -1 : 1) * difference || places.get(p.id)! - places.get(q.id)!;
  };
  const sorted = [...bodies].sort(compare);
  const select = (id: RecordId, isMore: boolean): void => {
    const others = bodyIds.filter((one) => one !== id);
    session.set({ bodyIds: isMore ? (others.length < bodyIds.length ? others : [...others, id]) : [id] });
  };
  return (
    <div className="mt-3 max-h-[230px] overflow-auto rounded-md border border-line bg-white">
      <table className="w-full border-collapse text-xs" aria-label="Bodies">
        <thead className="sticky top-0 z-10 bg-panel">
          <tr>
            {COLUMNS.map(({ id, label, title, isNumber }) => (
              <th
                key={id}
                aria-sort={order.column === id ? (order.isDown ? 'descending' : 'ascending') : 'none'}
                className="border-b border-line p-0 font-medium"
              >
                <button
                  type="button"
                  title={`${title}; click to sort`}
                  className={`flex w-full items-center gap-0.5 whitespace-nowrap px-2 py-1 ${isNumber ? 'justify-end' : ''} ${order.column === id ? 'text-teal' : 'text-soft'}`}
                  onClick={() => setOrder({ column: id, isDown: order.column === id && !order.isDown })}
                >
                  {label}
                  {order.column === id &&
                    (order.isDown ? <ChevronDown size={11} /> : <ChevronUp size={11} />)}
                </button>
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {sorted.map((body) => (
            <tr
              key={body.id}
              aria-selected={bodyIds.includes(body.id)}
              className={`cursor-pointer ${bodyIds.includes(body.id) ? 'bg-teal-wash font-semibold text-teal' : 'hover:bg-paper'}`}
              onClick={(event) => select(body.id, event.shiftKey)}
            >
              {COLUMNS.map(({ id, show, isNumber }, i) => (
                <td
                  key={id}
                  className={`whitespace-nowrap px-2 py-[3px] ${isNumber ? 'num text-right' : ''}`}
                >
                  {i === 0 ? (
                    <button
                      type="button"
                      className="text-left"
                      aria-pressed={bodyIds.includes(body.id)}
                      onClick={(event) => {
                        event.stopPropagation();
                        select(body.id, event.shiftKey);
                      }}
                    >
                      {show(body)}
                    </button>
                  ) : (
                    show(body)
                  )}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

/** m. */
function listSizes(shape: BodyShape): number[] {
  return getShapeDefinition(shape)
    .listNumbers(shape)
    .filter(({ isSize }) => isSize)
    .map(({ value }) => value);
}

function tellSizes(shape: BodyShape): string {
  const sizes = listSizes(shape).map((metres) => (100 * metres).toFixed(1));
  return sizes.length > 0 ? sizes.join(sizes.length > 2 ? ' × ' : ' – ') : '∞';
}
