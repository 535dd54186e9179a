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
import { unpackCharacter } from '../core/rig/index.ts';
import { createPilotDocument, writeFaultyDelivery, writeFerryPilot } from '../demo/index.ts';
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
  const character = await characters.bringIn(DEMO_PROJECT_ID, [{ name: 'Ferry pilot.glb', bytes }]);
  const packed = await characters.readPacked(character.id);
  const document = createPilotDocument(unpackCharacter(new Uint8Array(packed).buffer));
  await new AuthoredService(em).write(character.id, toChanges(document));
  const delivered = readFileSync(await getFaultyDeliveryFile(cacheFolder));
  await characters.bringIn(DEMO_PROJECT_ID, [{ name: 'Ferry pilot, as delivered.glb', bytes: delivered }]);
  return true;
}

/** Path of the demo GLB, made anew only when its generator changed. */
export function getFerryPilotFile(cacheFolder: string): Promise<string> {
  return getDemoFile(cacheFolder, 'ferry-pilot', writeFerryPilot);
}

/** The same for the delivery with typical faults. */
export function getFaultyDeliveryFile(cacheFolder: string): Promise<string> {
  return getDemoFile(cacheFolder, 'faulty-delivery', async () => {
    const bytes = readFileSync(await getFerryPilotFile(cacheFolder));
    return writeFaultyDelivery((await readCharacter([{ name: 'Ferry pilot.glb', bytes }])).character);
  });
}

async function getDemoFile(
  cacheFolder: string,
  name: string,
  write: () => Promise<Uint8Array>,
): Promise<string> {
  const root = findProjectRoot();
  const hash = createHash('sha256');
  for (const folder of ['demo', 'core/mesh', 'formats/gltf']) hashFolder(join(root, folder), hash);
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
