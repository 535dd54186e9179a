import { X } from 'lucide-react';
import { useRef, useState } from 'react';
import { api, type ErrorBody, toErrorBody } from '../../../state/api.ts';
import { useWorkbench } from '../../../state/workbench.ts';
import { FailureNote } from '../../parts/FailureNote.tsx';

/** The clips of the character, those of other files too; more can be added, and added ones taken away. */
export function ClipList() {
  const { report, info, saver } = useWorkbench();
  const input = useRef<HTMLInputElement>(null);
  const [failure, setFailure] = useState<ErrorBody | null>(null);
  const [isBusy, setIsBusy] = useState(false);
  const change = async (act: () => Promise<unknown>): Promise<void> => {
    setIsBusy(true);
    setFailure(null);
    try {
      await saver.flush();
      await act();
      // Every worker holds the clips: the page begins anew with them.
      location.reload();
    } catch (error) {
      setIsBusy(false);
      setFailure(toErrorBody(error));
    }
  };
  const added = [...new Set(report.clips.flatMap(({ from }) => (from ? [from] : [])))];
  return (
    <>
      {report.clips.length === 0 && <p className="text-soft">None came with the file.</p>}
      <dl className="grid grid-cols-[1fr_auto] gap-y-1">
        {report.clips.map((clip) => (
          <div key={clip.name} className="contents">
            <dt className="min-w-0 truncate text-soft">{clip.name}</dt>
            <dd className="num text-right">{clip.seconds.toFixed(2)} s</dd>
          </div>
        ))}
      </dl>
      {failure && <FailureNote error={failure} />}
      {added.map((file) => (
        <p key={file} className="mt-1 flex items-center gap-1 text-xs text-soft">
          <span className="min-w-0 flex-1 truncate">added from {file}</span>
          <button
            type="button"
            className="btn btn-quiet !px-1"
            aria-label={`Take the clips of ${file} away`}
            disabled={isBusy}
            onClick={() => void change(() => api.removeClips(info.id, file))}
          >
            <X size={13} />
          </button>
        </p>
      ))}
      <button
        type="button"
        className="btn mt-1.5"
        disabled={isBusy}
        title="From other .glb files, onto joints of the same names"
        onClick={() => input.current?.click()}
      >
        {isBusy ? 'Reading…' : 'Add clips'}
      </button>
      <input
        ref={input}
        type="file"
        multiple
        accept=".glb,.gltf,.bin"
        className="hidden"
        aria-label="Files with clips"
        onChange={(event) => {
          const files = [...(event.target.files ?? [])];
          event.target.value = '';
          if (files.length > 0) void change(() => api.addClips(info.id, files));
        }}
      />
    </>
  );
}
