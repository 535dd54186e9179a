import { useEffect, useState } from 'react';
import { findSection } from '../../../../../core/rig/index.ts';
import { ImageRefused } from '../../../../state/map-image-client.ts';
import { useStore } from '../../../../state/store.ts';
import { useDocument, useWorkbench } from '../../../../state/workbench.ts';
import { ReadColors } from './ReadColors.tsx';
import { ReadImage } from './ReadImage.tsx';
import { WriteImage } from './WriteImage.tsx';

/** Kind of the marks on vertices whose UVs were refused. */
const REFUSED = 'uvRefused';

/** The map as an image in UV space, out and in; vertex colours in. */
export function ImageTab() {
  const workbench = useWorkbench();
  const editor = useDocument();
  const { reach } = workbench;
  const channel = useStore(workbench.session, (session) => session.channel);
  const [refusal, setRefusal] = useState<ImageRefused | null>(null);
  const { garment } = reach;
  const section = garment && editor.character.sections[findSection(editor.character, garment)];
  useEffect(
    function forget() {
      void channel;
      setRefusal(null);
    },
    [channel],
  );
  useEffect(
    function takeMarksAlong() {
      const { session } = workbench;
      return () => {
        if (session.state.marks?.kind === REFUSED) session.set({ marks: null });
      };
    },
    [workbench],
  );
  const guard = async (work: () => Promise<void>): Promise<void> => {
    try {
      await work();
      setRefusal(null);
    } catch (error) {
      if (!(error instanceof ImageRefused)) throw error;
      setRefusal(error);
    }
  };
  const show = (): void => {
    if (refusal && garment)
      workbench.session.set({
        marks: {
          kind: REFUSED,
          sectionIndex: findSection(editor.character, garment),
          vertices: refusal.vertices,
        },
      });
  };
  return (
    <>
      {refusal && (
        <div role="alert" className="mb-2 rounded-md border border-brick bg-surface p-2">
          <p className="text-brick">{refusal.message}</p>
          {refusal.vertices.length > 0 && (
            <button type="button" className="btn mt-1.5" onClick={show}>
              Show where
            </button>
          )}
        </div>
      )}
      <WriteImage guard={guard} />
      <ReadImage guard={guard} />
      {section?.colors && <ReadColors />}
    </>
  );
}
