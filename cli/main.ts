import { printHelp, runCommand } from './commands.ts';

const [command, ...args] = process.argv.slice(2);
if (!command || command === '--help' || command === '-h' || command === 'help') {
  printHelp();
} else {
  process.exitCode = await runCommand(command, args);
}
