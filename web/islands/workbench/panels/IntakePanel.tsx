import { Eye, EyeOff, Focus, Footprints, Ghost } from 'lucide-react';
import { listGarments, type ReportNote } from '../../../../core/document/index.ts';
import { tellCount, tellVertices } from '../../../../core/math/index.ts';
import { getFigure } from '../../../state/get-figure.ts';
import { groupNotes, type NoteGroup } from '../../../state/group-notes.ts';
import { useStore } from '../../../state/store.ts';
import { useDocument, useWorkbench } from '../../../state/workbench.ts';
import { ToggleChip } from '../../parts/ToggleChip.tsx';
import { helpStore } from '../commands/help-commands.ts';
import { setVisibility } from '../set-visibility.ts';
import { ClipList } from './ClipList.tsx';
import { PlacementCard } from './PlacementCard.tsx';
import { SourceFiles } from './SourceFiles.tsx';

/** What came with the file, what was repaired, what is odd; and what is drawn. */
export function IntakePanel() {
  const { report } = useWorkbench();
  const { counts } = report;
  const { character } = useDocument();
  const size = getFigure(character);
  const bytes = report.files.reduce((sum, file) => sum + file.bytes, 0);
  return (
    <>
      <h1 className="text-[20px] font-semibold tracking-tight">Intake</h1>
      <p className="mt-0.5 break-words text-soft">
        {report.files.map((file) => file.name).join(', ')} · {report.format} · {formatBytes(bytes)}
      </p>
      <SourceFiles />
      <TourOffer />
      <dl className="mt-3 grid grid-cols-[1fr_auto] gap-y-1">
        <Fact label="Height" value={tellMetres(size.height)} />
        <Fact label="Width, depth" value={tellMetres(size.width, size.depth)} />
        <Fact
          label="Joints"
          value={`${counts.joints} in ${counts.skins} ${counts.skins === 1 ? 'skin' : 'skins'}`}
        />
        <Fact label="Vertices" value={counts.vertices.toLocaleString('en')} />
        <Fact label="Triangles" value={counts.triangles.toLocaleString('en')} />
        {counts.morphs > 0 && <Fact label="Morphs" value={String(counts.morphs)} />}
      </dl>
      <PlacementCard />
      <Sections />
      <LooksOfFile />
      <h2 className="heading mt-4 mb-1">Clips</h2>
      <ClipList />
      {report.decoded.length > 0 && (
        <>
          <h2 className="heading mt-4 mb-1">Decompressed</h2>
          <p>{report.decoded.join(', ')}</p>
        </>
      )}
      <Notes title="Repaired" notes={report.repairs} tone="border-moss" />
      <Notes title="Warnings" notes={report.odd} tone="border-marigold" />
      {report.repairs.length + report.odd.length === 0 && (
        <p className="mt-4 text-soft">No repairs, no warnings.</p>
      )}
    </>
  );
}

/** Which images came along, and what of the looks cannot be shown. */
function LooksOfFile() {
  const { looks } = useWorkbench();
  const { found, failure } = useStore(looks.store, (state) => state);
  const bytes = found?.images.reduce((sum, image) => sum + image.bytes, 0) ?? 0;
  if (!failure && (!found || found.images.length + found.notes.length === 0)) return null;
  return (
    <section aria-label="Looks">
      <h2 className="heading mt-4 mb-1">Looks</h2>
      {found && found.images.length > 0 && (
        <p>
          {tellCount(found.images.length, 'image')}, <span className="num">{formatBytes(bytes)}</span>
        </p>
      )}
      {[...(found?.notes ?? []), ...(failure ? [`The looks could not be shown: ${failure}`] : [])].map(
        (note) => (
          <p key={note} className="mt-1 border-l-[3px] border-marigold bg-surface px-2.5 py-1.5 text-xs">
            {note}
          </p>
        ),
      )}
    </section>
  );
}

/** For who has made nothing yet. */
function TourOffer() {
  const { document } = useDocument();
  const isOn = useStore(helpStore, (state) => state.isTourOn);
  if (isOn || listGarments(document).length > 0) return null;
  return (
    <button type="button" className="btn mt-3 w-full" onClick={() => helpStore.set({ isTourOn: true })}>
      <Footprints size={14} /> First garment, step by step
    </button>
  );
}

