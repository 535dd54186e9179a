import { QueryClient, QueryClientProvider, useMutation, useQuery } from '@tanstack/react-query';
import { BookOpen, FolderPlus, Gauge, ListChecks } from 'lucide-react';
import { useState } from 'react';
import { Toaster, toast } from 'sonner';
import type { CharacterSummary } from '../../../core/document/index.ts';
import { api, type ProjectCard, toErrorBody } from '../../state/api.ts';
import { Logo } from '../parts/Logo.tsx';
import { NameEditor } from '../parts/NameEditor.tsx';
import { ThemeButton } from '../parts/ThemeButton.tsx';
import { TOASTS } from '../parts/toasts.ts';
import { ProjectSection } from './ProjectSection.tsx';

const PROJECTS = ['projects'];
const client = new QueryClient({ defaultOptions: { queries: { retry: false } } });

/** All projects with their characters. */
export function Library() {
  return (
    <QueryClientProvider client={client}>
      <Projects />
    </QueryClientProvider>
  );
}

function Projects() {
  const { data, error, refetch } = useQuery({ queryKey: PROJECTS, queryFn: api.listProjects });
  const projects = data?.projects;
  const [isNaming, setIsNaming] = useState(false);
  /** Something done on the server; then what is true now is shown, and a failure is told. */
  const { mutateAsync } = useMutation({
    mutationFn: (action: () => Promise<unknown>) => action(),
    onError: (failure: Error) => toast.error(failure.message),
    onSettled: () => client.invalidateQueries({ queryKey: PROJECTS }),
  });
  const act = (action: () => Promise<unknown>): Promise<unknown> =>
    mutateAsync(action).catch(() => undefined);

  const deleteProject = (project: ProjectCard): void => {
    void act(async () => {
      await api.editProject(project.id, { isDeleted: true });
      offerUndo(`Deleted the project ${project.name}`, () =>
        act(() => api.editProject(project.id, { isDeleted: false })),
      );
    });
  };

  const deleteCharacter = (character: CharacterSummary): void => {
    void act(async () => {
      await api.editCharacter(character.id, { isDeleted: true });
      offerUndo(`Deleted ${character.name}`, () =>
        act(() => api.editCharacter(character.id, { isDeleted: false })),
      );
    });
  };

  return (
    <div className="mx-auto min-h-full max-w-[1160px] px-6 pb-16">
      <header className="flex h-14 items-center justify-between">
        <Logo />
        {isNaming ? (
          <div className="w-64">
            <NameEditor
              name=""
              label="Name of the new project"
              onDone={(name) => {
                setIsNaming(false);
                if (name) void act(() => api.createProject(name));
              }}
            />
          </div>
        ) : (
          <span className="flex gap-2">
            <ThemeButton />
            <a className="btn btn-quiet" href="/manual">
              <BookOpen size={15} /> Manual
            </a>
            <a className="btn" href="/targets">
              <Gauge size={15} /> Targets
            </a>
            <a className="btn" href="/tasks">
              <ListChecks size={15} /> Tasks
            </a>
            <button type="button" className="btn" onClick={() => setIsNaming(true)}>
              <FolderPlus size={15} /> New project
            </button>
          </span>
        )}
      </header>
      {error && (
        <div role="alert" className="card mt-4 p-3">
          <span className="font-semibold text-brick">The projects could not be loaded.</span>{' '}
          {toErrorBody(error).message}
          <button type="button" className="btn ml-3" onClick={() => void refetch()}>
            Try again
          </button>
        </div>
      )}
      {projects?.length === 0 && (
        <div className="card mt-10 p-10 text-center">
          <h1 className="text-[20px] font-semibold">No project yet</h1>
          <p className="mt-1 text-soft">Make one, then drop a character into it.</p>
          <button type="button" className="btn btn-main mt-4" onClick={() => setIsNaming(true)}>
            New project
          </button>
        </div>
      )}
      {projects?.map((project) => (
        <ProjectSection
          key={project.id}
          project={project}
          onRename={(name) => void act(() => api.editProject(project.id, { name }))}
          onDelete={() => deleteProject(project)}
          onRenameCharacter={(character, name) => void act(() => api.editCharacter(character.id, { name }))}
          onDuplicateCharacter={(character) => void act(() => api.duplicateCharacter(character.id))}
          onDeleteCharacter={deleteCharacter}
          onBroughtIn={(id) => {
            location.href = `/characters/${id}`;
          }}
        />
      ))}
      <Toaster position="bottom-center" toastOptions={TOASTS} />
    </div>
  );
}

function offerUndo(sentence: string, undo: () => unknown): void {
  toast(sentence, { action: { label: 'Undo', onClick: undo }, duration: 10_000 });
}
