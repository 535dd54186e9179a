import { Download } from 'lucide-react';
import { useState } from 'react';
import { tellVertices } from '../../../../../core/math/index.ts';
import { CHANNELS, fitTop, IMAGE_SIZES } from '../../../../../core/reach/index.ts';
import { saveFile } from '../../../../state/save-file.ts';
import { useStore } from '../../../../state/store.ts';
import { useWorkbench } from '../../../../state/workbench.ts';
import type { Guarded } from './guarded.ts';
import { ValueRow } from './ValueRow.tsx';

/** The map in use and the UV layout as PNG files. */
export function WriteImage({ guard }: Guarded) {
  const workbench = useWorkbench();
  const { reach, mapImages } = workbench;
  const channel = useStore(workbench.session, (session) => session.channel);
  const isBusy = useStore(mapImages.store, (state) => state.isBusy);
  const [size, setSize] = useState<number>(1024);
  const [depth, setDepth] = useState<8 | 16>(16);
  const [typed, setTyped] = useState<number | null>(null);
  const [told, setTold] = useState<string | null>(null);
  const fitted = fitTop(channel, reach.painted?.values);
  const high = typed ?? fitted;
  const name = (what: string): string => `${reach.garment?.name ?? 'map'} ${what}.png`;
  const write = (): Promise<void> =>
    guard(async () => {
      const { png, worst, cutOff } = await mapImages.write({ size, depth, low: 0, high });
      saveFile(png, name(CHANNELS[channel].label.toLowerCase()), 'image/png');
      setTold(
        `Reads back within ${worst.away.toFixed(1)} grey steps, ${worst.atSeams.toFixed(1)} at seams.` +
          (cutOff > 0 ? ` ${tellVertices(cutOff)} above white, cut off.` : ''),
      );
    });
  const drawLayout = (): Promise<void> =>
    guard(async () => saveFile(await mapImages.drawLayout(size), name('UV layout'), 'image/png'));
  return (
    <section aria-label="Write an image">
      <h2 className="heading mb-1">Write</h2>
      <div className="flex gap-1.5">
        <select
          className="field"
          aria-label="Size of the image"
          value={size}
          onChange={(event) => setSize(Number(event.target.value))}
        >
          {IMAGE_SIZES.map((each) => (
            <option key={each} value={each}>
              {each} × {each}
            </option>
          ))}
        </select>
        <select
          className="field"
          aria-label="Depth of the image"
          value={depth}
          onChange={(event) => setDepth(event.target.value === '8' ? 8 : 16)}
        >
          <option value={8}>8 bit grey</option>
          <option value={16}>16 bit grey</option>
        </select>
      </div>
      <ValueRow
        channel={channel}
        label="White is"
        value={high}
        hint="Black is 0. The image says so itself"
        onChange={(value) => setTyped(value)}
      />
      <div className="mt-1 flex flex-wrap gap-1.5">
        <button type="button" className="btn btn-main" disabled={isBusy} onClick={() => void write()}>
          <Download size={14} /> {isBusy ? 'Working…' : 'Map'}
        </button>
        <button type="button" className="btn" disabled={isBusy} onClick={() => void drawLayout()}>
          <Download size={14} /> UV layout
        </button>
      </div>
      {told && (
        <p className="mt-1 text-xs text-soft" data-round-trip>
          {told}
        </p>
      )}
    </section>
  );
}
