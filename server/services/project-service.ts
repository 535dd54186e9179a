import { randomUUID } from 'node:crypto';
import type { SqlEntityManager } from '@mikro-orm/postgresql';
import type { CrowdSettings } from '../../core/crowd/index.ts';
import type { Limits } from '../../core/document/index.ts';
import { Character, type IProject, Project } from '../entities/entities.ts';
import { ServiceError } from './service-error.ts';

export class ProjectService {
  readonly #em: SqlEntityManager;

  constructor(em: SqlEntityManager) {
    this.#em = em;
  }

  /** Projects that are not deleted, oldest first. */
  list(): Promise<IProject[]> {
    return this.#em.find(Project, { deletedAt: null }, { orderBy: { createdAt: 'asc' } });
  }

  async create(name: string): Promise<IProject> {
    const project = this.#em.create(Project, {
      id: randomUUID(),
      name: cleanName(name),
      createdAt: new Date(),
    });
    await this.#em.persist(project).flush();
    return project;
  }

  async rename(id: string, name: string): Promise<IProject> {
    await this.find(id);
    // Straight into the table: of renames at the same moment each goes through, and the last one stays.
    await this.#em.nativeUpdate(Project, { id }, { name: cleanName(name) });
    return this.find(id);
  }

  /** Limits of trials for all its characters, in place of those that it had. */
  async setLimits(id: string, limits: Limits): Promise<IProject> {
    await this.find(id);
    await this.#em.nativeUpdate(Project, { id }, { limits });
    return this.find(id);
  }

  /** What is planned of its characters together, in place of what was. */
  async setCrowd(id: string, crowd: CrowdSettings): Promise<IProject> {
    await this.find(id);
    await this.#em.nativeUpdate(Project, { id }, { crowd });
    return this.find(id);
  }

  /** Marks a project as deleted, or takes the mark back; its characters go and come with it. */
  async setDeleted(id: string, isDeleted: boolean): Promise<void> {
    await this.find(id, true);
    await this.#em.nativeUpdate(Project, { id }, { deletedAt: isDeleted ? new Date() : null });
  }

  async find(id: string, evenDeleted = false): Promise<IProject> {
    if (!isId(id)) throw notFound();
    const project = await this.#em.findOne(
      Project,
      { id, ...(evenDeleted ? {} : { deletedAt: null }) },
      { refresh: true },
    );
    if (!project) throw notFound();
    return project;
  }

  async countCharacters(id: string): Promise<number> {
    return this.#em.count(Character, { project: id, deletedAt: null });
  }
}

/** @throws {ServiceError} for an empty name. Long ones are cut. */
export function cleanName(name: string): string {
  const cleaned = name.replace(/\s+/g, ' ').trim().slice(0, 200);
  if (cleaned === '') throw new ServiceError(400, 'The name is empty. Type at least one letter.');
  return cleaned;
}

function notFound(): ServiceError {
  return new ServiceError(404, 'There is no such project. It may have been deleted in another window.');
}

/** Whether text can be an id at all: the database fails on others. */
export function isId(text: string): boolean {
  return /^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$/i.test(text);
}
