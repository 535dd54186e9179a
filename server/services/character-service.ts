import { randomUUID } from 'node:crypto';
import { IsolationLevel, LockMode } from '@mikro-orm/core';
import type { SqlEntityManager } from '@mikro-orm/postgresql';
import type { AuthoredDocument, CharacterSummary } from '../../core/document/index.ts';
import { PACKED_CHARACTER_VERSION } from '../../core/rig/index.ts';
import type { SourceFile } from '../../formats/index.ts';
import { AuthoredRow, Character, type ICharacter, type StoredFile } from '../entities/entities.ts';
import type { IntakePool } from '../intake/intake-pool.ts';
import type { CompareOutcome, ReadOutcome, ShipOutcome } from '../intake/intake-task.ts';
import { AuthoredService, toChanges } from './authored-service.ts';
import { BlobService } from './blob-service.ts';
import { readShippedCrowd } from './crowd-service.ts';
import { cleanName, isId, ProjectService } from './project-service.ts';
import { checkSeen, hashSource, type SeenState } from './seen-state.ts';
import { ServiceError } from './service-error.ts';

/** Files that others keep changing are tried for so many times. */
const MOST_ATTEMPTS = 4;

/** Earlier packings left lengths in the units of the file, and bodies with them. */
const FIRST_IN_METRES = 2;

