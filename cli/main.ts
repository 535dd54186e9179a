import { findProjectRoot } from '../server/project-root.ts';
import { buildKernel } from './build-kernel.ts';

const [command, ...args] = process.argv.slice(2);
// Commands are loaded only then: they may import the kernel.
if (await buildKernel(findProjectRoot())) console.error('kernel: compiled');
const { printHelp, runCommand } = await import('./commands.ts');
if (!command || command === '--help' || command === '-h' || command === 'help') {
  printHelp();
} else {
  process.exitCode = await runCommand(command, args);
}
