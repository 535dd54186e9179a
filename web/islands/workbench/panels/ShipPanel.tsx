import { Download, PackageCheck } from 'lucide-react';
import { useEffect, useState } from 'react';
import {
  type GarmentRecord,
  listBodies,
  listBodyMeshes,
  listGarments,
} from '../../../../core/document/index.ts';
import { tellCount } from '../../../../core/math/index.ts';
import { ApiError, api, type Shipment, toErrorBody } from '../../../state/api.ts';
import { sendSeen } from '../../../state/send-seen.ts';
import { useStore } from '../../../state/store.ts';
import { useDocument, useSaveState, useWorkbench } from '../../../state/workbench.ts';

type Progress =
  | { kind: 'idle' }
  | { kind: 'writing' }
  | { kind: 'done'; shipment: Shipment }
  | { kind: 'failed'; message: string; isOutOfDate: boolean };

/** Writes the finished file and says what an independent validator thinks of it. */
export function ShipPanel() {
  const { saver, info, levels, shipped } = useWorkbench();
  useStore(levels.store, (state) => state.found);
  const editor = useDocument();
  const [progress, setProgress] = useState<Progress>({ kind: 'idle' });
  const garments = listGarments(editor.document);
  const bodySetIds = [...new Set(garments.map(({ bodySetId }) => bodySetId))];
  const bodyCount = bodySetIds.reduce((sum, id) => sum + listBodies(editor.document, id).length, 0);
  const meshCount = bodySetIds.reduce((sum, id) => sum + listBodyMeshes(editor.document, id).length, 0);
  const levelCount = garments.reduce((sum, garment) => sum + garment.levels.length, 0);
  const isMeasured = levels.listBands().every((band) => levels.findFigures(band) !== null);
  const ship = async (): Promise<void> => {
    setProgress({ kind: 'writing' });
    try {
      setProgress({ kind: 'done', shipment: await sendSeen(saver, info, (seen) => api.ship(info.id, seen)) });
      shipped.set({ isShipped: true });
    } catch (error) {
      const isOutOfDate = error instanceof ApiError && error.status === 409;
      setProgress({ kind: 'failed', message: toErrorBody(error).message, isOutOfDate });
    }
  };
  return (
    <>
      <h1 className="text-[20px] font-semibold tracking-tight">Ship</h1>
      <p className="mt-1 text-soft">One binary glTF file, as it came, with what was authored here:</p>
      <ul className="mt-2 flex flex-col gap-1.5">
        <Part
          title={tellCount(garments.length, 'garment')}
          details="maps in use as vertex attributes, the max distance as _MAX_DISTANCE in metres"
        />
        <Part
          title={tellCount(bodyCount, 'collision body', 'collision bodies')}
          details="KHR_implicit_shapes and KHR_physics_rigid_bodies on nodes below their joints"
        />
        {meshCount > 0 && (
          <Part
            title={`${meshCount} body ${meshCount === 1 ? 'mesh' : 'meshes'}`}
            details="skinned primitives that are not drawn, named by COBWEB_cloth"
          />
        )}
        {levelCount > 0 && (
          <Part
            title={`${levelCount} ${levelCount === 1 ? 'level' : 'levels'} of detail`}
            details={`their sim meshes as skinned primitives that are not drawn, ${
              isMeasured
                ? 'with what each size costs and how many fit'
                : 'without costs: measure them (key 0) to ship those, too'
            }`}
          />
        )}
        <Part title="Cloth settings" details="COBWEB_cloth: fabrics, body sets and which garment uses them" />
      </ul>
      {garments.length === 0 && (
        <p className="mt-3 text-marigold-ink">There is no garment yet: the file would carry no cloth.</p>
      )}
      <OpenIssues garments={garments} />
      <button
        type="button"
        className="btn btn-main mt-4 w-full"
        data-tour="write-file"
        disabled={progress.kind === 'writing' || garments.length === 0}
        onClick={() => void ship()}
      >
        <PackageCheck size={15} /> {progress.kind === 'writing' ? 'Writing and checking…' : 'Write the file'}
      </button>
      {progress.kind === 'failed' && (
        <p role="alert" className="mt-3 border-l-[3px] border-brick bg-surface px-2.5 py-1.5">
          <b className="text-brick">Nothing was written.</b> {progress.message}
          {progress.isOutOfDate && (
            <button type="button" className="btn mt-2 block" onClick={() => location.reload()}>
              Reload the page
            </button>
          )}
        </p>
      )}
      {progress.kind === 'done' && <Done shipment={progress.shipment} />}
    </>
  );
}

