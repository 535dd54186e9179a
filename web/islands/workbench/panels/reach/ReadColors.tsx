import { useState } from 'react';
import { CHANNELS, type ColorPart, formatValue, readVertexColors } from '../../../../../core/reach/index.ts';
import { findSection } from '../../../../../core/rig/index.ts';
import { useStore } from '../../../../state/store.ts';
import { useWorkbench } from '../../../../state/workbench.ts';
import { Choice } from '../../../parts/Choice.tsx';
import { ValueRow } from './ValueRow.tsx';

const PARTS: readonly ColorPart[] = ['grey', 'red', 'green', 'blue'];

/** The colours of the vertices as values. */
export function ReadColors() {
  const workbench = useWorkbench();
  const { reach, editor } = workbench;
  const channel = useStore(workbench.session, (session) => session.channel);
  const [part, setPart] = useState<ColorPart>('red');
  const [high, setHigh] = useState(CHANNELS[channel].brushValue);
  const take = (): void => {
    reach.change('Take over vertex colours', ({ values, garment, reachMesh, kind }) => {
      const section = editor.character.sections[findSection(editor.character, garment)]!;
      const options = { kind, part, low: 0, high, mask: reach.mask };
      return readVertexColors(values, section, reachMesh.mesh.pointOfVertex, options);
    });
  };
  return (
    <section className="mt-3 border-t border-line pt-2" aria-label="Vertex colours">
      <h2 className="heading mb-1">From vertex colours</h2>
      <Choice
        label="Part of the colour"
        value={part}
        options={PARTS.map((each) => ({ value: each, label: each }))}
        onChange={(next) => setPart(next as ColorPart)}
      />
      <ValueRow channel={channel} label="Bright is" value={high} onChange={setHigh} />
      <button
        type="button"
        className="btn mt-1"
        title={`Dark becomes 0, bright ${formatValue(channel, high)}`}
        disabled={!(high > 0)}
        onClick={take}
      >
        Take them over
      </button>
    </section>
  );
}
