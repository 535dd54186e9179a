import { randomUUID } from 'node:crypto';
import { LockMode } from '@mikro-orm/core';
import type { SqlEntityManager } from '@mikro-orm/postgresql';
import {
  MACHINE_ID,
  type Pricing,
  TARGET_DEFAULTS,
  type TargetProfile,
  type TargetSettings,
  toPricing,
} from '../../core/cost/index.ts';
import { Character, Project, TargetRow } from '../entities/entities.ts';
import { readCostProfile } from './cost-service.ts';
import { cleanName } from './project-service.ts';
import { ServiceError } from './service-error.ts';

interface Row extends Pick<TargetProfile, 'id' | 'name'> {
  settings: TargetSettings;
  costs?: TargetProfile['costs'] | null | undefined;
}

/** All target profiles: the machine that the application runs on first, then those that were made, oldest first. */
export async function listTargets(em: SqlEntityManager): Promise<TargetProfile[]> {
  const rows: Row[] = await em.find(
    TargetRow,
    {},
    { orderBy: { createdAt: 'asc', id: 'asc' }, refresh: true },
  );
  const machine = rows.find(({ id }) => id === MACHINE_ID);
  return [
    await openMachine(em, machine?.settings),
    ...rows.filter(({ id }) => id !== MACHINE_ID).map(toProfile),
  ];
}

/** The profile that costs of a project are told for. */
export async function readProjectTarget(em: SqlEntityManager, projectId: string): Promise<TargetProfile> {
  const project = await em.findOne(Project, { id: projectId }, { refresh: true });
  return readTarget(em, project?.targetId ?? MACHINE_ID);
}

/** What work of a character is priced by. */
export async function readCharacterPricing(em: SqlEntityManager, characterId: string): Promise<Pricing> {
  const { project } = await em.findOneOrFail(Character, { id: characterId });
  return toPricing(await readProjectTarget(em, project.id));
}

/** @throws {ServiceError} When there is no such profile. */
export async function readTarget(em: SqlEntityManager, id: string): Promise<TargetProfile> {
  const row = await em.findOne(TargetRow, { id }, { refresh: true });
  if (id === MACHINE_ID) return openMachine(em, row?.settings);
  if (!row) throw notFound();
  return toProfile(row);
}

/** Keeps a new profile. */
export async function createTarget(
  em: SqlEntityManager,
  made: Omit<TargetProfile, 'id'>,
): Promise<TargetProfile> {
  const { name, costs, ...settings } = made;
  const row = em.create(TargetRow, {
    id: randomUUID(),
    name: cleanName(name),
    settings: keepSettings(settings),
    costs,
    createdAt: new Date(),
  });
  await em.persist(row).flush();
  return toProfile(row);
}

/**
 * Other settings or another name.
 * @throws {ServiceError} When there is no such profile, or it is this machine that would be named otherwise.
 */
export async function editTarget(
  em: SqlEntityManager,
  id: string,
  { name, ...settings }: Partial<TargetSettings> & { name?: string | undefined },
): Promise<TargetProfile> {
  await em.transactional(async (inner) => {
    // Two edits at once: the second one builds on the first.
    const known = await inner.findOne(TargetRow, { id }, { lockMode: LockMode.PESSIMISTIC_WRITE });
    if (!known && id !== MACHINE_ID) throw notFound();
    if (name !== undefined && id === MACHINE_ID)
      throw new ServiceError(422, 'This machine keeps its name. Make a profile of timings for another one.');
    await inner.upsert(TargetRow, {
      id,
      name: name === undefined ? (known?.name ?? 'This machine') : cleanName(name),
      settings: keepSettings({ ...(known?.settings ?? TARGET_DEFAULTS), ...settings }),
      costs: known?.costs ?? null,
      createdAt: known?.createdAt ?? new Date(),
    });
  });
  return readTarget(em, id);
}

/** Takes a profile away; projects that used it go by this machine again. @returns How many did. */
export async function removeTarget(em: SqlEntityManager, id: string): Promise<number> {
  if (id === MACHINE_ID) throw new ServiceError(422, 'This machine cannot be removed.');
  return em.transactional(async (inner) => {
    const users = await inner.nativeUpdate(Project, { targetId: id }, { targetId: null });
    if ((await inner.nativeDelete(TargetRow, { id })) === 0) throw notFound();
    return users;
  });
}

/** Which profile costs of a project are told for. @throws {ServiceError} When there is no such profile. */
export async function chooseTarget(em: SqlEntityManager, projectId: string, id: string): Promise<void> {
  await readTarget(em, id);
  await em.nativeUpdate(Project, { id: projectId }, { targetId: id === MACHINE_ID ? null : id });
}

async function openMachine(
  em: SqlEntityManager,
  settings: TargetSettings | undefined,
): Promise<TargetProfile> {
  const costs = await readCostProfile(em);
  return { id: MACHINE_ID, name: costs.name, costs, ...keepSettings(settings ?? TARGET_DEFAULTS) };
}

/** @param row - Of a machine that was timed, not of this one. */
function toProfile({ id, name, settings, costs }: Row): TargetProfile {
  return { id, name, costs: costs!, ...keepSettings(settings) };
}

/** Settings alone; those that came later are as they begin. */
function keepSettings(settings: Partial<TargetSettings>): TargetSettings {
  const { framesPerSecond, share, budgetMilliseconds, cores } = { ...TARGET_DEFAULTS, ...settings };
  return { framesPerSecond, share, budgetMilliseconds, cores };
}

function notFound(): ServiceError {
  return new ServiceError(
    404,
    'There is no such target profile. It may have been removed in another window.',
  );
}
