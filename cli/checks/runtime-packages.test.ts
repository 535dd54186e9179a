import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect } from 'chai';
import { findProjectRoot } from '../../server/project-root.ts';
import { checkRuntimePackages } from './runtime-packages.ts';

describe('packages that the application needs', () => {
  it('are dependencies, all of them', () => {
    expect(checkRuntimePackages(findProjectRoot())).deep.equal([]);
  });

  it('are told of when they are for developers only; tests may use those', () => {
    const root = mkdtempSync(join(tmpdir(), 'cobweb-packages-'));
    mkdirSync(join(root, 'core'));
    writeFileSync(join(root, 'package.json'), JSON.stringify({ dependencies: { '@a/b': '1' } }));
    writeFileSync(
      join(root, 'core', 'x.ts'),
      "import '@a/b/deep';\nimport { c } from '@a/b/deep';\nimport { readFileSync } from 'node:fs';\nimport { d } from 'dev-only/part';\nimport './y.ts';",
    );
    writeFileSync(join(root, 'core', 'x.test.ts'), "import { d } from 'dev-only/part';");
    expect(checkRuntimePackages(root, ['core', 'missing'])).deep.equal([
      'core/x.ts imports dev-only, which is not among the dependencies in package.json.',
    ]);
    rmSync(root, { recursive: true });
  });
});
