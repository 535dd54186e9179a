import { createHash } from 'node:crypto';
import {
  existsSync,
  mkdirSync,
  readdirSync,
  readFileSync,
  renameSync,
  statSync,
  writeFileSync,
} from 'node:fs';
import { join } from 'node:path';
import type { MikroORM } from '@mikro-orm/postgresql';
import type { AuthoredDocument } from '../core/document/index.ts';
import { type Character, unpackCharacter } from '../core/rig/index.ts';
import {
  createLamplighterDocument,
  createPilotDocument,
  writeFaultyDelivery,
  writeFerryPilot,
  writeLamplighter,
} from '../demo/index.ts';
import { readCharacter } from '../formats/index.ts';
import { Project } from './entities/entities.ts';
import type { IntakePool } from './intake/intake-pool.ts';
import { findProjectRoot } from './project-root.ts';
import { AuthoredService, toChanges } from './services/authored-service.ts';
import { CharacterService } from './services/character-service.ts';

/** Fixed, so that the demo is seeded once and stays deleted when somebody deletes it. */
const DEMO_PROJECT_ID = '5a17eed0-0000-4000-8000-000000000001';

/** Puts the demo project into a new database. @returns Whether it was put in now. */
export async function seedDemo(orm: MikroORM, pool: IntakePool, cacheFolder: string): Promise<boolean> {
  const em = orm.em.fork();
  if (await em.findOne(Project, { id: DEMO_PROJECT_ID })) return false;
  const bytes = readFileSync(await getFerryPilotFile(cacheFolder));
  await em
    .persist(em.create(Project, { id: DEMO_PROJECT_ID, name: 'Saltreed', createdAt: new Date() }))
    .flush();
  const characters = new CharacterService(em, pool);
  const bringIn = async (
    name: string,
    bytes: Uint8Array,
    author?: (character: Character) => AuthoredDocument,
  ): Promise<void> => {
    const { id } = await characters.bringIn(DEMO_PROJECT_ID, [{ name: `${name}.glb`, bytes }]);
    if (!author) return;
    const packed = await characters.readPacked(id);
    const document = author(unpackCharacter(new Uint8Array(packed).buffer));
    await new AuthoredService(em).write(id, toChanges(document));
  };
  await bringIn('Ferry pilot', bytes, createPilotDocument);
  await bringIn(
    'Lamplighter',
    readFileSync(await getLamplighterFile(cacheFolder)),
    createLamplighterDocument,
  );
  await bringIn('Ferry pilot, as delivered', readFileSync(await getFaultyDeliveryFile(cacheFolder)));
  return true;
}

/** Path of the demo GLB, made anew only when its generator changed. */
export function getFerryPilotFile(cacheFolder: string): Promise<string> {
  return getDemoFile(cacheFolder, 'ferry-pilot', writeFerryPilot);
}

/** The same for the delivery with typical faults. */
export function getFaultyDeliveryFile(cacheFolder: string): Promise<string> {
  return getDemoFile(cacheFolder, 'faulty-delivery', async () =>
    writeFaultyDelivery(await readPilot(cacheFolder)),
  );
}

/** The same for the Lamplighter. */
export function getLamplighterFile(cacheFolder: string): Promise<string> {
  const makes = async (): Promise<Uint8Array> => writeLamplighter(await readPilot(cacheFolder));
  // Its weights and shapes are the core's work.
  return getDemoFile(cacheFolder, 'lamplighter', makes, ['core/rig', 'core/prepare']);
}

async function readPilot(cacheFolder: string): Promise<Character> {
  const bytes = readFileSync(await getFerryPilotFile(cacheFolder));
  return (await readCharacter([{ name: 'Ferry pilot.glb', bytes }])).character;
}

async function getDemoFile(
  cacheFolder: string,
  name: string,
  write: () => Promise<Uint8Array>,
  folders: readonly string[] = [],
): Promise<string> {
  const root = findProjectRoot();
  const hash = createHash('sha256');
  for (const folder of ['demo', 'core/mesh', 'formats/gltf', ...folders])
    hashFolder(join(root, folder), hash);
  const path = join(cacheFolder, `${name}-${hash.digest('hex').slice(0, 12)}.glb`);
  if (!existsSync(path)) {
    mkdirSync(cacheFolder, { recursive: true });
    const unfinished = `${path}.${process.pid}`;
    writeFileSync(unfinished, await write());
    renameSync(unfinished, path);
  }
  return path;
}

function hashFolder(folder: string, hash: ReturnType<typeof createHash>): void {
  for (const name of readdirSync(folder).sort()) {
    const path = join(folder, name);
    if (statSync(path).isDirectory()) hashFolder(path, hash);
    else if (!name.endsWith('.test.ts')) hash.update(name).update(readFileSync(path));
  }
}
