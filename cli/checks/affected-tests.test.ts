import { expect } from 'chai';
import { findProjectRoot } from '../../server/project-root.ts';
import { findAffectedTests, listChangedFiles } from './affected-tests.ts';
import { findUndocumented } from './docstrings.ts';

describe('tests that a change can break', () => {
  const root = findProjectRoot();
  const find = (...changed: string[]): string[] => findAffectedTests(root, changed);

  it('are those that import what changed, whatever lies between', () => {
    const ofSolver = find('core/cloth/cloth-solver.ts');
    expect(ofSolver).include.members([
      'core/cloth/closed-forms.test.ts',
      'core/trials/trials.test.ts',
      'web/workers/preview-run.test.ts',
    ]);
    expect(ofSolver).not.include('core/mesh/mesh.test.ts');
    // In the browser it is all one.
    expect(ofSolver).include('e2e/reach.e2e.ts');
  });

  it('are the test itself, nothing for a text, and all when packages change', () => {
    expect(find('core/math/trigonometry.test.ts')).deep.equal(['core/math/trigonometry.test.ts']);
    expect(find('docs/glossary.md')).deep.equal([]);
    expect(find('package.json').length).above(90);
  });

  it('are told from a revision that is there', () => {
    expect(listChangedFiles(root, 'HEAD')).an('array');
    expect(() => listChangedFiles(root, 'no-such-revision')).throw('no-such-revision');
  });
});

describe('what the core exports', () => {
  it('says what it does', () => {
    const missing = findUndocumented(findProjectRoot()).map(
      ({ file, line, name }) => `${file}:${line} ${name}`,
    );
    expect(missing).deep.equal([]);
  });
});
