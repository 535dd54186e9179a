import { existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect } from 'chai';
import { findProjectRoot } from '../../server/project-root.ts';
import { listWording, writeWording } from './list-wording.ts';

const PAGE = join(findProjectRoot(), 'docs', 'wording.md');

describe('the wording of the interface', () => {
  it('stands in one page, as it is in the source', () => {
    const now = writeWording(findProjectRoot());
    if (process.env.COBWEB_WORDING === 'write') writeFileSync(PAGE, now);
    const told = existsSync(PAGE) ? readFileSync(PAGE, 'utf8') : '';
    const known = new Set(told.split('\n'));
    const isNew = now.split('\n').filter((line) => !known.has(line));
    // A page of thousands of lines is not compared line by line in the message.
    expect(
      [isNew, told === now],
      'make it anew: COBWEB_WORDING=write ./cobweb test cli --grep wording',
    ).deep.equal([[], true]);
  });

  it('says vertex where a vertex is meant, and nothing of what was called otherwise before', () => {
    const old =
      /\b(held|picked|seam|welded) points?\b|\bpoints (held|picked|changed|differ|of (this|the) (mesh|garment))|wished|\bunworn\b|Take it over|Mend\b|let go\b/;
    const found = [...listWording(findProjectRoot())].flatMap(([file, texts]) =>
      texts.filter((text) => old.test(text)).map((text) => `${file}: ${text}`),
    );
    expect(found).deep.equal([]);
  });

  it('is found in labels, titles, messages and what an element says around what is put in', () => {
    const root = mkdtempSync(join(tmpdir(), 'cobweb-wording-'));
    try {
      for (const folder of ['web', 'core', 'formats', 'server', 'cli']) mkdirSync(join(root, folder));
      writeFileSync(
        join(root, 'web', 'card.tsx'),
        `export const Card = ({ n }: { n: number }) => (
          <p className="mt-2 text-xs" title="How many there are">
            {n} vertices <b>held</b> here
            <Toggle label="Character" kind="Never read" />
          </p>
        );`,
      );
      writeFileSync(
        join(root, 'core', 'check.ts'),
        `const key = 'maxDistance'; throw new Error(\`There is no "\${key}" here.\`); // Not this comment`,
      );
      expect([...listWording(root)]).deep.equal([
        ['web/card.tsx', ['How many there are', '… vertices … here …', 'Character']],
        ['core/check.ts', ['There is no "…" here.']],
      ]);
    } finally {
      rmSync(root, { recursive: true });
    }
  });
});
