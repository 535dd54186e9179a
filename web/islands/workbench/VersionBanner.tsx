import { addressVersion } from '../../state/history-client.ts';
import { useWorkbench } from '../../state/workbench.ts';

/** Says that what is on the screen is an earlier version, which nothing is saved to. */
export function VersionBanner() {
  const { version, info } = useWorkbench();
  if (!version) return null;
  return (
    <div
      role="status"
      className="absolute top-3 left-1/2 z-20 flex w-max max-w-[calc(100%-24px)] -translate-x-1/2 items-center gap-3 rounded-md bg-ink px-3.5 py-2 text-panel shadow-lg"
    >
      <span className="min-w-0">
        You are looking at <b>{version.label}</b>. Nothing is saved here.
      </span>
      <a
        className="whitespace-nowrap rounded bg-surface px-2 py-0.5 font-semibold text-ink"
        href={addressVersion(info.id, version, 'returnTo')}
      >
        Return to it
      </a>
      <a className="whitespace-nowrap font-semibold underline" href={`/characters/${info.id}`}>
        Back to now
      </a>
    </div>
  );
}
