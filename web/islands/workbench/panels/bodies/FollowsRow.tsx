import {
  type BodyFollows,
  type BodySetRecord,
  getScene,
  listBodySections,
} from '../../../../../core/document/index.ts';
import { listMorphNames } from '../../../../../core/rig/index.ts';
import { useDocument } from '../../../../state/workbench.ts';
import { Choice } from '../../../parts/Choice.tsx';

const OPTIONS: readonly { value: BodyFollows; label: string; hint: string }[] = [
  { value: 'skin', label: 'Move', hint: 'Ends and radii go with the skin around them' },
  {
    value: 'fit',
    label: 'Refit',
    hint: 'Fitted anew to the skin of their joints; where several share a joint, moved',
  },
  { value: 'nothing', label: 'Stay', hint: 'As they are in the plain shape' },
];

/** What the bodies of a set do when the character takes another body shape; nothing on a character without any. */
export function FollowsRow({ set }: { set: BodySetRecord }) {
  const editor = useDocument();
  const { document, character } = editor;
  const skin = listBodySections(document, character).map((index) => character.sections[index]!);
  const names = listMorphNames({ sections: skin });
  if (names.length === 0) return null;
  const { morphs } = getScene(document);
  const isShaped = names.some((name) => (morphs[name] ?? 0) !== 0);
  return (
    <section className="mt-3" aria-label="Body shapes">
      <div className="mb-1 text-xs text-soft">With body shapes, bodies</div>
      <Choice<BodyFollows>
        label="With body shapes"
        look="cells"
        value={set.follows}
        options={OPTIONS}
        onChange={(follows) =>
          editor.updateRecord('Choose what bodies do with body shapes', set, { follows })
        }
      />
      {isShaped && (
        <p className="mt-1.5 rounded-md bg-paper px-2 py-1.5 text-xs">
          A body shape is on: bodies are shown as they follow it. What is changed here is changed on the plain
          shape.{' '}
          <button
            type="button"
            className="text-teal underline"
            onClick={() =>
              editor.updateScene('Body shape', {
                morphs: { ...morphs, ...Object.fromEntries(names.map((name) => [name, 0])) },
              })
            }
          >
            Show the plain shape
          </button>
        </p>
      )}
    </section>
  );
}
