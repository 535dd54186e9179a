import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { expect } from 'chai';
import { findProjectRoot } from '../../server/project-root.ts';
import { checkDependencies, findCycles, listImports } from './dependency-directions.ts';

describe('dependency directions', () => {
  it('hold in this project', () => {
    expect(checkDependencies(findProjectRoot())).deep.equal([]);
  });

  it('are told when broken, with the file and what it may import', () => {
    const root = mkdtempSync(join(tmpdir(), 'cobweb-directions-'));
    const write = (path: string, text: string): void => {
      mkdirSync(dirname(join(root, path)), { recursive: true });
      writeFileSync(join(root, path), text);
    };
    try {
      write('core/mesh/a.ts', "import { b } from '../rig/b.ts';\nimport fs from 'node:fs';");
      write('core/rig/b.ts', "export type { C } from '../math/c.ts';");
      write('core/math/c.ts', 'export type C = 1;');
      write('web/islands/x.tsx', "import { s } from '../../server/s.ts';");
      write('server/s.ts', '');
      const faults = checkDependencies(root);
      expect(faults).to.have.length(3);
      expect(faults[0]).contain('core/mesh/a.ts imports core/rig/b.ts; core/mesh may import core/math.');
      expect(faults[1]).contain('node:fs');
      expect(faults[2]).contain('web/islands/x.tsx imports server/s.ts');
    } finally {
      rmSync(root, { recursive: true });
    }
  });

  it('finds imports in all their forms, and cycles', () => {
    const source =
      "import type { A } from './a.ts';\nexport {\n  B,\n} from './b.ts';\nconst c = await import('./c.ts');\n// import './no.ts'";
    expect(listImports(source)).deep.equal(['./a.ts', './b.ts', './c.ts']);
    expect(
      findCycles(
        new Map([
          ['p', ['q']],
          ['q', ['r']],
          ['r', ['q']],
        ]),
      ),
    ).deep.equal(['Imports go round: q → r → q.']);
  });
});
