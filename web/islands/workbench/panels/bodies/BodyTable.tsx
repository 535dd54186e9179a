import { ChevronDown, ChevronUp } from 'lucide-react';
import { useState } from 'react';
import { type BodyShape, getShapeDefinition, SHAPES } from '../../../../../core/bodies/index.ts';
import { type BodyUse, type FitFigures, joinUses } from '../../../../../core/body-figures/index.ts';
import type { BodyMeshRecord, BodyRecord, RecordId } from '../../../../../core/document/index.ts';
import { useStore } from '../../../../state/store.ts';
import { useWorkbench } from '../../../../state/workbench.ts';
import type { FitPose } from './SkinFit.tsx';

/** A body or mesh with what is known of it. */
interface Row {
  body: BodyRecord | BodyMeshRecord;
  /** In the order of the skeleton, meshes last. */
  place: number;
  fit: FitFigures | null;
  use: BodyUse | null;
}

interface Column {
  id: string;
  label: string;
  title: string;
  /** What it is sorted by. */
  key(row: Row): string | number;
  show(row: Row): string;
  isNumber?: boolean;
}

const NAME: Column = {
  id: 'name',
  label: 'Body',
  title: 'In the order of the skeleton',
  key: ({ place }) => place,
  show: ({ body }) => body.name,
};

const SHAPE_COLUMNS: readonly Column[] = [
  {
    id: 'shape',
    label: 'Shape',
    title: 'Kind of shape',
    key: ({ body }) => tellKind(body),
    show: ({ body }) => tellKind(body),
  },
  {
    id: 'size',
    label: 'Size cm',
    title: 'Radii, sides, or the radius around its middle',
    key: ({ body }) => (body.type === 'body' ? Math.max(0, ...listSizes(body.shape)) : 0),
    show: ({ body }) => (body.type === 'body' ? tellSizes(body.shape) : '–'),
    isNumber: true,
  },
  {
    id: 'joint',
    label: 'Joint',
    title: 'Joint that it sits on',
    key: ({ body }) => (body.type === 'body' ? body.jointName : ''),
    show: ({ body }) => (body.type === 'body' ? body.jointName : 'all'),
  },
];

const FIT_COLUMNS: readonly Column[] = [
  {
    id: 'coverage',
    label: 'Covers %',
    title: 'Of the skin nearest to it, what lies within 5 mm of it or inside',
    key: ({ fit }) => fit?.coverage || 0,
    show: ({ fit }) => (fit && fit.area > 0 ? (100 * fit.coverage).toFixed(0) : '–'),
    isNumber: true,
  },
  {
    id: 'overhang',
    label: 'Over mm',
    title: 'How far it stands out of the skin: 95 % of the skin nearest to it lies less deep inside',
    key: ({ fit }) => fit?.overhang ?? 0,
    show: ({ fit }) => (fit && fit.area > 0 ? (1000 * fit.overhang).toFixed(1) : '–'),
    isNumber: true,
  },
];

const USE_COLUMNS: readonly Column[] = [
  {
    id: 'touched',
    label: 'Touched %',
    title: 'Share of the frames in which cloth lies on it',
    key: ({ use }) => use?.touched ?? -1,
    show: ({ use }) => (use ? (100 * use.touched).toFixed(0) : '–'),
    isNumber: true,
  },
  {
    id: 'saved',
    label: 'Saves mm',
    title: 'How much deeper cloth and skin pass through each other near it when it is left out',
    key: ({ use }) => use?.savedDepth ?? -1,
    show: ({ use }) => (use ? (1000 * use.savedDepth).toFixed(1) : '–'),
    isNumber: true,
  },
  {
    id: 'cost',
    label: 'Cost µs',
    title: 'What the bodies of a frame cost less without it',
    key: ({ use }) => use?.cost ?? -1,
    show: ({ use }) => (use ? (1000 * use.cost).toFixed(0) : '–'),
    isNumber: true,
  },
  {
    id: 'vertices',
    label: 'Vertices',
    title: 'Vertices that lie on it in any frame',
    key: ({ use }) => use?.vertices ?? -1,
    show: ({ use }) => (use ? use.vertices.toLocaleString('en') : '–'),
    isNumber: true,
  },
];

