import { Download, Upload } from 'lucide-react';
import { useState } from 'react';
import { useDropzone } from 'react-dropzone';
import { toast } from 'sonner';
import { parseTargetFile, writeTargetFile } from '../../../core/budget/index.ts';
import { type CostProfile, isDoubtful, TARGET_DEFAULTS } from '../../../core/cost/index.ts';
import { api, type ErrorBody } from '../../state/api.ts';
import type { Targets } from '../../state/targets.ts';
import { FailureNote } from '../parts/FailureNote.tsx';
import { GroupTable } from './GroupTable.tsx';
import { SourceNote } from './SourceNote.tsx';
import { TimedTable } from './TimedTable.tsx';

/** How a profile of another machine is made: garments out, times in; or a profile that was exported elsewhere. */
export function NewTarget({ targets }: { targets: Targets }) {
  const [fitted, setFitted] = useState<CostProfile | null>(null);
  const [isReading, setReading] = useState(false);
  const [failure, setFailure] = useState<ErrorBody | null>(null);

  const read = async (file: File): Promise<void> => {
    setFailure(null);
    setReading(true);
    try {
      const text = await file.text();
      if (text.trimStart().startsWith('{')) {
        parseTargetFile(text);
        const made = await targets.add(text);
        if (made) toast(`Added ${made.name}`);
      } else setFitted(await api.fitTimings(text));
    } catch (error) {
      setFailure({ file: file.name, message: (error as Error).message });
    } finally {
      setReading(false);
    }
  };
  const keep = async (name: string): Promise<void> => {
    if (!fitted) return;
    const made = await targets.add(
      JSON.stringify(writeTargetFile({ ...TARGET_DEFAULTS, name, costs: fitted })),
    );
    if (made) setFitted(null);
  };
  const { getRootProps, getInputProps, isDragActive, open } = useDropzone({
    onDrop: (files) => files[0] && void read(files[0]),
    multiple: false,
    noClick: true,
    noKeyboard: true,
  });
  return (
    <section className="card p-4" aria-label="New target profile">
      <h2 className="font-semibold">New target profile</h2>
      <ol className="mt-1.5 list-decimal pl-4 text-soft">
        <li>
          Download the calibration garments, bring them into your engine, and time them on the target.
          <a className="btn mt-1.5 w-full text-ink" href="/api/targets/kit" download>
            <Download size={14} /> Calibration garments (ZIP)
          </a>
        </li>
        <li className="mt-2.5">
          Write the times into timings.csv and bring it here, or a profile that was exported.
        </li>
      </ol>
      <div
        {...getRootProps({
          role: undefined,
          tabIndex: undefined,
          className: `mt-1.5 rounded-md border border-dashed p-4 text-center ${
            isDragActive ? 'border-teal bg-teal-wash' : 'border-rim'
          }`,
        })}
      >
        <input {...getInputProps({ 'aria-label': 'Timings or a target profile' })} />
        {isReading ? (
          <p role="status">Playing the garments, fitting…</p>
        ) : (
          <button type="button" className="btn" onClick={open}>
            <Upload size={14} /> timings.csv or target.json
          </button>
        )}
      </div>
      {failure && (
        <div className="mt-3">
          <FailureNote error={failure} />
        </div>
      )}
      {fitted && (
        <FittedCosts costs={fitted} onKeep={(name) => void keep(name)} onDrop={() => setFitted(null)} />
      )}
    </section>
  );
}

interface FittedCostsProps {
  costs: CostProfile;
  onKeep(name: string): void;
  onDrop(): void;
}

/** What came of timings, before it is kept under a name. */
function FittedCosts({ costs, onKeep, onDrop }: FittedCostsProps) {
  const [name, setName] = useState('');
  return (
    <form
      className="mt-3 border-t border-line pt-3"
      aria-label="Fitted timings"
      onSubmit={(event) => {
        event.preventDefault();
        onKeep(name);
      }}
    >
      <p className="text-xs">
        <SourceNote costs={costs} />
      </p>
      {isDoubtful(costs) && (
        <p role="alert" className="mt-1 text-brick">
          Some times do not go with the work of their garments. Look below which are off, and check that they
          are milliseconds a frame, of the cloth alone, on one core.
        </p>
      )}
      <div className="mt-2">
        <GroupTable groups={costs.groups ?? []} />
      </div>
      {costs.groups?.some(({ isAssumed }) => isAssumed) && (
        <p className="mt-1 text-xs text-soft">
          What the times do not tell is assumed to be as much slower or faster as all work together.
        </p>
      )}
      <details className="mt-2">
        <summary className="cursor-pointer text-xs text-soft">By garment</summary>
        <div className="mt-1">
          <TimedTable timed={costs.timed ?? []} />
        </div>
      </details>
      <div className="mt-3 flex gap-2">
        <input
          className="field min-w-0 flex-1"
          aria-label="Name of the target"
          placeholder="Name of the target"
          maxLength={200}
          value={name}
          onChange={(event) => setName(event.target.value)}
        />
        <button type="submit" className="btn btn-main" disabled={name.trim() === ''}>
          Keep
        </button>
        <button type="button" className="btn" onClick={onDrop}>
          Discard
        </button>
      </div>
    </form>
  );
}