export interface Shipped extends ShipOutcome {
  name: string;
  hash: string;
  /** Revision of the character that it was made of. */
  revision: number;
}

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
          { populate: ['project'], refresh: true },
        )
      : null;
    if (!character)
      throw new ServiceError(404, 'There is no such character. It may have been deleted in another window.');
    return character;
  }

  /** The character unpacked for the page, as `packCharacter` makes it. */
  async readPacked(id: string): Promise<Uint8Array> {
    const hash = await this.ensurePacked(await this.find(id));
    return (await new BlobService(this.#em).get(hash))!;
  }

  /** Unpacks a character anew when another build did it, or its bytes are gone. @returns Hash of the blob. */
  async ensurePacked(character: ICharacter): Promise<string> {
    const { id } = character;
    const blobs = new BlobService(this.#em);
    const isCurrent = character.packedVersion === PACKED_CHARACTER_VERSION;
    if (isCurrent && (await blobs.has(character.packedHash))) return character.packedHash;
    const outcome = await this.#pool.read(await this.readFiles(character));
    return this.#em.transactional(async (em) => {
      const stored = await storeOutcome(new BlobService(em), outcome);
      // Unless the files were replaced, or unpacked, meanwhile; a save that arrives meanwhile is no matter.
      const { packedHash, packedVersion } = character;
      const count = await em.nativeUpdate(Character, { id, packedHash, packedVersion }, stored);
      if (count > 0 && packedVersion < FIRST_IN_METRES)
        await new AuthoredService(em).scaleBodies(id, outcome.jointScales);
      return stored.packedHash;
    });
  }

  async readFiles(character: ICharacter): Promise<SourceFile[]> {
    const blobs = new BlobService(this.#em);
    return Promise.all(
      character.files.map(async ({ name, hash, isClips, keepsSeams }) => {
        const bytes = await blobs.get(hash);
        if (!bytes)
          throw new ServiceError(
            404,
            `The bytes of "${name}" are missing from the store. Bring the file in again.`,
          );
        return { name, bytes, ...(isClips && { isClips }), ...(keepsSeams && { keepsSeams }) };
      }),
    );
  }

  /**
   * Adds the clips of other files, onto joints of the same names. What an earlier file of the name added is replaced.
   * @throws {IntakeError} when a file has no clips for this skeleton; nothing is stored then.
   */
  async addClips(id: string, files: SourceFile[]): Promise<ICharacter> {
    const added = files.map((file): SourceFile => ({ ...file, isClips: true }));
    const names = new Set(added.map(({ name }) => name));
    return this.#changeFiles(id, (before) => [
      ...before.filter(({ name, isClips }) => !(isClips && names.has(name))),
      ...added,
    ]);
  }

  /** Takes the clips of an added file away. */
  removeClips(id: string, fileName: string): Promise<ICharacter> {
    return this.#changeFiles(id, (before) => {
      const kept = before.filter(({ name, isClips }) => !(isClips && name === fileName));
      if (kept.length === before.length)
        throw new ServiceError(404, `No clips were added from "${fileName}".`);
      return kept;
    });
  }

  /** Reads the files that a change makes of the present ones; once more when somebody else changed them meanwhile. */
  async #changeFiles(
    id: string,
    change: (before: readonly SourceFile[]) => SourceFile[],
  ): Promise<ICharacter> {
    for (let attempt = 0; attempt < MOST_ATTEMPTS; attempt++) {
      const character = await this.find(id);
      const files = change(await this.readFiles(character));
      const outcome = await this.#pool.read(files);
      const isStored = await this.#em.transactional((em) =>
        new CharacterService(em, this.#pool).#storeFiles(id, hashSource(character), files, outcome),
      );
      if (isStored) return this.find(id);
    }
    throw filesChanged();
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
    return (await this.#compare(character, files, renames, false)).review;
  }

  /** Takes another version of the character's files, with everything authored carried over; added clips stay. */
  async replaceSource(
    id: string,
    files: SourceFile[],
    renames: Record<string, string>,
  ): Promise<CompareOutcome['review']> {
    const character = await this.find(id);
    const compared = await this.#compare(character, files, renames, true);
    const { review, changed, versions, files: all } = compared;
    await this.#em.transactional(async (em) => {
      const characters = new CharacterService(em, this.#pool);
      if (!(await characters.#storeFiles(id, hashSource(character), all, compared.read!)))
        throw filesChanged();
      // Made on the state that was compared: what was saved since is not written over.
      const changes = toChanges(changed).map((change) => ({
        ...change,
        baseVersion: versions.get(change.id) ?? 0,
      }));
      if (changes.length > 0) await new AuthoredService(em).write(id, changes);
    });
    return review;
  }

  async #compare(
    character: ICharacter,
    files: SourceFile[],
    renames: Record<string, string>,
    isTaken: boolean,
  ): Promise<CompareOutcome & { files: SourceFile[]; versions: Map<string, number> }> {
    await this.ensurePacked(character);
    const before = await this.readFiles(character);
    const after = [...files, ...before.filter(({ isClips }) => isClips)];
    const { document, versions } = await new AuthoredService(this.#em).readState(character.id);
    return {
      ...(await this.#pool.compare(after, before, document, renames, isTaken)),
      files: after,
      versions,
    };
  }

  /**
   * Puts files that were read in place of a character's, within the transaction of its entity manager.
   * @param source - `hashSource` of the files that they were made of. @returns False when there are others by now.
   */
  async #storeFiles(
    id: string,
    source: string,
    files: readonly SourceFile[],
    outcome: ReadOutcome,
  ): Promise<boolean> {
    const character = await this.#em.findOne(
      Character,
      { id },
      { lockMode: LockMode.PESSIMISTIC_WRITE, refresh: true },
    );
    if (!character || hashSource(character) !== source) return false;
    const blobs = new BlobService(this.#em);
    const stored: StoredFile[] = [];
    for (const { name, bytes, isClips, keepsSeams } of files)
      stored.push({
        name,
        hash: await blobs.put(bytes),
        bytes: bytes.length,
        ...(isClips && { isClips }),
        ...(keepsSeams && { keepsSeams }),
      });
    Object.assign(character, {
      files: stored,
      ...(await storeOutcome(blobs, outcome)),
      editedAt: new Date(),
      revision: character.revision + 1,
    });
    await this.#em.flush();
    return true;
  }

  async rename(id: string, name: string): Promise<ICharacter> {
    await this.find(id);
    // Straight into the table: of renames at the same moment each goes through, and the last one stays.
    await this.#em.nativeUpdate(Character, { id }, { name: cleanName(name) });
    return this.find(id);
  }

  async setDeleted(id: string, isDeleted: boolean): Promise<void> {
    await this.find(id, true);
    await this.#em.nativeUpdate(Character, { id }, { deletedAt: isDeleted ? new Date() : null });
  }

  /** A copy with everything authored; bytes are shared. */
  async duplicate(id: string): Promise<ICharacter> {
    await this.ensurePacked(await this.find(id));
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
        const { recordId, type, documentVersion, data, arrayHash, arrayDelta } = row;
        em.create(AuthoredRow, {
          key: `${copy.id}/${recordId}`,
          character: copy.id,
          recordId,
          type,
          version: 1,
          documentVersion,
          data,
          arrayHash,
          arrayDelta,
          editedAt: new Date(),
        });
      }
      return copy;
    });
  }

  /**
   * The finished GLB with what the independent validator says of it, and the revision it was made of.
   * @param seen - What the page shows that asks for it. @throws {ServiceError} 409 when that is not what is stored.
   */
  async ship(id: string, seen?: SeenState): Promise<Shipped> {
    const { character, document } = await this.readState(id, seen);
    const { revision } = character;
    const crowd = await readShippedCrowd(this.#em, character, character.project.id);
    const files = await this.readFiles(character);
    const outcome = await this.#pool.ship(files, { authored: document, revision, crowd });
    const hash = await new BlobService(this.#em).put(outcome.bytes);
    // Straight into the table: a save may have arrived meanwhile.
    await this.#em.nativeUpdate(
      Character,
      { id },
      { shippedAt: new Date(), shippedRevision: revision, shippedHash: hash },
    );
    return { ...outcome, hash, revision, name: `${character.name}.cloth.glb` };
  }

  /**
   * A character with all that is authored on it, of one moment.
   * @param seen - As of `ship`.
   */
  async readState(
    id: string,
    seen?: SeenState,
  ): Promise<{ character: ICharacter; document: AuthoredDocument }> {
    await this.ensurePacked(await this.find(id));
    return this.#em.fork().transactional(
      async (em) => {
        const character = await new CharacterService(em, this.#pool).find(id);
        const { document, versions, deleted } = await new AuthoredService(em).readState(id);
        if (seen) checkSeen(seen, { source: hashSource(character), versions, deleted });
        return { character, document: { ...document, projectLimits: character.project.limits } };
      },
      { isolationLevel: IsolationLevel.REPEATABLE_READ, readOnly: true },
    );
  }

  async summarise(projectIds: string[]): Promise<CharacterSummary[]> {
    const characters = await this.#em.find(
      Character,
      { project: { $in: projectIds }, deletedAt: null },
      { orderBy: { createdAt: 'asc' } },
    );
    const rows = await this.#em.find(AuthoredRow, {
      character: { $in: characters.map((character) => character.id) },
      type: { $in: ['garment', 'body', 'bodyMesh'] },
      data: { $ne: null },
    });
    return characters.map((character) => {
      const own = rows.filter((row) => row.character.id === character.id);
      return {
        id: character.id,
        projectId: character.project.id,
        name: character.name,
        thumbnailHash: character.thumbnailHash,
        garments: own.flatMap((row) => (row.data?.type === 'garment' ? [row.data.name] : [])),
        bodies: own.filter((row) => row.type !== 'garment').length,
        clips: character.report.counts.clips,
        vertices: character.report.counts.vertices,
        editedAt: character.editedAt.toISOString(),
        shippedAt: character.shippedAt?.toISOString() ?? null,
        isShippedAsIs: character.shippedRevision === character.revision,
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

function filesChanged(): ServiceError {
  return new ServiceError(
    409,
    'Another window changed the files of this character at the same time. Nothing was taken over; reload the page and try again.',
  );
}
