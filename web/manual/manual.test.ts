import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect } from 'chai';
import { listSections } from './list-sections.ts';
import { type ManualSource, orderPages, readTitle, toSlug } from './order-pages.ts';
import { renderPage, resolveAddress } from './render-page.ts';

const docs = join(import.meta.dirname, '..', '..', 'docs');

/** All pages, as the server finds them. */
function readPages(): ManualSource[] {
  const paths = [
    'glossary.md',
    ...['manual', 'formats'].flatMap((folder) =>
      readdirSync(join(docs, folder))
        .filter((name) => name.endsWith('.md'))
        .map((name) => `${folder}/${name}`),
    ),
  ];
  return orderPages(paths.map((path) => ({ path, markdown: readFileSync(join(docs, path), 'utf8') })));
}

/** The address of a file that is there. */
const findFile = (path: string): string | undefined => {
  try {
    readFileSync(join(docs, path));
    return `/found/${path}`;
  } catch {
    return undefined;
  }
};

describe('the manual as the application serves it', () => {
  const pages = readPages();

  it('has every page, in the order in which its first page names them', () => {
    const slugs = pages.map(({ path }) => toSlug(path));
    expect(slugs.slice(0, 5)).deep.equal(['', 'intake', 'garment', 'sim-mesh', 'reach']);
    expect(slugs.slice(-3)).deep.equal(['words', 'formats/map-image', 'formats/shipment']);
    expect(new Set(slugs).size).equal(slugs.length);
    expect(readTitle(pages[4]!)).equal('Reach (key 4)');
  });

  it('leads with every link and picture to something that is there', async () => {
    const rendered = new Map(
      await Promise.all(
        pages.map(async (page) => [toSlug(page.path), await renderPage(page, findFile)] as const),
      ),
    );
    let followed = 0;
    for (const [slug, { html }] of rendered)
      for (const [, address] of html.matchAll(/(?:href|src)="([^"]*)"/g)) {
        if (address!.startsWith('/found/') || /^https?:/.test(address!)) continue;
        const [path, part] = address!.split('#') as [string, string | undefined];
        const target = path === '' ? slug : path.replace(/^\/manual\/?/, '');
        expect(rendered.has(target), `${slug} leads to ${address}`).equal(true);
        if (part)
          expect(
            rendered.get(target)!.headings.some((heading) => heading.slug === part),
            `${slug} leads to ${address}`,
          ).equal(true);
        followed++;
      }
    expect(followed).above(30);
  });

  it('is told from addresses that are not of it', () => {
    const resolve = (url: string): string => resolveAddress(url, 'manual/reach.md', findFile);
    expect(resolve('garment.md#two-sides')).equal('/manual/garment#two-sides');
    expect(resolve('README.md')).equal('/manual');
    expect(resolve('README.md#manual')).equal('/manual#manual');
    expect(resolve('../formats/shipment.md')).equal('/manual/formats/shipment');
    expect(resolve('#brush')).equal('#brush');
    expect(resolve('https://example.org/a.md')).equal('https://example.org/a.md');
    expect(resolve('../screenshots/reach.png')).equal('/found/screenshots/reach.png');
    expect(() => resolve('../screenshots/none.png')).throw(/manual\/reach\.md names .*none\.png/);
  });

  it('is searched by its parts, without marks, and word by word', async () => {
    const reach = pages.find(({ path }) => path === 'manual/reach.md')!;
    const sections = listSections('Reach', 'reach', await renderPage(reach, findFile));
    expect(sections.map(({ heading }) => heading)).include.members(['Brush', 'Ramp']);
    const brush = sections.find(({ heading }) => heading === 'Brush')!;
    expect(brush.address).equal('/manual/reach#brush');
    expect(brush.text).contain('Visible side only leaves alone what faces away.');
    expect(sections.every(({ text }) => !/<|&[a-z]+;/.test(text))).equal(true);
    const words = pages.find(({ path }) => path === 'glossary.md')!;
    const held = listSections('Words', 'words', await renderPage(words, findFile)).find(
      ({ heading }) => heading === 'held',
    )!;
    expect(held.text).equal('of a vertex: its max distance is 0');
  });
});