/** Garments with findings that are still open, on what the reel has measured. */
function OpenIssues({ garments }: { garments: readonly GarmentRecord[] }) {
  const workbench = useWorkbench();
  const { findings } = workbench;
  useStore(findings.store, (state) => state);
  const open = garments
    .map((garment) => ({ garment, found: findings.get(garment.id) }))
    .filter(({ found }) => found.length > 0);
  if (garments.length === 0) return null;
  if (open.length === 0) return <p className="mt-3 text-moss">✓ No open issues on this clip</p>;
  const count = open.reduce((sum, { found }) => sum + found.length, 0);
  return (
    <section
      className="mt-3 border-l-[3px] border-marigold bg-surface px-2.5 py-1.5"
      aria-label="Open issues"
    >
      <b>{tellCount(count, 'open issue')}</b>
      <ul className="mt-0.5 text-xs">
        {open.map(({ garment, found }) => (
          <li key={garment.id}>
            <button
              type="button"
              className="text-left underline decoration-line underline-offset-2"
              onClick={() => workbench.selectGarment(garment.id)}
            >
              {garment.name}
            </button>
            : {found.map(({ title }) => title).join('; ')}
          </li>
        ))}
      </ul>
    </section>
  );
}

function Part({ title, details }: { title: string; details: string }) {
  return (
    <li className="card px-2.5 py-1.5">
      <span className="block font-semibold">{title}</span>
      <span className="block text-xs text-soft">{details}</span>
    </li>
  );
}

/** Whether the character is another than the one that was shipped, by this window or any other. */
function useIsStale(shipment: Shipment): boolean {
  const { saver, info } = useWorkbench();
  const state = useSaveState();
  const [elsewhere, setElsewhere] = useState(0);
  useEffect(() => {
    const ask = (): void => {
      // Without an answer there is nothing new to tell; the next focus asks again.
      api.readRevision(info.id).then(
        ({ revision }) => setElsewhere(revision),
        () => {},
      );
    };
    addEventListener('focus', ask);
    return () => removeEventListener('focus', ask);
  }, [info.id]);
  return state.kind !== 'saved' || Math.max(saver.revision, elsewhere) !== shipment.revision;
}

function Done({ shipment }: { shipment: Shipment }) {
  const { validation } = shipment;
  const isStale = useIsStale(shipment);
  const isClean = validation.errors === 0;
  return (
    <div className="card mt-4 p-3" data-shipment={shipment.hash}>
      <p className="font-semibold break-words">{shipment.name}</p>
      <p className="num text-xs text-soft">
        {(shipment.bytes / 1e6).toFixed(2)} MB · made of revision {shipment.revision}
      </p>
      <p className={`mt-2 ${isClean ? 'text-moss' : 'text-brick'}`}>
        <b>glTF validator: {validation.errors} errors</b>, {validation.warnings} warnings
      </p>
      {validation.messages.length > 0 && (
        <ul className="mt-1 max-h-28 overflow-y-auto text-xs">
          {validation.messages.map((message) => (
            <li key={`${message.code}${message.pointer}`} className="break-words">
              {message.pointer} {message.message}
            </li>
          ))}
        </ul>
      )}
      {isStale && (
        <p className="mt-2 text-marigold-ink" data-stale>
          The character has changed since. Write the file again to ship its newest state.
        </p>
      )}
      <a
        className="btn mt-3 w-full"
        href={`/api/blobs/${shipment.hash}?type=glb&name=${encodeURIComponent(shipment.name)}`}
        download={shipment.name}
      >
        <Download size={15} /> Download
      </a>
    </div>
  );
}
