import { createMarkdownProcessor } from '@astrojs/markdown-remark';
import { type ManualSource, toSlug } from './order-pages.ts';

/** What can carry an address in a page: the part of a syntax tree that is looked at here. */
interface Node {
  type: string;
  url?: string;
  children?: Node[];
}

export interface RenderedPage {
  html: string;
  headings: { depth: number; slug: string; text: string }[];
}

/**
 * A page of the manual as HTML, its links and pictures where the application serves them.
 * @param findFile - Address of a picture or schema by its path in `docs`.
 * @throws {Error} When the page names a file that is not there.
 */
export async function renderPage(
  source: ManualSource,
  findFile: (path: string) => string | undefined,
): Promise<RenderedPage> {
  const processor = await createMarkdownProcessor({
    syntaxHighlight: false,
    smartypants: false,
    remarkPlugins: [() => (tree: Node) => visit(tree, (url) => resolveAddress(url, source.path, findFile))],
  });
  const { code, metadata } = await processor.render(source.markdown);
  return { html: code, headings: metadata.headings };
}

function visit(node: Node, resolve: (url: string) => string): void {
  if (node.url !== undefined && ['link', 'image', 'definition'].includes(node.type))
    node.url = resolve(node.url);
  for (const child of node.children ?? []) visit(child, resolve);
}

/** @param url - As the page at `path` has it: a place in it, another page, a file of `docs`, or an address elsewhere. */
export function resolveAddress(
  url: string,
  path: string,
  findFile: (path: string) => string | undefined,
): string {
  if (/^[a-z]+:|^#/.test(url)) return url;
  const { pathname, hash } = new URL(url, `http://docs/${path}`);
  const named = pathname.slice(1);
  if (named.endsWith('.md')) return `/manual/${toSlug(named)}${hash}`.replace(/\/(?=#|$)/, '');
  const file = findFile(named);
  if (!file) throw new Error(`${path} names ${url}, which is not in the folder docs.`);
  return file;
}
