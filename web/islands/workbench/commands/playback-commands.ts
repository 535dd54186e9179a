import type { Command, CommandContext } from './command.ts';

const needsClip = ({ workbench }: CommandContext): string | null =>
  workbench.session.state.clip === null ? 'It needs a clip; this is the bind pose' : null;

const FIXED: readonly Command[] = [
  {
    id: 'play',
    label: 'Play or pause',
    group: 'Playback',
    keys: ['Space'],
    whyNot: needsClip,
    run: ({ workbench }) => workbench.playback.setPlaying(!workbench.session.state.isPlaying),
  },
  {
    id: 'frame-back',
    label: 'One frame back',
    group: 'Playback',
    keys: [','],
    repeats: true,
    whyNot: needsClip,
    run: ({ workbench }) => workbench.playback.stepFrame(-1),
  },
  {
    id: 'frame-on',
    label: 'One frame on',
    group: 'Playback',
    keys: ['.'],
    repeats: true,
    whyNot: needsClip,
    run: ({ workbench }) => workbench.playback.stepFrame(1),
  },
  {
    id: 'simulate-frame',
    label: 'Simulate one frame',
    group: 'Playback',
    keys: ['n'],
    repeats: true,
    run: ({ workbench }) => workbench.playback.stepSimulation(),
  },
  {
    id: 'stop-time',
    label: 'Stop or start time',
    group: 'Playback',
    keys: ['p'],
    run: ({ workbench }) => workbench.playback.setPace(workbench.session.state.pace === 0 ? 1 : 0),
  },
  {
    id: 'bind-pose',
    label: 'Bind pose',
    group: 'Playback',
    keys: ['b'],
    run: ({ workbench }) => workbench.standInBind(),
  },
];

export function listPlaybackCommands({ workbench }: CommandContext): Command[] {
  const clips = workbench.editor.character.clips.map(
    ({ name }, index): Command => ({
      id: `clip-${index}`,
      label: `Play clip ${name}`,
      group: 'Playback',
      run: () => workbench.setClip(index),
    }),
  );
  return [...FIXED, ...clips];
}
