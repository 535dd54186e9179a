import { readFileSync } from 'node:fs';
import { join, relative } from 'node:path';
import ts from 'typescript';
import { listSources } from './dependency-directions.ts';

export interface Undocumented {
  file: string;
  line: number;
  name: string;
}

/** Exported functions and classes of the core without a docstring; tests and their helpers apart. */
export function findUndocumented(root: string, folder = 'core'): Undocumented[] {
  return listSources(join(root, folder))
    .filter((file) => !/\.test\.ts$|\/test-|\/assembly\/|kernel-binary/.test(file))
    .flatMap((file) => {
      const source = ts.createSourceFile(file, readFileSync(file, 'utf8'), ts.ScriptTarget.Latest, true);
      return source.statements.flatMap((statement): Undocumented[] => {
        if (!ts.isFunctionDeclaration(statement) && !ts.isClassDeclaration(statement)) return [];
        const isExported = statement.modifiers?.some(({ kind }) => kind === ts.SyntaxKind.ExportKeyword);
        if (!isExported || ts.getJSDocCommentsAndTags(statement).length > 0) return [];
        const { line } = source.getLineAndCharacterOfPosition(statement.getStart());
        return [{ file: relative(root, file), line: line + 1, name: statement.name?.text ?? 'default' }];
      });
    });
}
