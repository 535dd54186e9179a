import type { SqlEntityManager } from '@mikro-orm/postgresql';
import { dequal } from 'dequal';
import { findBudget, type TargetProfile, toPricing } from '../../core/cost/index.ts';
import {
  CROWD_DEFAULTS,
  type CrowdMember,
  type CrowdSettings,
  createMember,
} from '../../core/crowd/index.ts';
import { createDocument, listGarments } from '../../core/document/index.ts';
import { listBands } from '../../core/levels/index.ts';
import { type ShippedCrowd, tellCrowd } from '../../formats/index.ts';
import { Character, Task } from '../entities/entities.ts';
import type { LevelsRequest, MeasuredBand } from '../tasks/kinds/levels-kind.ts';
import { readMotionHash } from '../tasks/snapshot.ts';
import { AuthoredService } from './authored-service.ts';
import { ProjectService } from './project-service.ts';
import { readProjectTarget } from './target-service.ts';

/** A character of a project, as a crowd counts it. */
export interface MeasuredMember extends CrowdMember {
  measuredAt: string;
  /** It was changed since, or costs are told for another target now. */
  isOld: boolean;
}

export interface ProjectCrowd {
  projectName: string;
  settings: CrowdSettings;
  target: Pick<TargetProfile, 'name' | 'cores'> & { budget: number };
  /** Characters whose levels were measured. */
  members: MeasuredMember[];
  /** Those whose levels were not. */
  unmeasured: { id: string; name: string; hasLevels: boolean }[];
}

/** What is planned of a project's characters together, with what each was measured to cost. @throws {ServiceError} When there is no such project. */
export async function readCrowd(em: SqlEntityManager, projectId: string): Promise<ProjectCrowd> {
  const project = await new ProjectService(em).find(projectId);
  const target = await readProjectTarget(em, projectId);
  const characters = await em.find(
    Character,
    { project: projectId, deletedAt: null },
    { orderBy: { createdAt: 'asc' }, fields: ['id', 'name'] },
  );
  const members: MeasuredMember[] = [];
  const unmeasured: ProjectCrowd['unmeasured'] = [];
  for (const { id, name } of characters) {
    const member = await readMember(em, { id, name }, target);
    if (member) members.push(member);
    else unmeasured.push({ id, name, hasLevels: (await readBands(em, id)).length > 1 });
  }
  return {
    projectName: project.name,
    settings: project.crowd ?? CROWD_DEFAULTS,
    target: { name: target.name, cores: target.cores, budget: findBudget(target) },
    members,
    unmeasured,
  };
}

/** What a shipment of a character says of its levels: null when they were not measured as they are now. */
export async function readShippedCrowd(
  em: SqlEntityManager,
  character: { id: string; name: string },
  projectId: string,
): Promise<ShippedCrowd | null> {
  const target = await readProjectTarget(em, projectId);
  const member = await readMember(em, character, target);
  if (!member || member.isOld) return null;
  const { crowd } = await new ProjectService(em).find(projectId);
  const { camera } = crowd ?? CROWD_DEFAULTS;
  return tellCrowd(member, camera, { name: target.name, cores: target.cores, budget: findBudget(target) });
}

/** What the levels of a character were measured to cost last; null when they were not. */
export async function readMember(
  em: SqlEntityManager,
  { id, name }: { id: string; name: string },
  target: TargetProfile,
): Promise<MeasuredMember | null> {
  const task = await em.findOne(
    Task,
    { character: id, kind: 'levels', state: 'done' },
    { orderBy: { createdAt: 'desc' }, populate: ['request', 'result'], refresh: true },
  );
  const results = task?.result?.get() as readonly MeasuredBand[] | null | undefined;
  if (!task || !results) return null;
  const request = task.request.get() as LevelsRequest;
  const bands = await readBands(em, id);
  const isSame =
    task.motionHash === (await readMotionHash(em, id)) &&
    dequal(request.bands, bands) &&
    dequal(request.pricing, toPricing(target));
  return {
    ...createMember({ id, name, height: request.height }, request.bands, results),
    measuredAt: task.createdAt.toISOString(),
    isOld: !isSame,
  };
}

/** Bands of the levels that a character has now, as a task keeps them. */
async function readBands(em: SqlEntityManager, characterId: string): Promise<LevelsRequest['bands']> {
  const document = createDocument();
  for (const { record } of await new AuthoredService(em).list(characterId))
    document.records.set(record.id, record);
  return listBands(listGarments(document)).map(({ from, levels }) => ({ from, levels: [...levels] }));
}
