import { readFileSync } from 'node:fs';
import { join, relative } from 'node:path';
import ts from 'typescript';
import { listSources } from './dependency-directions.ts';

/** Where what is read on the screen or in a terminal stands. */
const FOLDERS = ['web', 'core', 'formats', 'server', 'cli'] as const;
/** What is written there for no reader of the interface: tests, what they are made of, checks of the source, drawings. */
const SILENT =
  /\.test\.ts$|\/test-[^/]+$|\/assembly\/|kernel-binary|cli\/checks\/|cli\/bench\/|\/examples\/|server\/migrations\//;
/** Attributes and properties whose text is for no reader. */
const UNREAD = new Set([
  'className',
  'class',
  'd',
  'style',
  'viewBox',
  'href',
  'src',
  'kind',
  'type',
  'key',
  'value',
  'path',
]);
/** Words with a space between them, or one that begins with a capital: what is neither is a name in the code. */
const READABLE = /[A-Za-z%]\S* \S|^[A-Z][a-z]{2,}[a-z ]*[.…]?$/;
const CODE =
  /^(?![A-Z][a-z]+$)[\w./@:-]+$|^(select|insert|update|alter|create|drop|with) |[{};]\s*$|=>|^\.|^--|var\(--|rgb|px\b.*px\b|!important|data-/i;

/** A name of a style. */
const STYLE =
  /^!?[a-z-]+(-|:|\[)\S*$|^(num|card|btn|field|heading|flex|grid|relative|absolute|block|truncate|underline)$/;

/** The texts of the interface by file, in the order of the source; changing parts are shown as “…”. */
export function listWording(root: string): Map<string, string[]> {
  const found = new Map<string, string[]>();
  for (const folder of FOLDERS)
    for (const file of listSources(join(root, folder)).sort()) {
      const name = relative(root, file);
      if (SILENT.test(name)) continue;
      const source = ts.createSourceFile(file, readFileSync(file, 'utf8'), ts.ScriptTarget.Latest, true);
      const texts = [...new Set(collect(source))];
      if (texts.length > 0) found.set(name, texts);
    }
  return found;
}

/** All of them as one page. */
export function writeWording(root: string): string {
  const parts = [...listWording(root)].map(
    ([file, texts]) => `## ${file}\n\n${texts.map((text) => `- ${text}`).join('\n')}\n`,
  );
  return `# What the interface says\n\nAll texts in the source that a reader may see, to be read in one go. Made by \`COBWEB_WORDING=write ./cobweb test cli --grep wording\`.\n\n${parts.join('\n')}`;
}

function collect(node: ts.Node): string[] {
  if (ts.isImportDeclaration(node) || ts.isExportDeclaration(node) || ts.isTypeNode(node)) return [];
  if (isUnread(node)) return [];
  if (ts.isJsxElement(node)) {
    const text = readChildren(node.children);
    const inner = node.children.flatMap((child) => (ts.isJsxText(child) ? [] : collect(child)));
    return [...collect(node.openingElement), ...keep(text), ...inner];
  }
  if (ts.isStringLiteralLike(node)) return keep(node.text);
  if (ts.isTemplateExpression(node)) {
    const text = node.head.text + node.templateSpans.map(({ literal }) => `…${literal.text}`).join('');
    return [...keep(text), ...node.templateSpans.flatMap(({ expression }) => collect(expression))];
  }
  const found: string[] = [];
  node.forEachChild((child) => {
    found.push(...collect(child));
  });
  return found;
}

/** What an element says, with “…” for what is put in. */
function readChildren(children: readonly ts.JsxChild[]): string {
  return children
    .map((child) => {
      if (ts.isJsxText(child)) return child.text;
      if (ts.isJsxExpression(child) && child.expression && ts.isStringLiteralLike(child.expression))
        return child.expression.text;
      return ts.isJsxExpression(child) && !child.expression ? '' : '…';
    })
    .join('');
}

function isUnread(node: ts.Node): boolean {
  if (ts.isJsxAttribute(node) || ts.isPropertyAssignment(node)) return UNREAD.has(node.name.getText());
  return ts.isElementAccessExpression(node);
}

function keep(text: string): string[] {
  const line = text.replace(/\s+/g, ' ').trim();
  const isOfNames = line.split(' ').every((word) => STYLE.test(word));
  return READABLE.test(line) && !CODE.test(line) && !isOfNames ? [line] : [];
}
