import { Dialog } from 'radix-ui';
import { tellVertices } from '../../../../core/math/index.ts';
import type { SectionReview, SourceReview } from '../../../../core/prepare/index.ts';

export interface SourceReviewDialogProps {
  review: SourceReview;
  /** Old section name → new one, as chosen so far. */
  renames: Readonly<Record<string, string>>;
  isBusy: boolean;
  onRename(renames: Record<string, string>): void;
  onTake(): void;
  onLeave(): void;
}

/** What a new version of the source brings, before it is taken: what matches, what lies elsewhere, what is missing. */
export function SourceReviewDialog(props: SourceReviewDialogProps) {
  const { review, isBusy, onTake, onLeave } = props;
  const { bodies, clipsGone, clipsNew, unbound, problems } = review;
  const notes: { text: string; isLoss: boolean }[] = [
    ...unbound.map((name) => ({
      text: `Garment ${name} has no section in the new version. It stays in the list, unassigned, with all that was painted.`,
      isLoss: true,
    })),
    ...[...new Set(problems.map(tellProblem))].map((text) => ({
      text,
      isLoss: true,
    })),
    ...bodies.map(({ name, joint, to }) => ({
      text: `Body ${name}: joint ${joint} is gone; it stays in its place, on ${to}.`,
      isLoss: true,
    })),
    ...clipsGone.map((name) => ({ text: `Clip ${name} is gone.`, isLoss: true })),
    ...clipsNew.map((name) => ({ text: `Clip ${name} is new.`, isLoss: false })),
  ];
  return (
    <Dialog.Root open onOpenChange={(isOpen) => !isOpen && onLeave()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-50 bg-veil" />
        <Dialog.Content className="card fixed top-1/2 left-1/2 z-50 flex max-h-[86vh] w-[640px] outline-none -translate-x-1/2 -translate-y-1/2 flex-col bg-panel p-5 shadow-xl">
          <Dialog.Title className="text-[16px] font-semibold">Review the new version</Dialog.Title>
          <Dialog.Description className="mt-1 text-soft">
            Sections are matched by name, what was painted by its place on them. Nothing is changed yet.
          </Dialog.Description>
          <div className="mt-3 min-h-0 overflow-y-auto">
            <SectionTable {...props} />
            {notes.length > 0 && (
              <ul className="mt-3 flex flex-col gap-1" aria-label="What else changes">
                {notes.map(({ text, isLoss }) => (
                  <li
                    key={text}
                    className={`border-l-[3px] bg-surface px-2 py-1 ${isLoss ? 'border-marigold' : 'border-moss'}`}
                  >
                    {text}
                  </li>
                ))}
              </ul>
            )}
          </div>
          <div className="mt-4 flex justify-end gap-2">
            <button type="button" className="btn" onClick={onLeave}>
              Cancel
            </button>
            <button type="button" className="btn btn-main" disabled={isBusy} onClick={onTake}>
              {isBusy ? 'Working…' : 'Use new version'}
            </button>
          </div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

function tellProblem({ sectionName, reason }: SourceReview['problems'][number]): string {
  return `Steps on ${sectionName || 'a section'} are left out: ${reason}. They stay in the list.`;
}

const STATES: Record<SectionReview['state'], string> = {
  same: 'text-moss',
  changed: 'text-marigold-ink',
  missing: 'text-brick',
  new: 'text-teal',
};

function SectionTable({ review, renames, isBusy, onRename }: SourceReviewDialogProps) {
  const fresh = review.sections.filter(({ state }) => state === 'new').map(({ name }) => name);
  return (
    <table className="w-full" aria-label="Sections">
      <thead>
        <tr className="text-left text-xs text-soft">
          <th className="font-normal">Section</th>
          <th className="font-normal">Garment</th>
          <th className="font-normal">In the new version</th>
        </tr>
      </thead>
      <tbody>
        {review.sections.map((section) => (
          <tr key={section.name} className="border-t border-line align-top">
            <td className="py-1 pr-3 font-medium">{section.name}</td>
            <td className="py-1 pr-3 text-soft">{section.uses.join(', ') || '–'}</td>
            <td className="py-1">
              <span className={`font-semibold ${STATES[section.state]}`}>{section.state}</span>
              <span className="num text-xs text-soft"> {describe(section)}</span>
              {renames[section.name] !== undefined && (
                <span className="text-xs text-soft"> as {renames[section.name]}</span>
              )}
              {section.state === 'missing' && fresh.length > 0 && (
                <select
                  className="field ml-1.5 !w-auto max-w-[180px] !py-0.5 text-xs"
                  aria-label={`New section for ${section.name}`}
                  value=""
                  disabled={isBusy}
                  onChange={(event) => onRename({ ...renames, [section.name]: event.target.value })}
                >
                  <option value="" disabled>
                    is now called
                  </option>
                  {fresh.map((name) => (
                    <option key={name}>{name}</option>
                  ))}
                </select>
              )}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function describe({ state, pointsBefore, pointsAfter, farthest, isMoved }: SectionReview): string {
  const count = (value: number): string => value.toLocaleString('en');
  const moved = isMoved ? ', elsewhere in the list' : '';
  if (state === 'same') return `${tellVertices(pointsAfter)}${moved}`;
  if (state === 'missing') return `${tellVertices(pointsBefore)} before`;
  if (state === 'new') return `${tellVertices(pointsAfter)}`;
  return `${count(pointsBefore)} to ${tellVertices(pointsAfter)}, up to ${(1000 * farthest).toFixed(1)} mm apart${moved}`;
}
