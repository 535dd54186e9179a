import { type ManualSource, orderPages } from './order-pages.ts';

const pages = import.meta.glob<string>('../../docs/manual/*.md', {
  query: '?raw',
  import: 'default',
  eager: true,
});
const formats = import.meta.glob<string>('../../docs/formats/*.md', {
  query: '?raw',
  import: 'default',
  eager: true,
});
const words = import.meta.glob<string>('../../docs/glossary.md', {
  query: '?raw',
  import: 'default',
  eager: true,
});
const files = import.meta.glob<string>(['../../docs/screenshots/*.png', '../../docs/formats/*.json'], {
  query: '?url',
  import: 'default',
  eager: true,
});

/** The pages of the manual in reading order, as they stand in the folder `docs`. */
export const MANUAL_PAGES: readonly ManualSource[] = orderPages(
  Object.entries({ ...pages, ...formats, ...words }).map(([path, markdown]) => ({
    path: path.replace('../../docs/', ''),
    markdown,
  })),
);

/** Address of a picture or a schema that a page names, by its path in `docs`; undefined for another. */
export function findManualFile(path: string): string | undefined {
  return files[`../../docs/${path}`];
}
