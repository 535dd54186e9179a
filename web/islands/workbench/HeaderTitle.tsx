import { History as HistoryIcon, Keyboard, Redo2, Undo2 } from 'lucide-react';
import { useDocument, useSaveState, useWorkbench } from '../../state/workbench.ts';
import { Logo } from '../parts/Logo.tsx';
import { ThemeButton } from '../parts/ThemeButton.tsx';
import { helpStore } from './commands/help-commands.ts';

/** Where we are, whether it is saved, and a step back or forward. */
export function HeaderTitle() {
  const { info, version } = useWorkbench();
  const editor = useDocument();
  return (
    <div className="flex min-w-0 items-center gap-3">
      <Logo />
      <span
        className="ml-1 min-w-0 max-w-[26vw] truncate text-soft max-[1129px]:max-w-[96px]"
        title={`${info.project.name} / ${info.name}`}
      >
        <span className="hidden min-[1500px]:inline">
          {info.project.name} <span className="text-line">/</span>{' '}
        </span>
        <span className="text-ink">{info.name}</span>
      </span>
      <span className="flex">
        <button
          type="button"
          className="btn btn-quiet !px-1"
          disabled={!editor.undoLabel}
          title={editor.undoLabel ? `Undo: ${editor.undoLabel}` : 'Nothing to undo'}
          aria-label="Undo"
          onClick={() => editor.undo()}
        >
          <Undo2 size={15} />
        </button>
        <button
          type="button"
          className="btn btn-quiet !px-1"
          disabled={!editor.redoLabel}
          title={editor.redoLabel ? `Redo: ${editor.redoLabel}` : 'Nothing to redo'}
          aria-label="Redo"
          onClick={() => editor.redo()}
        >
          <Redo2 size={15} />
        </button>
        <button
          type="button"
          className="btn btn-quiet !px-1"
          title="Versions: keep, look at, return to"
          aria-label="Versions"
          disabled={version !== null}
          onClick={() => helpStore.set({ isHistoryOpen: true })}
        >
          <HistoryIcon size={15} />
        </button>
        <button
          type="button"
          className="btn btn-quiet !px-1"
          title="All commands (Ctrl K); keys (?)"
          aria-label="All commands"
          onClick={() => helpStore.set({ isPaletteOpen: true })}
        >
          <Keyboard size={15} />
        </button>
        <ThemeButton className="btn btn-quiet !px-1" />
      </span>
      <SaveBadge />
    </div>
  );
}

function SaveBadge() {
  const state = useSaveState();
  const texts = {
    saved: 'saved',
    unsaved: 'saving…',
    saving: 'saving…',
    failed: 'not saved',
    conflict: 'not saved',
  };
  const isBad = state.kind === 'failed' || state.kind === 'conflict';
  return (
    <span
      role="status"
      data-save-state={state.kind}
      className={`shrink-0 text-xs ${isBad ? 'font-semibold text-brick' : 'text-soft'}`}
      title={state.kind === 'failed' ? `${state.message} Trying again.` : undefined}
    >
      {texts[state.kind]}
    </span>
  );
}
