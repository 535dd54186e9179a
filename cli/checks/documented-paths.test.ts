import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect } from 'chai';
import { findProjectRoot } from '../../server/project-root.ts';
import { checkDocumentedPaths } from './documented-paths.ts';

describe('guides to the project', () => {
  it('name nothing that is not there', () => {
    expect(checkDocumentedPaths(findProjectRoot())).deep.equal([]);
  });

  it('are told of when they do', () => {
    const root = mkdtempSync(join(tmpdir(), 'cobweb-guides-'));
    mkdirSync(join(root, 'docs'));
    mkdirSync(join(root, 'core'));
    writeFileSync(join(root, 'core', 'x.ts'), '');
    writeFileSync(
      join(root, 'docs', 'guide.md'),
      'See `core/x.ts`, `core/gone.ts`, `core/`, `npm run`, [one](../core/x.ts), [two](lost.md#part), [web](https://a.b).',
    );
    expect(checkDocumentedPaths(root, ['docs/guide.md'])).deep.equal([
      'docs/guide.md names core/gone.ts, which is not there.',
      'docs/guide.md names docs/lost.md, which is not there.',
    ]);
    rmSync(root, { recursive: true });
  });
});
