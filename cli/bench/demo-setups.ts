import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { prepareCharacter } from '../../core/prepare/index.ts';
import { type RunSetup, setUpRun } from '../../core/run/index.ts';
import { createLamplighterDocument, createPilotDocument } from '../../demo/index.ts';
import { readCharacter } from '../../formats/index.ts';
import { getFerryPilotFile, getLamplighterFile } from '../../server/seed-demo.ts';
import { getDataFolder } from '../environment.ts';

const CHARACTERS = [
  { name: 'Ferry pilot', getFile: getFerryPilotFile, author: createPilotDocument },
  { name: 'Lamplighter', getFile: getLamplighterFile, author: createLamplighterDocument },
];

/** The demo characters as they are authored, ready to run. */
export async function setUpDemo(): Promise<{ name: string; setup: RunSetup }[]> {
  return Promise.all(
    CHARACTERS.map(async ({ name, getFile, author }) => {
      const bytes = readFileSync(await getFile(join(getDataFolder(), 'cache')));
      const { character: source } = await readCharacter([{ name: `${name}.glb`, bytes }]);
      const document = author(source);
      const { character } = prepareCharacter(source, document);
      return { name, setup: setUpRun(document, character) };
    }),
  );
}
