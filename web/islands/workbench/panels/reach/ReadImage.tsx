import { ImageUp } from 'lucide-react';
import { useState } from 'react';
import { toast } from 'sonner';
import { tellVertices } from '../../../../../core/math/index.ts';
import { CHANNELS, fitTop } from '../../../../../core/reach/index.ts';
import { useStore } from '../../../../state/store.ts';
import { useWorkbench } from '../../../../state/workbench.ts';
import { Choice } from '../../../parts/Choice.tsx';
import { NumberRow } from '../../../parts/NumberRow.tsx';
import type { Guarded } from './guarded.ts';
import { ValueRow } from './ValueRow.tsx';

/** A PNG with its settings, taken over into the map in use. */
export function ReadImage({ guard }: Guarded) {
  const workbench = useWorkbench();
  const { mapImages, reach } = workbench;
  const channel = useStore(workbench.session, (session) => session.channel);
  const { opened, isBusy } = useStore(mapImages.store, (state) => state);
  const [part, setPart] = useState<'grey' | 'red' | 'green' | 'blue' | 'alpha'>('grey');
  const [low, setLow] = useState(0);
  const [high, setHigh] = useState(CHANNELS[channel].brushValue);
  const [soften, setSoften] = useState(0);
  const open = (file: File): Promise<void> =>
    guard(async () => {
      const image = await mapImages.open(file);
      setPart('grey');
      const stated = image.range?.channel === channel ? image.range : null;
      setLow(stated?.low ?? 0);
      setHigh(stated?.high ?? fitTop(channel, reach.painted?.values));
    });
  const take = (): Promise<void> =>
    guard(async () => {
      const changed = await mapImages.read({ part, low, high, soften });
      toast(changed > 0 ? `${tellVertices(changed)} changed.` : 'The map is as the image says.', {
        duration: 2500,
      });
    });
  return (
    <section className="mt-3 border-t border-line pt-2" aria-label="Read an image">
      <h2 className="heading mb-1">Read</h2>
      <label className="btn cursor-pointer">
        <ImageUp size={14} /> {opened ? 'Another image…' : 'Choose a PNG…'}
        <input
          type="file"
          accept=".png,image/png"
          className="sr-only"
          aria-label="Image to read"
          onChange={(event) => {
            const [file] = event.target.files ?? [];
            event.target.value = '';
            if (file) void open(file);
          }}
        />
      </label>
      {opened && (
        <div className="mt-1.5">
          <p className="truncate font-semibold" title={opened.file}>
            {opened.file}
          </p>
          <p className="num text-xs text-soft">
            {opened.width} × {opened.height} · {opened.depth} bit
          </p>
          {opened.channels.length > 1 && (
            <div className="mt-1">
              <Choice
                label="Part of the image"
                value={part}
                options={opened.channels.map((each) => ({ value: each, label: each }))}
                onChange={(next) => setPart(next as typeof part)}
              />
            </div>
          )}
          <ValueRow channel={channel} label="Black is" value={low} onChange={setLow} />
          <ValueRow channel={channel} label="White is" value={high} onChange={setHigh} />
          <NumberRow
            label="Soften"
            value={soften}
            unit="×"
            min={0}
            max={20}
            step={1}
            digits={0}
            hint="Rounds of smoothing afterwards; held vertices stay held"
            onChange={setSoften}
          />
          <button
            type="button"
            className="btn btn-main mt-1"
            disabled={isBusy || !(high > low)}
            onClick={() => void take()}
          >
            Import image
          </button>
          {!(high > low) && <p className="mt-1 text-xs text-brick">White must be more than black.</p>}
        </div>
      )}
    </section>
  );
}
