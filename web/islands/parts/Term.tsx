import { HoverCard } from 'radix-ui';
import { createContext, type ReactElement, useContext } from 'react';

/** Where the manual says more of what stands around here; null: nowhere. */
export const ManualPage = createContext<string | null>(null);

export interface TermProps {
  /** What it means, in a sentence or two. */
  meaning: string;
  /** Of the manual, where it is another than that of what is around. */
  page?: string;
  /** What the pointer rests on. */
  children: ReactElement;
}

/**
 * A word that tells what it means while the pointer rests on it, with the way into the manual. Whoever has no pointer must
 * be told by what the word belongs to: as the description of a field, say.
 */
export function Term({ meaning, page, children }: TermProps) {
  const around = useContext(ManualPage);
  const address = page ?? around;
  return (
    <HoverCard.Root openDelay={350} closeDelay={150}>
      <HoverCard.Trigger asChild>{children}</HoverCard.Trigger>
      <HoverCard.Portal>
        <HoverCard.Content
          className="card z-50 w-[250px] p-2.5 text-xs leading-snug shadow-lg"
          side="top"
          align="start"
          sideOffset={6}
          collisionPadding={10}
        >
          <p>{meaning}</p>
          {address && (
            <a
              className="mt-1 inline-block text-teal underline underline-offset-2"
              href={address}
              target="_blank"
              rel="noreferrer"
            >
              More in the manual
            </a>
          )}
        </HoverCard.Content>
      </HoverCard.Portal>
    </HoverCard.Root>
  );
}
