import { Copy, Pencil, Trash2 } from 'lucide-react';
import { useState } from 'react';
import type { CharacterSummary } from '../../../core/document/index.ts';
import { NameEditor } from '../parts/NameEditor.tsx';

export interface CharacterCardProps {
  character: CharacterSummary;
  onRename(name: string): void;
  onDuplicate(): void;
  onDelete(): void;
}

/** A character with its picture and how far the work on it is. */
export function CharacterCard({ character, onRename, onDuplicate, onDelete }: CharacterCardProps) {
  const [isNaming, setIsNaming] = useState(false);
  const state = describeState(character);
  return (
    <article className="card overflow-hidden" aria-label={character.name}>
      <a
        href={`/characters/${character.id}`}
        className="stage-ground block"
        aria-label={`Open ${character.name}`}
      >
        <img
          src={`/api/blobs/${character.thumbnailHash}?type=png`}
          alt={`${character.name} in bind pose`}
          className="mx-auto h-[250px] object-contain py-2"
        />
      </a>
      <div className="px-3 pt-2.5 pb-2">
        <div className="flex min-h-7 items-center gap-2">
          {isNaming ? (
            <NameEditor
              name={character.name}
              label="Name of the character"
              onDone={(name) => {
                setIsNaming(false);
                if (name) onRename(name);
              }}
            />
          ) : (
            <a
              href={`/characters/${character.id}`}
              className="min-w-0 flex-1 truncate text-[15px] font-semibold"
            >
              {character.name}
            </a>
          )}
          <span className={`shrink-0 rounded-full border px-2 text-xs leading-[20px] ${state.tone}`}>
            {state.label}
          </span>
        </div>
        <p className="mt-0.5 truncate text-soft">
          {character.garments.length > 0 ? character.garments.join(', ') : 'no garments yet'}
        </p>
        <div className="mt-1.5 flex items-center">
          <p className="num flex-1 text-xs text-soft">
            {character.clips} clips · {character.bodies} bodies
          </p>
          <button
            type="button"
            className="btn btn-quiet !px-1.5"
            title="Rename"
            aria-label={`Rename ${character.name}`}
            onClick={() => setIsNaming(true)}
          >
            <Pencil size={14} />
          </button>
          <button
            type="button"
            className="btn btn-quiet !px-1.5"
            title="Duplicate"
            aria-label={`Duplicate ${character.name}`}
            onClick={onDuplicate}
          >
            <Copy size={14} />
          </button>
          <button
            type="button"
            className="btn btn-quiet !px-1.5"
            title="Delete"
            aria-label={`Delete ${character.name}`}
            onClick={onDelete}
          >
            <Trash2 size={14} />
          </button>
        </div>
      </div>
    </article>
  );
}

function describeState(character: CharacterSummary): { label: string; tone: string } {
  const { garments, shippedAt, isShippedAsIs } = character;
  if (isShippedAsIs) return { label: 'shipped', tone: 'border-moss text-moss' };
  if (shippedAt) return { label: 'changed since shipped', tone: 'border-marigold text-marigold-ink' };
  if (garments.length > 0) return { label: 'in work', tone: 'border-teal text-teal' };
  return { label: 'brought in', tone: 'border-line text-soft' };
}
