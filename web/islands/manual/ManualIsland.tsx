import { ArrowLeft, Search } from 'lucide-react';
import MiniSearch from 'minisearch';
import { useEffect, useState } from 'react';
import type { ManualSection } from '../../manual/list-sections.ts';
import { Logo } from '../parts/Logo.tsx';
import { ThemeButton } from '../parts/ThemeButton.tsx';

const MOST_FOUND = 8;
/** Letters shown of the place where a word was found. */
const EXCERPT = 110;

/** Head of the manual: the way back to the library, and a search over all of its pages. */
export function ManualIsland() {
  const [query, setQuery] = useState('');
  const [index, setIndex] = useState<MiniSearch<ManualSection> | null>(null);
  const [failure, setFailure] = useState<string | null>(null);
  const isAsked = query.trim().length > 0;
  useEffect(
    function readSections() {
      if (!isAsked) return;
      let isGone = false;
      loadIndex().then(
        (made) => !isGone && setIndex(made),
        (error: Error) => !isGone && setFailure(error.message),
      );
      return () => {
        isGone = true;
      };
    },
    [isAsked],
  );
  const found = isAsked && index ? index.search(query).slice(0, MOST_FOUND) : [];
  return (
    <div className="flex flex-col gap-3">
      <div className="flex items-center justify-between">
        <Logo />
        <span className="flex gap-1">
          <ThemeButton />
          <a className="btn" href="/" aria-label="Library" title="Library">
            <ArrowLeft size={15} />
          </a>
        </span>
      </div>
      <search className="relative">
        <label className="field flex items-center gap-2">
          <Search size={14} className="shrink-0 text-soft" />
          <input
            type="search"
            className="w-full min-w-0 bg-transparent outline-none"
            placeholder="Search the manual"
            aria-label="Search the manual"
            value={query}
            onChange={(event) => setQuery(event.target.value)}
          />
        </label>
        {isAsked && (
          <ol
            className="card absolute z-20 mt-1 w-[420px] overflow-hidden bg-surface shadow-lg"
            aria-label="Found in the manual"
          >
            {failure && <li className="px-3 py-2 text-brick">The manual could not be searched: {failure}</li>}
            {!failure && index && found.length === 0 && (
              <li className="px-3 py-2 text-soft">No page says “{query.trim()}”. Try fewer letters.</li>
            )}
            {found.map(({ id, page, heading, address, text, terms }) => (
              <li key={id as string} className="border-b border-line last:border-0">
                <a className="block px-3 py-1.5 hover:bg-teal-wash" href={address as string}>
                  <span className="font-semibold">{heading as string}</span>
                  {page !== heading && <span className="text-soft"> · {page as string}</span>}
                  <span className="block text-xs text-soft">{excerpt(text as string, terms)}</span>
                </a>
              </li>
            ))}
          </ol>
        )}
      </search>
    </div>
  );
}

let loaded: Promise<MiniSearch<ManualSection>> | null = null;

async function loadIndex(): Promise<MiniSearch<ManualSection>> {
  loaded ??= (async () => {
    const response = await fetch('/manual/sections.json');
    if (!response.ok) throw new Error(`the server answered ${response.status}. Load the page again.`);
    const index = new MiniSearch<ManualSection>({
      fields: ['heading', 'page', 'text'],
      storeFields: ['heading', 'page', 'text', 'address'],
      searchOptions: {
        prefix: true,
        fuzzy: 0.15,
        boost: { heading: 4, page: 2 },
        combineWith: 'AND',
        // What files look like inside is looked for less often than what to do.
        boostDocument: (id) => (String(id).startsWith('/manual/formats/') ? 0.3 : 1),
      },
    });
    index.addAll((await response.json()) as ManualSection[]);
    return index;
  })();
  loaded.catch(() => {
    loaded = null;
  });
  return loaded;
}

/** The words around the first one that was looked for. */
function excerpt(text: string, terms: readonly string[]): string {
  const lower = text.toLowerCase();
  const first = Math.min(...terms.map((term) => lower.indexOf(term)).filter((at) => at >= 0), text.length);
  const from = first >= text.length ? 0 : Math.max(0, lower.lastIndexOf(' ', Math.max(0, first - 30)));
  return `${from > 0 ? '… ' : ''}${text.slice(from, from + EXCERPT).trim()}…`;
}
