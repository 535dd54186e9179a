import { useRef, useState } from 'react';
import type { SourceReview } from '../../../../core/prepare/index.ts';
import { api, type ErrorBody, toErrorBody } from '../../../state/api.ts';
import { useWorkbench } from '../../../state/workbench.ts';
import { FailureNote } from '../../parts/FailureNote.tsx';
import { SourceReviewDialog } from './SourceReviewDialog.tsx';

/** Another version of the character's files: reviewed first, then taken. */
export function SourceFiles() {
  const { info, saver } = useWorkbench();
  const input = useRef<HTMLInputElement>(null);
  const [failure, setFailure] = useState<ErrorBody | null>(null);
  const [isBusy, setIsBusy] = useState(false);
  const [pending, setPending] = useState<{ files: File[]; renames: Record<string, string> } | null>(null);
  const [review, setReview] = useState<SourceReview | null>(null);
  const ask = async (files: File[], renames: Record<string, string>, isTaken: boolean): Promise<void> => {
    setIsBusy(true);
    setFailure(null);
    try {
      await saver.flush();
      const told = await api.sendSource(info.id, files, renames, isTaken);
      if (isTaken) location.reload();
      else {
        setPending({ files, renames });
        setReview(told);
        setIsBusy(false);
      }
    } catch (error) {
      setIsBusy(false);
      setFailure(toErrorBody(error));
    }
  };
  return (
    <>
      <button
        type="button"
        className="btn mt-2"
        disabled={isBusy}
        title="What was painted, fitted and tuned is carried over; you see what becomes of it first"
        onClick={() => input.current?.click()}
      >
        {isBusy && !review ? 'Comparing…' : 'New version of the file'}
      </button>
      {failure && <FailureNote error={failure} />}
      <input
        ref={input}
        type="file"
        multiple
        className="hidden"
        aria-label="Files of the new version"
        onChange={(event) => {
          const files = [...(event.target.files ?? [])];
          event.target.value = '';
          if (files.length > 0) void ask(files, {}, false);
        }}
      />
      {review && pending && (
        <SourceReviewDialog
          review={review}
          renames={pending.renames}
          isBusy={isBusy}
          onRename={(renames) => void ask(pending.files, renames, false)}
          onTake={() => void ask(pending.files, pending.renames, true)}
          onLeave={() => setReview(null)}
        />
      )}
    </>
  );
}
