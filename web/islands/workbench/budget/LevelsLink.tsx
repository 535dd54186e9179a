import { Popover } from 'radix-ui';
import { listGarments } from '../../../../core/document/index.ts';
import { useDocument, useWorkbench } from '../../../state/workbench.ts';

/** The ways from the cost of one character to that of many, far away. */
export function LevelsLink() {
  const { session, info } = useWorkbench();
  const { document } = useDocument();
  const leveled = listGarments(document).filter(({ levels }) => levels.length > 0).length;
  return (
    <p className="mt-2 flex items-center gap-3 border-t border-line pt-2 text-xs">
      <Popover.Close className="btn !py-0.5" onClick={() => session.set({ stage: 'levels' })}>
        Levels of detail
      </Popover.Close>
      <a className="underline" href={`/projects/${info.project.id}/crowd`}>
        Crowd
      </a>
      <span className="text-soft">
        {leveled === 0
          ? 'no garment has levels yet'
          : `${leveled} of ${listGarments(document).length} garments have levels`}
      </span>
    </p>
  );
}
