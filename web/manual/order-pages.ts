/** One page as it stands in the folder `docs`. */
export interface ManualSource {
  /** In `docs`, such as manual/reach.md. */
  path: string;
  markdown: string;
}

/** What the pages of the manual are called in addresses: manual/README.md is the first, formats/shipment.md "formats/shipment". */
export function toSlug(path: string): string {
  return path
    .replace(/\.md$/, '')
    .replace(/^manual\/(README$)?/, '')
    .replace(/^glossary$/, 'words');
}

/** Title of a page: its first heading. */
export function readTitle({ path, markdown }: ManualSource): string {
  return /^# (.*)$/m.exec(markdown)?.[1] ?? path;
}

/** Pages as the first one names them, then those that it does not name by their path. */
export function orderPages(pages: readonly ManualSource[]): ManualSource[] {
  const first = pages.find(({ path }) => toSlug(path) === '');
  const named = [...(first?.markdown ?? '').matchAll(/\]\(([a-z-]+\.md)\)/g)].map(
    ([, name]) => `manual/${name}`,
  );
  const rank = (page: ManualSource): number => {
    if (page === first) return -1;
    const at = named.indexOf(page.path);
    return at >= 0 ? at : named.length + (page.path.startsWith('formats/') ? 1 : 0);
  };
  return [...pages].sort((p, q) => rank(p) - rank(q) || (p.path < q.path ? -1 : 1));
}
