import { Pencil, Trash2, UsersRound } from 'lucide-react';
import { useState } from 'react';
import type { CharacterSummary } from '../../../core/document/index.ts';
import type { ProjectCard } from '../../state/api.ts';
import { NameEditor } from '../parts/NameEditor.tsx';
import { CharacterCard } from './CharacterCard.tsx';
import { DropCard } from './DropCard.tsx';

export interface ProjectSectionProps {
  project: ProjectCard;
  onRename(name: string): void;
  onDelete(): void;
  onRenameCharacter(character: CharacterSummary, name: string): void;
  onDuplicateCharacter(character: CharacterSummary): void;
  onDeleteCharacter(character: CharacterSummary): void;
  onBroughtIn(characterId: string): void;
}

/** One project: its name, its characters, and a place to drop another. */
export function ProjectSection(props: ProjectSectionProps) {
  const { project } = props;
  const [isNaming, setIsNaming] = useState(false);
  const count = project.characters.length;
  return (
    <section className="mt-8" aria-label={`Project ${project.name}`}>
      <div className="flex h-9 items-center gap-2 border-b border-line">
        {isNaming ? (
          <div className="w-72">
            <NameEditor
              name={project.name}
              label="Name of the project"
              onDone={(name) => {
                setIsNaming(false);
                if (name) props.onRename(name);
              }}
            />
          </div>
        ) : (
          <h1 className="text-[20px] font-semibold tracking-tight">{project.name}</h1>
        )}
        <span className="ml-1 text-soft">
          {count} {count === 1 ? 'character' : 'characters'}
        </span>
        <span className="flex-1" />
        <a
          className="btn btn-quiet"
          href={`/projects/${project.id}/crowd`}
          title="Crowd: how many characters fit at which distance"
          aria-label={`Crowd of ${project.name}`}
        >
          <UsersRound size={14} /> Crowd
        </a>
        <button
          type="button"
          className="btn btn-quiet"
          title="Rename project"
          aria-label={`Rename project ${project.name}`}
          onClick={() => setIsNaming(true)}
        >
          <Pencil size={14} />
        </button>
        <button
          type="button"
          className="btn btn-quiet"
          title="Delete project"
          aria-label={`Delete project ${project.name}`}
          onClick={props.onDelete}
        >
          <Trash2 size={14} />
        </button>
      </div>
      <div className="mt-4 grid grid-cols-[repeat(auto-fill,minmax(250px,1fr))] gap-4">
        {project.characters.map((character) => (
          <CharacterCard
            key={character.id}
            character={character}
            onRename={(name) => props.onRenameCharacter(character, name)}
            onDuplicate={() => props.onDuplicateCharacter(character)}
            onDelete={() => props.onDeleteCharacter(character)}
          />
        ))}
        <DropCard projectId={project.id} projectName={project.name} onBroughtIn={props.onBroughtIn} />
      </div>
    </section>
  );
}
