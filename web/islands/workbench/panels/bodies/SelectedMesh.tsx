import { Trash2 } from 'lucide-react';
import { useEffect, useState } from 'react';
import { type BodyMeshRecord, GROUP_COUNT } from '../../../../../core/document/index.ts';
import { findSection } from '../../../../../core/rig/index.ts';
import type { BodyMeshSettings } from '../../../../../core/steps/index.ts';
import { runPreparation } from '../../../../state/run-preparation.ts';
import { useDocument, useWorkbench } from '../../../../state/workbench.ts';
import type { BodyMeshFigures } from '../../../../workers/prepare-protocol.ts';
import { IconButton } from '../../../parts/IconButton.tsx';
import { toastUndo } from '../../../parts/toast-undo.ts';
import { BodyMeshSettingsRows } from './BodyMeshSettingsRows.tsx';
import { GroupRow } from './GroupRow.tsx';
import { MarginRow } from './MarginRow.tsx';

/** A control that rests so long has its last value. */
const REST_MS = 350;

/** The selected body mesh: made anew with other settings, its margin and group, how far it is off the skin. */
export function SelectedMesh({ mesh }: { mesh: BodyMeshRecord }) {
  const editor = useDocument();
  const { preparing, session } = useWorkbench();
  const { bodyMeshes } = preparing;
  const act = bodyMeshes.findStep(mesh)?.act;
  const built: BodyMeshSettings | null = act?.kind === 'makeBodyMesh' ? act : null;
  // What a control was set to, until it is made; at rest the controls show what is there, taken back or not.
  const [wished, setWished] = useState<BodyMeshSettings | null>(null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: only another wish starts the clock anew
  useEffect(
    function remakeAtRest() {
      if (!wished || !built) return;
      const timer = setTimeout(() => {
        if (isSame(wished, built)) setWished(null);
        else
          void runPreparation(() => bodyMeshes.remake(mesh, wished)).then(() =>
            setWished((now) => (now === wished ? null : now)),
          );
      }, REST_MS);
      return () => clearTimeout(timer);
    },
    [wished],
  );
  const turnIntoCapsules = async (): Promise<void> => {
    let count = 0;
    const isDone = await runPreparation(async () => {
      const bodyIds = await bodyMeshes.turnIntoCapsules(mesh);
      count = bodyIds.length;
      session.set({ bodyIds });
    });
    if (isDone) toastUndo(editor, `${mesh.name} became ${count} tapered capsules`);
  };
  const remove = (): void => {
    session.set({ bodyIds: [] });
    void runPreparation(() => bodyMeshes.remove(mesh));
  };
  return (
    <div className="mt-3 border-t border-line pt-3">
      <h2 className="font-semibold">{mesh.name}</h2>
      <div className="mt-1.5">
        {built ? (
          <BodyMeshSettingsRows settings={wished ?? built} onChange={setWished} />
        ) : (
          <p className="text-xs text-soft">It came with the file: its vertices are as they are.</p>
        )}
        <MarginRow
          hint="How much farther off it than the thickness of the fabric cloth is kept"
          margin={mesh.margin}
          onChange={(margin) => editor.updateRecord('Set margin', mesh, { margin })}
        />
        <GroupRow
          group={mesh.group}
          count={GROUP_COUNT}
          onChange={(group) => editor.updateRecord('Set collision group', mesh, { group })}
        />
      </div>
      <MeshFigures mesh={mesh} />
      <div className="mt-3 flex gap-1">
        <button
          type="button"
          className="btn min-w-0 flex-1 !px-1.5"
          title="Puts in its place a tapered capsule for each joint, fitted to what the joint moves of it"
          onClick={() => void turnIntoCapsules()}
        >
          Turn into capsules
        </button>
        <IconButton
          label="Remove body mesh"
          title="Remove"
          icon={<Trash2 size={14} />}
          className="!px-2"
          onClick={remove}
        />
      </div>
    </div>
  );
}

/** Counts, and how far it is off the skin: from the worker, anew when it is another. */
function MeshFigures({ mesh }: { mesh: BodyMeshRecord }) {
  const { preparing, editor } = useWorkbench();
  const section = editor.character.sections[findSection(editor.character, mesh)];
  const [measured, setMeasured] = useState<{ of: unknown; figures: BodyMeshFigures } | null>(null);
  const { sectionIndex, sectionName, stepId } = mesh;
  useEffect(
    function measure() {
      let isCurrent = true;
      preparing.client.measureBodyMesh({ section: { sectionIndex, sectionName }, stepId }).then(
        (figures) => isCurrent && setMeasured({ of: section, figures }),
        () => isCurrent && setMeasured(null),
      );
      return () => {
        isCurrent = false;
      };
    },
    [preparing, section, sectionIndex, sectionName, stepId],
  );
  if (!measured) return null;
  const { vertices, triangles, deviation } = measured.figures;
  const facts = [
    ['Vertices', vertices.toLocaleString('en')],
    ['Triangles', triangles.toLocaleString('en')],
    ...(deviation
      ? [
          ['Distance from the skin, mean', `${(1000 * deviation.mean).toFixed(1)} mm`],
          ['95 % of the skin', `${(1000 * deviation.p95).toFixed(1)} mm`],
          ['Farthest', `${(1000 * deviation.most).toFixed(1)} mm`],
        ]
      : []),
  ];
  return (
    <dl
      className={`mt-2 grid grid-cols-[1fr_auto] gap-y-1 ${measured.of === section ? '' : 'opacity-60'}`}
      aria-label="Figures of the mesh"
    >
      {facts.map(([label, value]) => (
        <div key={label} className="contents">
          <dt className="text-soft">{label}</dt>
          <dd className="num text-right text-xs leading-[18px]">{value}</dd>
        </div>
      ))}
    </dl>
  );
}

function isSame(p: BodyMeshSettings, q: BodyMeshSettings): boolean {
  return (
    p.vertexCount === q.vertexCount &&
    p.without.length === q.without.length &&
    p.without.every((name) => q.without.includes(name))
  );
}
