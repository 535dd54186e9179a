import type { APIRoute } from 'astro';
import { listSections } from '../../manual/list-sections.ts';
import { findManualFile, MANUAL_PAGES } from '../../manual/manual-sources.ts';
import { readTitle, toSlug } from '../../manual/order-pages.ts';
import { renderPage } from '../../manual/render-page.ts';

export const prerender = false;

/** Every part of the manual, for the search in the page. */
export const GET: APIRoute = async () => {
  const sections = await Promise.all(
    MANUAL_PAGES.map(async (source) =>
      listSections(readTitle(source), toSlug(source.path), await renderPage(source, findManualFile)),
    ),
  );
  return Response.json(sections.flat());
};
