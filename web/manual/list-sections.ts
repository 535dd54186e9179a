import type { RenderedPage } from './render-page.ts';

/** A part of a page below one heading, to be searched. */
export interface ManualSection {
  id: string;
  page: string;
  heading: string;
  address: string;
  text: string;
}

/**
 * The parts of a rendered page, each with its words as plain text; of the page of words each word by itself.
 * @param slug - Empty for the first page.
 */
export function listSections(title: string, slug: string, { html }: RenderedPage): ManualSection[] {
  if (slug === 'words') return listWords(title, html);
  const parts = html.split(/(?=<h[1-4] id=")/);
  return parts.flatMap((part) => {
    const head = /^<h[1-4] id="([^"]*)">(.*?)<\/h[1-4]>/s.exec(part);
    if (!head) return [];
    const address = `/manual${slug && `/${slug}`}#${head[1]}`;
    return [
      {
        id: address,
        page: title,
        heading: toText(head[2]!),
        address,
        text: toText(part.slice(head[0].length)),
      },
    ];
  });
}

function listWords(page: string, html: string): ManualSection[] {
  return [...html.matchAll(/<tr>\s*<td>(.*?)<\/td>\s*<td>(.*?)<\/td>/gs)].map(([, word, meaning]) => ({
    id: `/manual/words?${toText(word!)}`,
    page,
    heading: toText(word!),
    address: '/manual/words',
    text: toText(meaning!),
  }));
}

const ENTITIES: Record<string, string> = { amp: '&', lt: '<', gt: '>', quot: '"', '#39': "'", '#x27': "'" };

function toText(html: string): string {
  return html
    .replace(/<[^>]*>/g, ' ')
    .replace(/&(#?\w+);/g, (whole, name: string) => ENTITIES[name.toLowerCase()] ?? whole)
    .replace(/\s+/g, ' ')
    .trim();
}
