import { Upload } from 'lucide-react';
import { useState } from 'react';
import { useDropzone } from 'react-dropzone';
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

  const { getRootProps, getInputProps, isDragActive, open } = useDropzone({
    onDrop: (files) => void bringIn(files),
    noClick: true,
    noKeyboard: true,
  });

  return (
    <section
      {...getRootProps({
        role: undefined,
        tabIndex: undefined,
        'aria-label': `Bring a character into ${projectName}`,
        className: `flex min-h-[250px] flex-col items-center justify-center rounded-md border border-dashed p-5 text-center ${
          isDragActive ? 'border-teal bg-teal-wash' : 'border-rim'
        }`,
      })}
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
          <button type="button" className="btn mt-3" onClick={open}>
            Choose files
          </button>
        </>
      )}
      <input {...getInputProps({ 'aria-label': `Character files for ${projectName}` })} />
    </section>
  );
}
