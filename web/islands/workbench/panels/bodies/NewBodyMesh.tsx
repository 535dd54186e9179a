import { useState } from 'react';
import type { RecordId } from '../../../../../core/document/index.ts';
import { runPreparation } from '../../../../state/run-preparation.ts';
import { useStore } from '../../../../state/store.ts';
import { useWorkbench } from '../../../../state/workbench.ts';
import { CardHead } from '../../../parts/CardHead.tsx';
import { BODY_MESH_SETTINGS, BodyMeshSettingsRows } from './BodyMeshSettingsRows.tsx';

export interface NewBodyMeshProps {
  ensureSet(): RecordId;
  onClose(): void;
}

/** What a body mesh is to be like before it is made. */
export function NewBodyMesh({ ensureSet, onClose }: NewBodyMeshProps) {
  const { preparing, session } = useWorkbench();
  const { task } = useStore(preparing.client.store, (state) => state);
  const [settings, setSettings] = useState(BODY_MESH_SETTINGS);
  const make = async (): Promise<void> => {
    let id: RecordId | null = null;
    const isDone = await runPreparation(async () => {
      id = await preparing.bodyMeshes.make(ensureSet(), settings);
    });
    if (!isDone || !id) return;
    session.set({ bodyIds: [id] });
    onClose();
  };
  return (
    <section className="card mt-3 p-3" aria-label="New body mesh">
      <CardHead title="Body mesh" closeLabel="Close the body mesh" onClose={onClose} />
      <p className="mt-0.5 mb-1.5 text-xs text-soft">
        One mesh of few vertices over the whole skin, that bends with it. It follows every shape, and takes
        longer than a set of round bodies.
      </p>
      <BodyMeshSettingsRows settings={settings} onChange={setSettings} />
      <button
        type="button"
        className="btn btn-main mt-2 w-full"
        disabled={task !== null}
        onClick={() => void make()}
      >
        Make the mesh
      </button>
    </section>
  );
}
