import { Upload } from 'lucide-react';
import { useRef, useState } from 'react';
import { api, type ErrorBody, toErrorBody } from '../../state/api.ts';
import { FailureNote } from '../parts/FailureNote.tsx';

export interface DropCardProps {
  projectId: string;
  projectName: string;
  onBroughtIn(characterId: string): void;
}

type Progress = { kind: 'idle' } | { kind: 'sending'; share: number } | { kind: 'failed'; error: ErrorBody };

/** Takes a character by drop or by choosing files, shows how far it is, and says what is wrong with it. */
export function DropCard({ projectId, projectName, onBroughtIn }: DropCardProps) {
  const [progress, setProgress] = useState<Progress>({ kind: 'idle' });
  const [isOver, setIsOver] = useState(false);
  const input = useRef<HTMLInputElement>(null);

  const bringIn = async (files: readonly File[]): Promise<void> => {
    if (files.length === 0) return;
    setProgress({ kind: 'sending', share: 0 });
    try {
      const { id } = await api.bringIn(projectId, files, (share) => setProgress({ kind: 'sending', share }));
      onBroughtIn(id);
    } catch (error) {
      setProgress({
        kind: 'failed',
        error: toErrorBody(error),
      });
    }
  };

  return (
    <section
      aria-label={`Bring a character into ${projectName}`}
      className={`flex min-h-[250px] flex-col items-center justify-center rounded-md border border-dashed p-5 text-center ${
        isOver ? 'border-teal bg-teal-wash' : 'border-[#c3bba8]'
      }`}
      onDragOver={(event) => {
        event.preventDefault();
        setIsOver(true);
      }}
      onDragLeave={() => setIsOver(false)}
      onDrop={(event) => {
        event.preventDefault();
        setIsOver(false);
        void bringIn([...event.dataTransfer.files]);
      }}
    >
      {progress.kind === 'sending' ? (
        <div className="w-full max-w-44" role="status">
          <p>{progress.share < 1 ? 'Sending…' : 'Reading…'}</p>
          <div className="mt-2 h-1 overflow-hidden rounded bg-line">
            <div
              className="h-full bg-teal transition-[width]"
              style={{ width: `${100 * progress.share}%` }}
            />
          </div>
        </div>
      ) : (
        <>
          {progress.kind === 'failed' && <FailureNote error={progress.error} />}
          <Upload size={20} className="text-soft" aria-hidden />
          <p className="mt-2 font-semibold">Drop a character</p>
          <p className="text-soft">.glb, .gltf with its files, or .obj</p>
          <button type="button" className="btn mt-3" onClick={() => input.current?.click()}>
            Choose files
          </button>
        </>
      )}
      <input
        ref={input}
        type="file"
        multiple
        className="hidden"
        aria-label={`Character files for ${projectName}`}
        onChange={(event) => {
          void bringIn([...(event.target.files ?? [])]);
          event.target.value = '';
        }}
      />
    </section>
  );
}
