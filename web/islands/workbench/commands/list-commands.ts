import type { Command, CommandContext } from './command.ts';
import { editCommands } from './edit-commands.ts';
import { listGarmentCommands } from './garment-commands.ts';
import { helpCommands } from './help-commands.ts';
import { listPlaybackCommands } from './playback-commands.ts';
import { reachCommands } from './reach-commands.ts';
import { stageCommands } from './stage-commands.ts';
import { trialCommands } from './trial-commands.ts';
import { viewCommands } from './view-commands.ts';

/** Everything that can be done by key or from the palette, with what the character itself adds (clips, garments). */
export function listCommands(context: CommandContext): Command[] {
  return [
    ...stageCommands,
    ...editCommands,
    ...listPlaybackCommands(context),
    ...viewCommands,
    ...reachCommands,
    ...trialCommands,
    ...listGarmentCommands(context),
    ...helpCommands,
  ];
}
