import { Download, ImageUp } from 'lucide-react';
import { useEffect, useState } from 'react';
import { toast } from 'sonner';
import { findSection } from '../../../../../core/document/index.ts';
import {
  CHANNELS,
  type ColorPart,
  fitTop,
  formatValue,
  IMAGE_SIZES,
  readVertexColors,
} from '../../../../../core/reach/index.ts';
import { ImageRefused } from '../../../../state/map-image-client.ts';
import { saveFile } from '../../../../state/save-file.ts';
import { useStore } from '../../../../state/store.ts';
import { useDocument, useWorkbench } from '../../../../state/workbench.ts';
import { NumberRow } from '../../../parts/NumberRow.tsx';
import { ToolChip } from '../../../parts/ToolChip.tsx';
import { ValueRow } from './ValueRow.tsx';

/** Kind of the marks on vertices whose UVs were refused. */
const REFUSED = 'uvRefused';

const PARTS: readonly ColorPart[] = ['grey', 'red', 'green', 'blue'];

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
        <div role="alert" className="mb-2 rounded-md border border-brick bg-white p-2">
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

interface Guarded {
  guard(work: () => Promise<void>): Promise<void>;
}

function WriteImage({ guard }: Guarded) {
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
          (cutOff > 0 ? ` ${cutOff.toLocaleString('en')} points lie above white and are cut off.` : ''),
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

function ReadImage({ guard }: Guarded) {
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
      toast(
        changed > 0 ? `${changed.toLocaleString('en')} points changed.` : 'The map is as the image says.',
        {
          duration: 2500,
        },
      );
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
            <div className="mt-1 flex flex-wrap gap-1.5" role="radiogroup" aria-label="Part of the image">
              {opened.channels.map((each) => (
                <ToolChip key={each} label={each} isOn={part === each} onChoose={() => setPart(each)} />
              ))}
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
            hint="Rounds of smoothing afterwards; held points stay held"
            onChange={setSoften}
          />
          <button
            type="button"
            className="btn btn-main mt-1"
            disabled={isBusy || !(high > low)}
            onClick={() => void take()}
          >
            Take it over
          </button>
          {!(high > low) && <p className="mt-1 text-xs text-brick">White must be more than black.</p>}
        </div>
      )}
    </section>
  );
}

function ReadColors() {
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
      <div className="flex flex-wrap gap-1.5" role="radiogroup" aria-label="Part of the colour">
        {PARTS.map((each) => (
          <ToolChip key={each} label={each} isOn={part === each} onChoose={() => setPart(each)} />
        ))}
      </div>
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