export interface BodyTableProps {
  /** In the order of the skeleton. */
  bodies: readonly BodyRecord[];
  meshes: readonly BodyMeshRecord[];
  /** Poses that the fit is told of. */
  pose: FitPose;
}

/** All bodies of a set: sorted by a column, selected by a click, several with Shift. */
export function BodyTable({ bodies, meshes, pose }: BodyTableProps) {
  const all = [...bodies, ...meshes];
  const { session, bodyFigures } = useWorkbench();
  const bodyIds = useStore(session, (state) => state.bodyIds);
  const [order, setOrder] = useState({ column: 'name', isDown: false });
  const { fit, use } = useStore(bodyFigures.store, (state) => state);
  const fits = new Map(fit?.figures.bodies.map(({ id, fit: figures }) => [id, figures[pose]]));
  const uses =
    use && all[0]?.bodySetId === use.bodySetId ? joinUses(use.clips.map(({ uses: own }) => own)) : null;
  const columns = [
    NAME,
    ...(uses ? USE_COLUMNS : []),
    ...(fits.size > 0 ? FIT_COLUMNS : []),
    ...SHAPE_COLUMNS,
  ];
  const column = columns.find(({ id }) => id === order.column) ?? NAME;
  const rows = all.map(
    (body, place): Row => ({
      body,
      place,
      fit: fits.get(body.id) ?? null,
      use: uses?.get(body.id) ?? null,
    }),
  );
  const compare = (p: Row, q: Row): number => {
    const [a, b] = [column.key(p), column.key(q)];
    const difference = typeof a === 'number' ? a - (b as number) : a.localeCompare(String(b));
    return (order.isDown ? -1 : 1) * difference || p.place - q.place;
  };
  const sorted = rows.sort(compare);
  const select = (id: RecordId, isMore: boolean): void => {
    const others = bodyIds.filter((one) => one !== id);
    session.set({ bodyIds: isMore ? (others.length < bodyIds.length ? others : [...others, id]) : [id] });
  };
  return (
    <div className="scroll-hint mt-3 max-h-[230px] overflow-auto rounded-md border border-line">
      <table className="w-full border-collapse text-xs" aria-label="Bodies">
        <thead className="sticky top-0 z-10 bg-panel">
          <tr>
            {columns.map(({ id, label, title, isNumber }, i) => (
              <th
                key={id}
                aria-sort={order.column === id ? (order.isDown ? 'descending' : 'ascending') : 'none'}
                className={`border-b border-line bg-panel p-0 font-medium ${i === 0 ? 'sticky left-0' : ''}`}
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
          {sorted.map(({ body, ...known }) => (
            <tr
              key={body.id}
              aria-selected={bodyIds.includes(body.id)}
              className={`cursor-pointer ${bodyIds.includes(body.id) ? 'bg-teal-wash font-semibold text-teal' : 'hover:bg-paper'}`}
              onClick={(event) => select(body.id, event.shiftKey)}
            >
              {columns.map(({ id, show, isNumber }, i) => (
                <td
                  key={id}
                  className={`whitespace-nowrap px-2 py-[3px] ${isNumber ? 'num text-right' : ''} ${i === 0 ? `sticky left-0 ${bodyIds.includes(body.id) ? 'bg-inherit' : 'bg-panel'}` : ''}`}
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
                      {show({ body, ...known })}
                    </button>
                  ) : (
                    show({ body, ...known })
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

function tellKind(body: Row['body']): string {
  return body.type === 'body' ? SHAPES[body.shape.kind].label : 'Mesh';
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
