import { QueryClient, QueryClientProvider, useMutation, useQuery } from '@tanstack/react-query';
import { Eye, Pencil, Trash2, Undo2 } from 'lucide-react';
import { Dialog } from 'radix-ui';
import { useState } from 'react';
import { toast } from 'sonner';
import { api, type Version } from '../../state/api.ts';
import { addressVersion, tellTime, tellVersion } from '../../state/history-client.ts';
import { useStore } from '../../state/store.ts';
import { getWindowId } from '../../state/window-id.ts';
import { useWorkbench } from '../../state/workbench.ts';
import { NameEditor } from '../parts/NameEditor.tsx';
import { toastUndo } from '../parts/toast-undo.ts';
import { helpStore } from './commands/help-commands.ts';

const client = new QueryClient({ defaultOptions: { queries: { retry: false, staleTime: 0 } } });
const VERSIONS = ['versions'];

/** Versions of the character to look at and to return to, with what changed from one to the next. */
export function HistoryDialog() {
  const isOpen = useStore(helpStore, (state) => state.isHistoryOpen);
  return (
    <QueryClientProvider client={client}>
      <Dialog.Root open={isOpen} onOpenChange={(isHistoryOpen) => helpStore.set({ isHistoryOpen })}>
        <Dialog.Portal>
          <Dialog.Overlay className="fixed inset-0 z-40 bg-veil" />
          <Dialog.Content
            aria-describedby={undefined}
            className="card fixed top-1/2 left-1/2 z-50 flex max-h-[84vh] w-[620px] -translate-x-1/2 -translate-y-1/2 flex-col !rounded-lg bg-panel p-5 shadow-xl"
          >
            {isOpen && <History />}
          </Dialog.Content>
        </Dialog.Portal>
      </Dialog.Root>
    </QueryClientProvider>
  );
}

/** Does something with versions, then lists them anew; a failure is told. */
function useAction() {
  const { mutate } = useMutation({
    mutationFn: (action: () => Promise<unknown>) => action(),
    onError: (failure: Error) => toast.error(failure.message),
    onSettled: () => client.invalidateQueries({ queryKey: VERSIONS }),
  });
  return mutate;
}

function History() {
  const { info, saver } = useWorkbench();
  const act = useAction();
  const [name, setName] = useState('');
  const { data, error } = useQuery({
    queryKey: VERSIONS,
    queryFn: async () => {
      await saver.flush();
      return api.listVersions(info.id);
    },
  });
  const keep = (): void => {
    act(async () => {
      await saver.flush();
      await api.keepVersion(info.id, name.trim());
      setName('');
    });
  };
  return (
    <>
      <Dialog.Title className="text-[20px] font-semibold tracking-tight">Versions</Dialog.Title>
      <form
        className="mt-3 flex gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          if (name.trim()) keep();
        }}
      >
        <input
          className="field"
          aria-label="Name of the version"
          placeholder="Name what is on the screen now"
          maxLength={200}
          value={name}
          onChange={(event) => setName(event.target.value)}
        />
        <button type="submit" className="btn btn-main shrink-0" disabled={!name.trim()}>
          Keep version
        </button>
      </form>
      {error && (
        <p role="alert" className="mt-3 text-brick">
          {error.message}
        </p>
      )}
      {data && (
        <ol className="mt-3 min-h-0 flex-1 overflow-y-auto" aria-label="Versions">
          <li className="border-b border-line py-2">
            <p className="font-semibold">Now</p>
            <Changes changes={data.now.changes} windows={data.now.windows} none="As the newest version" />
          </li>
          {data.versions.map((version, index) => (
            <VersionItem key={version.id} version={version} isFirst={index === data.versions.length - 1} />
          ))}
        </ol>
      )}
      {data?.versions.length === 0 && (
        <p className="mt-2 text-soft">
          No version yet. One is kept by itself every ten minutes while you work; name those that matter.
        </p>
      )}
      <Dialog.Close className="btn mt-3 self-start">Close</Dialog.Close>
    </>
  );
}

function VersionItem({ version, isFirst }: { version: Version; isFirst: boolean }) {
  const workbench = useWorkbench();
  const act = useAction();
  const [isNaming, setNaming] = useState(false);
  const { info, editor } = workbench;
  const label = tellVersion(version);
  const goBack = (): void => {
    act(async () => {
      const isChanged = await workbench.returnTo({ id: version.id, label, isTrial: false });
      helpStore.set({ isHistoryOpen: false });
      if (isChanged) toastUndo(editor, `Everything is as in ${label}`);
      else toast(`Everything is as in ${label} already`);
    });
  };
  return (
    <li className="flex items-start gap-1 border-b border-line py-2">
      <div className="min-w-0 flex-1">
        {isNaming ? (
          <NameEditor
            name={version.name ?? ''}
            label="Name of the version"
            onDone={(name) => {
              setNaming(false);
              if (name) act(() => api.nameVersion(info.id, version.id, name));
            }}
          />
        ) : (
          <p className="truncate">
            <span className="font-semibold">{version.name ?? 'Kept by itself'}</span>
            <span className="num ml-2 text-xs text-soft">{tellTime(version.createdAt)}</span>
          </p>
        )}
        <Changes
          changes={version.changes}
          windows={version.windows}
          none={isFirst ? 'Nothing authored yet' : 'As the version before'}
        />
      </div>
      <a
        className="btn btn-quiet !px-1.5"
        href={addressVersion(info.id, { id: version.id, label, isTrial: false })}
        aria-label={`Look at ${label}`}
        title="Look at it"
      >
        <Eye size={14} />
      </a>
      <button type="button" className="btn !px-2 !py-0.5" aria-label={`Return to ${label}`} onClick={goBack}>
        <Undo2 size={13} /> Return
      </button>
      <button
        type="button"
        className="btn btn-quiet !px-1.5"
        aria-label={`Name ${label}`}
        title="Name it: it is then kept for good"
        onClick={() => setNaming(true)}
      >
        <Pencil size={13} />
      </button>
      <button
        type="button"
        className="btn btn-quiet !px-1.5"
        aria-label={`Remove ${label}`}
        title="Remove this version"
        onClick={() => act(() => api.removeVersion(info.id, version.id))}
      >
        <Trash2 size={13} />
      </button>
    </li>
  );
}

function Changes({ changes, windows, none }: { changes: string[]; windows: string[]; none: string }) {
  return (
    <p className="text-xs text-soft">
      {changes.length > 0 ? changes.join(' · ') : none}
      {changes.length > 0 && tellWindows(windows)}
    </p>
  );
}

function tellWindows(windows: readonly string[]): string {
  const others = windows.filter((one) => one !== getWindowId()).length;
  const isOurs = windows.length > others;
  if (others === 0) return isOurs ? ', in this window' : '';
  const told = others === 1 ? 'another window' : `${others} other windows`;
  return isOurs ? `, in this and ${told}` : `, in ${told}`;
}
