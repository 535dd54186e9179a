import { randomUUID } from 'node:crypto';
import type { SqlEntityManager } from '@mikro-orm/postgresql';
import type { CharacterSummary, RecordId } from '../../core/document/index.ts';
import { PACKED_CHARACTER_VERSION } from '../../core/rig/index.ts';
import type { SourceFile } from '../../formats/index.ts';
import { AuthoredRow, Character, type ICharacter, type StoredFile } from '../entities/entities.ts';
import type { IntakePool } from '../intake/intake-pool.ts';
import type { CompareOutcome, ReadOutcome, ShipOutcome } from '../intake/intake-task.ts';
import { AuthoredService, toChanges } from './authored-service.ts';
import { BlobService } from './blob-service.ts';
import { cleanName, isId, ProjectService } from './project-service.ts';
import { ServiceError } from './service-error.ts';

/** Characters of the library: bringing in, reading, copying, shipping. What an older build unpacked is made anew. */
export class CharacterService {
  readonly #em: SqlEntityManager;
  readonly #pool: IntakePool;

  constructor(em: SqlEntityManager, pool: IntakePool) {
    this.#em = em;
    this.#pool = pool;
  }

  /**
   * Brings files in as a new character, with whatever was authored in a shipped file.
   * @throws {IntakeError} when they cannot be used; nothing is stored then.
   */
  async bringIn(projectId: string, files: SourceFile[]): Promise<ICharacter> {
    const project = await new ProjectService(this.#em).find(projectId);
    const outcome = await this.#pool.read(files);
    const name =
      outcome.report.files.find((file) => /\.(glb|gltf|obj)$/i.test(file.name))?.name ?? files[0]!.name;
    return this.#em.transactional(async (em) => {
      const blobs = new BlobService(em);
      const stored = [];
      for (const file of files) {
        stored.push({ name: file.name, hash: await blobs.put(file.bytes), bytes: file.bytes.length });
      }
      const character = em.create(Character, {
        id: randomUUID(),
        project: project.id,
        name: cleanName(name.replace(/\.[^.]+$/, '')),
        files: stored,
        ...(await storeOutcome(blobs, outcome)),
        createdAt: new Date(),
        editedAt: new Date(),
      });
      await em.flush();
      if (outcome.authored) await new AuthoredService(em).write(character.id, toChanges(outcome.authored));
      return character;
    });
  }

  async find(id: string, evenDeleted = false): Promise<ICharacter> {
    const character = isId(id)
      ? await this.#em.findOne(
          Character,
          { id, ...(evenDeleted ? {} : { deletedAt: null }) },
          { populate: ['project'] },
        )
      : null;
    if (!character)
      throw new ServiceError(404, 'There is no such character. It may have been deleted in another window.');
    return character;
  }

  /** The character unpacked for the page. */
  async readPacked(id: string): Promise<Uint8Array> {
    const character = await this.find(id);
    const blobs = new BlobService(this.#em);
    if (character.packedVersion === PACKED_CHARACTER_VERSION) {
      const bytes = await blobs.get(character.packedHash);
      if (bytes) return bytes;
    }
    const outcome = await this.#pool.read(await this.readFiles(character));
    Object.assign(character, await storeOutcome(blobs, outcome));
    await this.#em.flush();
    return outcome.packed;
  }

  async readFiles(character: ICharacter): Promise<SourceFile[]> {
    const blobs = new BlobService(this.#em);
    return Promise.all(
      character.files.map(async ({ name, hash, isClips }) => {
        const bytes = await blobs.get(hash);
        if (!bytes)
          throw new ServiceError(
            404,
            `The bytes of "${name}" are missing from the store. Bring the file in again.`,
          );
        return { name, bytes, ...(isClips && { isClips }) };
      }),
    );
  }

  /**
   * Adds the clips of other files, onto joints of the same names. What an earlier file of the name added is replaced.
   * @throws {IntakeError} when a file has no clips for this skeleton; nothing is stored then.
   */
  async addClips(id: string, files: SourceFile[]): Promise<ICharacter> {
    const character = await this.find(id);
    const added = files.map((file): SourceFile => ({ ...file, isClips: true }));
    const names = new Set(added.map(({ name }) => name));
    const kept = (await this.readFiles(character)).filter(
      ({ name, isClips }) => !(isClips && names.has(name)),
    );
    return this.#storeFiles(character, [...kept, ...added]);
  }

  /** Takes the clips of an added file away. */
  async removeClips(id: string, fileName: string): Promise<ICharacter> {
    const character = await this.find(id);
    const files = await this.readFiles(character);
    const kept = files.filter(({ name, isClips }) => !(isClips && name === fileName));
    if (kept.length === files.length) throw new ServiceError(404, `No clips were added from "${fileName}".`);
    return this.#storeFiles(character, kept);
  }

  /**
   * What would become of everything authored with another version of the character's files. Nothing is changed.
   * @param renames - Old section name → new one, where names do not tell.
   */
  async reviewSource(
    id: string,
    files: SourceFile[],
    renames: Record<string, string>,
  ): Promise<CompareOutcome['review']> {
    const character = await this.find(id);
    return (await this.#compare(character, files, renames)).review;
  }

  /** Takes another version of the character's files, with everything authored carried over; added clips stay. */
  async replaceSource(
    id: string,
    files: SourceFile[],
    renames: Record<string, string>,
  ): Promise<CompareOutcome['review']> {
    const character = await this.find(id);
    const { review, changed, files: all } = await this.#compare(character, files, renames);
    await this.#em.transactional(async (em) => {
      await new CharacterService(em, this.#pool).#storeFiles(character, all);
      const authored = new AuthoredService(em);
      const versions = new Map((await authored.list(id)).map(({ record, version }) => [record.id, version]));
      const changes = toChanges(changed).map((change) => ({
        ...change,
        baseVersion: versions.get(change.id as RecordId) ?? 0,
      }));
      if (changes.length > 0) await authored.write(id, changes);
    });
    return review;
  }

  async #compare(
    character: ICharacter,
    files: SourceFile[],
    renames: Record<string, string>,
  ): Promise<CompareOutcome & { files: SourceFile[] }> {
    const before = await this.readFiles(character);
    const after = [...files, ...before.filter(({ isClips }) => isClips)];
    const authored = await new AuthoredService(this.#em).readDocument(character.id);
    return { ...(await this.#pool.compare(after, before, authored, renames)), files: after };
  }

  async #storeFiles(character: ICharacter, files: SourceFile[]): Promise<ICharacter> {
    const outcome = await this.#pool.read(files);
    return this.#em.transactional(async (em) => {
      const blobs = new BlobService(em);
      const stored: StoredFile[] = [];
      for (const { name, bytes, isClips } of files)
        stored.push({
          name,
          hash: await blobs.put(bytes),
          bytes: bytes.length,
          ...(isClips && { isClips }),
        });
      Object.assign(character, {
        files: stored,
        ...(await storeOutcome(blobs, outcome)),
        editedAt: new Date(),
      });
      await em.flush();
      return character;
    });
  }

  async rename(id: string, name: string): Promise<ICharacter> {
    const character = await this.find(id);
    character.name = cleanName(name);
    await this.#em.flush();
    return character;
  }

  async setDeleted(id: string, isDeleted: boolean): Promise<void> {
    const character = await this.find(id, true);
    character.deletedAt = isDeleted ? new Date() : null;
    await this.#em.flush();
  }

  /** A copy with everything authored; bytes are shared. */
  async duplicate(id: string): Promise<ICharacter> {
    const original = await this.find(id);
    return this.#em.transactional(async (em) => {
      const { files, packedHash, packedVersion, thumbnailHash, report } = original;
      const copy = em.create(Character, {
        id: randomUUID(),
        project: original.project.id,
        name: cleanName(`${original.name} copy`),
        files,
        packedHash,
        packedVersion,
        thumbnailHash,
        report,
        createdAt: new Date(),
        editedAt: new Date(),
      });
      await em.flush();
      for (const row of await em.find(AuthoredRow, { character: original.id, data: { $ne: null } })) {
        const { recordId, type, data, arrayHash } = row;
        em.create(AuthoredRow, {
          key: `${copy.id}/${recordId}`,
          character: copy.id,
          recordId,
          type,
          version: 1,
          data,
          arrayHash,
          editedAt: new Date(),
        });
      }
      return copy;
    });
  }

  /** The finished GLB with what the independent validator says of it. */
  async ship(id: string): Promise<ShipOutcome & { name: string; hash: string }> {
    const character = await this.find(id);
    const authored = await new AuthoredService(this.#em).readDocument(id);
    const outcome = await this.#pool.ship(await this.readFiles(character), authored);
    const hash = await new BlobService(this.#em).put(outcome.bytes);
    character.shippedAt = new Date();
    await this.#em.flush();
    return { ...outcome, hash, name: `${character.name}.cloth.glb` };
  }

  async summarise(projectIds: string[]): Promise<CharacterSummary[]> {
    const characters = await this.#em.find(
      Character,
      { project: { $in: projectIds }, deletedAt: null },
      { orderBy: { createdAt: 'asc' } },
    );
    const rows = await this.#em.find(AuthoredRow, {
      character: { $in: characters.map((character) => character.id) },
      type: { $in: ['garment', 'body'] },
      data: { $ne: null },
    });
    return characters.map((character) => {
      const own = rows.filter((row) => row.character.id === character.id);
      return {
        id: character.id,
        projectId: character.project.id,
        name: character.name,
        version: character.version,
        thumbnailHash: character.thumbnailHash,
        garments: own.flatMap((row) => (row.data?.type === 'garment' ? [row.data.name] : [])),
        bodies: own.filter((row) => row.type === 'body').length,
        clips: character.report.counts.clips,
        vertices: character.report.counts.vertices,
        editedAt: character.editedAt.toISOString(),
        shippedAt: character.shippedAt?.toISOString() ?? null,
      };
    });
  }
}

async function storeOutcome(
  blobs: BlobService,
  outcome: ReadOutcome,
): Promise<Pick<ICharacter, 'packedHash' | 'packedVersion' | 'thumbnailHash' | 'report'>> {
  return {
    packedHash: await blobs.put(outcome.packed),
    packedVersion: outcome.packedVersion,
    thumbnailHash: await blobs.put(outcome.thumbnail),
    report: outcome.report,
  };
}
