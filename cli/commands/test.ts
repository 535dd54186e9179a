import type { Command } from '../commands.ts';
export const command: Command = {
  summary: '',
  usage: '',
  async run() {
    return 0;
  },
};
