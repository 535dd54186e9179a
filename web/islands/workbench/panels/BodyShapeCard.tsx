import { useEffect, useState } from 'react';
import { getScene, listBodySections } from '../../../../core/document/index.ts';
import { tellVertices } from '../../../../core/math/index.ts';
import type { ShapeFit } from '../../../../core/prepare/index.ts';
import { findSection, listMorphNames, type SectionName } from '../../../../core/rig/index.ts';
import { useDocument, useWorkbench } from '../../../state/workbench.ts';
import { NumberRow } from '../../parts/NumberRow.tsx';

export interface BodyShapeCardProps {
  section: SectionName;
}

/** Body shapes that the garment is looked at and measured in, and how it sits on the extremes of each. */
export function BodyShapeCard({ section }: BodyShapeCardProps) {
  const editor = useDocument();
  const body = listBodySections(editor.document, editor.character);
  const names = listMorphNames({ sections: body.map((index) => editor.character.sections[index]!) });
  if (names.length === 0) return null;
  const scene = getScene(editor.document);
  const garment = editor.character.sections[findSection(editor.character, section)];
  const lacks = names.filter((name) => !garment?.morphs.some((morph) => morph.name === name));
  return (
    <>
      <h2 className="heading mt-5 mb-1">Body shape</h2>
      {names.map((name) => (
        <NumberRow
          key={name}
          label={name}
          value={100 * (scene.morphs[name] ?? 0)}
          unit="%"
          min={0}
          max={100}
          step={1}
          digits={0}
          defaultValue={0}
          onChange={(percent) =>
            editor.updateScene('Body shape', { morphs: { ...scene.morphs, [name]: percent / 100 } })
          }
        />
      ))}
      {lacks.length > 0 ? (
        <p className="mt-1 text-xs text-soft">
          {section.sectionName} does not follow {lacks.join(', ')}: “Take body shapes” above gives it the
          body's.
        </p>
      ) : (
        <ShapeFits section={section} />
      )}
    </>
  );
}

/** How many points lie in the body in bind pose, on the plain body and on each extreme. */
function ShapeFits({ section: { sectionIndex, sectionName } }: BodyShapeCardProps) {
  const { preparing, editor } = useWorkbench();
  const [fits, setFits] = useState<readonly ShapeFit[] | null>(null);
  const data = editor.character.sections[findSection(editor.character, { sectionIndex, sectionName })];
  // biome-ignore lint/correctness/useExhaustiveDependencies: asked again when the section is another
  useEffect(
    function checkFits() {
      let isCurrent = true;
      preparing.client.checkShapes({ sectionIndex, sectionName }).then(
        (checked) => isCurrent && setFits(checked),
        () => isCurrent && setFits(null),
      );
      return () => {
        isCurrent = false;
      };
    },
    [preparing, sectionIndex, sectionName, data],
  );
  if (!fits) return null;
  return (
    <table className="mt-1.5 w-full text-xs" aria-label="Fit on the body shapes">
      <caption className="text-left text-soft">In the body, in bind pose</caption>
      <tbody>
        {fits.map(({ name, sunk, deepest }) => (
          <tr key={name ?? ''} className="border-b border-line">
            <td className="py-0.5">{name ?? 'plain body'}</td>
            <td className={`num text-right ${sunk > 0 ? 'text-brick' : 'text-moss'}`}>
              {sunk > 0 ? `${tellVertices(sunk)}, ${(1000 * deepest).toFixed(1)} mm` : 'clear'}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