function Fact({ label, value }: { label: string; value: string }) {
  return (
    <>
      <dt className="min-w-0 truncate text-soft">{label}</dt>
      <dd className="num text-right">{value}</dd>
    </>
  );
}

const LOOK = 'rounded-md p-1 text-soft hover:bg-paper data-[state=on]:bg-teal-wash data-[state=on]:text-teal';

function Sections() {
  const { session, report } = useWorkbench();
  const { visibility, isolated } = useStore(session, (state) => state);
  return (
    <>
      <h2 className="heading mt-4 mb-1">Sections</h2>
      <ul className="flex flex-col">
        {report.sections.map((section, index) => {
          const state = visibility.get(index) ?? 'shown';
          const toggle = (wanted: 'ghost' | 'hidden'): void =>
            setVisibility(session, index, state === wanted ? 'shown' : wanted);
          return (
            <li key={section.name} className="flex items-center gap-0.5 border-b border-line py-1">
              <span className="min-w-0 flex-1">
                <span className="block truncate font-medium" title={section.name}>
                  {section.name}
                </span>
                <span
                  className="num text-xs text-soft"
                  title={
                    section.isRigid ? 'rides on one joint' : `up to ${section.influences} joints a vertex`
                  }
                >
                  {tellVertices(section.vertices)}
                  {section.isRigid && ', rigid'}
                </span>
              </span>
              <ToggleChip
                label={`See-through: ${section.name}`}
                hint={`See-through: ${section.name}`}
                isOn={state === 'ghost'}
                onToggle={() => toggle('ghost')}
                className={LOOK}
              >
                <Ghost size={14} />
              </ToggleChip>
              <ToggleChip
                label={`Show only ${section.name}`}
                hint={`Show only ${section.name}`}
                isOn={isolated === index}
                onToggle={() => session.set({ isolated: isolated === index ? null : index })}
                className={LOOK}
              >
                <Focus size={14} />
              </ToggleChip>
              <ToggleChip
                label={`Hide ${section.name}`}
                hint={`Hide ${section.name}`}
                isOn={state === 'hidden'}
                onToggle={() => toggle('hidden')}
                className={LOOK}
              >
                {state === 'hidden' ? <EyeOff size={14} /> : <Eye size={14} />}
              </ToggleChip>
            </li>
          );
        })}
      </ul>
    </>
  );
}

function Notes({ title, notes, tone }: { title: string; notes: ReportNote[]; tone: string }) {
  if (notes.length === 0) return null;
  return (
    <>
      <h2 className="heading mt-4 mb-1">
        {title} ({notes.length})
      </h2>
      <ul className="flex flex-col gap-1">
        {groupNotes(notes).map((group) => (
          <li key={group.code} className={`border-l-[3px] bg-surface px-2 py-1 ${tone}`}>
            {group.notes.length === 1 ? <Note note={group.notes[0]!} /> : <Group group={group} />}
          </li>
        ))}
      </ul>
    </>
  );
}

/** Many of a kind: one line that opens. */
function Group({ group }: { group: NoteGroup }) {
  return (
    <details>
      <summary className="cursor-pointer font-semibold">{group.title}</summary>
      <ul className="mt-1 flex max-h-60 flex-col gap-1 overflow-y-auto">
        {group.notes.map((note) => (
          <li key={`${note.where} ${note.sentence}`}>
            <Note note={note} />
          </li>
        ))}
      </ul>
    </details>
  );
}

function Note({ note: { where, sentence } }: { note: ReportNote }) {
  return (
    <>
      {where && <span className="num block text-xs break-words text-soft">{where}</span>}
      {sentence}
    </>
  );
}

/** In metres, or all in centimetres where the largest is small. */
function tellMetres(...lengths: number[]): string {
  const isSmall = Math.max(...lengths) < 0.1;
  const told = lengths.map((length) => (isSmall ? 100 * length : length).toFixed(2));
  return `${told.join(', ')} ${isSmall ? 'cm' : 'm'}`;
}

function formatBytes(bytes: number): string {
  return bytes < 1e6 ? `${Math.round(bytes / 1000)} kB` : `${(bytes / 1e6).toFixed(1)} MB`;
}
