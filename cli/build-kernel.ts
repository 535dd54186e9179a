import { createHash } from 'node:crypto';
import { existsSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

const SOURCES = 'core/cloth/kernel/assembly';
const OUTPUT = 'core/cloth/kernel/kernel-binary.ts';

/** No traps for broken invariants, no allocator: the host lays out the memory. */
const FLAGS = [
  '-O3',
  '--converge',
  '--noAssert',
  '--runtime',
  'stub',
  '--importMemory',
  '--sharedMemory',
  '--maximumMemory',
  '65536',
  '--enable',
  'threads',
  '--enable',
  'simd',
  '--enable',
  'bulk-memory',
];

/**
 * Compiles the cloth kernel into a module that holds its bytes, when its sources or the compiler changed.
 * @returns True when it was compiled.
 */
export async function buildKernel(root: string): Promise<boolean> {
  const output = join(root, OUTPUT);
  const stamp = hashSources(root);
  if (existsSync(output) && readFileSync(output, 'utf8').includes(stamp)) return false;
  const { main } = (await import('assemblyscript/asc')).default;
  const folder = mkdtempSync(join(tmpdir(), 'cobweb-kernel-'));
  try {
    const binary = join(folder, 'kernel.wasm');
    const { error, stderr } = await main([join(SOURCES, 'index.ts'), ...FLAGS, '-o', binary], {
      baseDir: root,
      writeFile: (_name: string, contents: Uint8Array | string) => {
        writeFileSync(binary, contents);
      },
    } as never);
    if (error) throw new Error(`The cloth kernel could not be compiled:\n${stderr.toString()}`);
    const bytes = readFileSync(binary);
    writeFileSync(
      output,
      `// Made from ${SOURCES} by cli/build-kernel.ts; not kept in version control.\n` +
        `export const KERNEL_STAMP = '${stamp}';\n` +
        `/** Of the bytes, the one that says whether its memory is shared. */\n` +
        `export const KERNEL_MEMORY_FLAG = ${findMemoryFlag(bytes)};\n` +
        `export const KERNEL_BINARY =\n  '${bytes.toString('base64')}';\n`,
    );
    return true;
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

/**
 * Place of the flag of an imported memory, after its module, its name and its kind.
 * @throws {Error} When the module does not import its memory, as shared, just once.
 */
function findMemoryFlag(bytes: Buffer): number {
  const imported = Buffer.from('\u0003env\u0006memory\u0002\u0003', 'latin1');
  const at = bytes.indexOf(imported);
  if (at < 0 || bytes.indexOf(imported, at + 1) >= 0)
    throw new Error('The cloth kernel does not import its memory as it should.');
  return at + imported.length - 1;
}

function hashSources(root: string): string {
  const hash = createHash('sha256').update(FLAGS.join(' '));
  hash.update(readFileSync(join(root, 'node_modules/assemblyscript/package.json')));
  for (const name of readdirSync(join(root, SOURCES)).sort()) {
    hash.update(name).update(readFileSync(join(root, SOURCES, name)));
  }
  return hash.digest('hex').slice(0, 32);
}
