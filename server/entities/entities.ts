import { defineEntity, type InferEntity, p } from '@mikro-orm/core';
import type { CostProfile, Pricing, TargetSettings } from '../../core/cost/index.ts';
import type { CrowdSettings } from '../../core/crowd/index.ts';
import type { AuthoredRecord, IntakeReport, Limits, RecordId } from '../../core/document/index.ts';
import type { SearchPlan, SearchScore, SearchVariable } from '../../core/search/index.ts';
import type { TrialCase } from '../../core/trials/index.ts';

/** Bytes by their SHA-256: stored once, whoever refers to them. */
export const Blob = defineEntity({
  name: 'Blob',
  tableName: 'blob',
  properties: {
    hash: p.string().length(64).primary(),
    size: p.integer(),
    bytes: p.blob().lazy(),
    createdAt: p.datetime().onCreate(() => new Date()),
    /** Since when nothing refers to it, as far as the last look found. */
    unusedSince: p.datetime().nullable(),
  },
});
export type IBlob = InferEntity<typeof Blob>;

export const Project = defineEntity({
  name: 'Project',
  tableName: 'project',
  properties: {
    id: p.uuid().primary(),
    name: p.string().length(200),
    version: p.integer().version(),
    /** Limits of trials for all its characters. */
    limits: p.json<Limits>().default('{}'),
    /** The target profile that costs are told for; null: the machine that the application runs on. */
    targetId: p.string().length(80).nullable(),
    /** What is planned of its characters together; null: nothing yet. */
    crowd: p.json<CrowdSettings>().nullable(),
    createdAt: p.datetime().onCreate(() => new Date()),
    deletedAt: p.datetime().nullable(),
  },
});
export type IProject = InferEntity<typeof Project>;

export interface StoredFile {
  name: string;
  hash: string;
  bytes: number;
  /** Only its clips are used. */
  isClips?: boolean;
  /** Brought in before vertices that lie together but for rounding were joined. */
  keepsSeams?: boolean;
}

export const Character = defineEntity({
  name: 'Character',
  tableName: 'character',
  properties: {
    id: p.uuid().primary(),
    project: () => p.manyToOne(Project).deleteRule('cascade'),
    name: p.string().length(200),
    version: p.integer().version(),
    /** The files as they were dropped. */
    files: p.json<StoredFile[]>(),
    /** The character unpacked for the page, and which version of the packing that is. */
    packedHash: p.string().length(64),
    packedVersion: p.integer(),
    thumbnailHash: p.string().length(64),
    report: p.json<IntakeReport>(),
    /** Rises with every change of the files or of what is authored; the one of the newest shipment beside it. */
    revision: p.integer().default(1),
    shippedRevision: p.integer().nullable(),
    shippedHash: p.string().length(64).nullable(),
    /** Windows that saved since the newest version to return to. */
    recentWindows: p.json<string[]>().default('[]'),
    createdAt: p.datetime().onCreate(() => new Date()),
    editedAt: p.datetime().onCreate(() => new Date()),
    shippedAt: p.datetime().nullable(),
    deletedAt: p.datetime().nullable(),
  },
});
export type ICharacter = InferEntity<typeof Character>;

/** One authored record; its version rises with every write. */
export const AuthoredRow = defineEntity({
  name: 'AuthoredRow',
  tableName: 'authored_record',
  properties: {
    /** `characterId/recordId` */
    key: p.string().length(120).primary(),
    character: () => p.manyToOne(Character).deleteRule('cascade').index(),
    recordId: p.string().length(80),
    type: p.string().length(40),
    version: p.integer(),
    /** Form of documents that it was written in, see `DOCUMENT_VERSION`; 0: from before forms were counted. */
    documentVersion: p.integer().default(0),
    /** Null once it is deleted: the row stays, so that a late write to it is noticed. */
    data: p.json<AuthoredRecord>().nullable(),
    /** Blob with the values of a channel, little-endian float32. */
    arrayHash: p.string().length(64).nullable(),
    /** What changed of it since, see `packDelta`; null for nothing. */
    arrayDelta: p.blob().nullable(),
    editedAt: p.datetime(),
  },
});
export type IAuthoredRow = InferEntity<typeof AuthoredRow>;

/** One record of a version to return to. */
export interface VersionRecord {
  documentVersion: number;
  data: AuthoredRecord;
  arrayHash: string | null;
}

export type VersionKind = 'automatic' | 'named';

/** Everything authored for a character at one moment. */
export const CharacterVersion = defineEntity({
  name: 'CharacterVersion',
  tableName: 'character_version',
  properties: {
    id: p.uuid().primary(),
    character: () => p.manyToOne(Character).deleteRule('cascade').index(),
    /** Null for those that are kept by themselves. */
    name: p.string().length(200).nullable(),
    kind: p.string().length(20).$type<VersionKind>(),
    revision: p.integer(),
    records: p.json<VersionRecord[]>().lazy(),
    /** Windows that made it what it is. */
    windows: p.json<string[]>(),
    createdAt: p.datetime(),
  },
});
export type ICharacterVersion = InferEntity<typeof CharacterVersion>;

export type TaskKind = 'trial' | 'search' | 'bodies' | 'reach' | 'calibration' | 'advice' | 'levels';

/** `queued`, `running` until it has ended one way or another. */
export type TaskState = 'queued' | 'running' | 'done' | 'failed' | 'cancelled';

/** Long work on the server, of a character as it was at one moment; or of none. */
export const Task = defineEntity({
  name: 'Task',
  tableName: 'task',
  indexes: [{ name: 'task_character', properties: ['character', 'createdAt'] }],
  properties: {
    id: p.uuid().primary(),
    character: () => p.manyToOne(Character).deleteRule('cascade').nullable(),
    kind: p.string().length(20).$type<TaskKind>(),
    title: p.string().length(400),
    /** Started by itself, after edits. */
    isAutomatic: p.boolean(),
    /** What is asked for; its parts are of this, by index. */
    request: p.json<unknown>().lazy(),
    revision: p.integer(),
    /** One text for all that moves: the same for states that move alike. */
    motionHash: p.string().length(64),
    /** Blob with the state that it is of, see `Snapshot`, and all blobs that it needs. */
    snapshotHash: p.string().length(64).nullable(),
    hashes: p.json<string[]>().lazy(),
    state: p.string().length(20).$type<TaskState>(),
    /** Why it failed. */
    error: p.text().nullable(),
    /** What its parts found, in their order, once it has ended. */
    result: p.json<unknown[]>().nullable().lazy(),
    parts: p.integer(),
    partsDone: p.integer().default(0),
    createdAt: p.datetime(),
    startedAt: p.datetime().nullable(),
    finishedAt: p.datetime().nullable(),
  },
});
export type ITask = InferEntity<typeof Task>;

/** What a trial plays, in the order of its parts. */
export interface TrialRequest {
  cases: TrialCase[];
}

/** What a search may move, and what it is judged by. */
export interface SearchRequest {
  /** What each candidate plays. */
  cases: TrialCase[];
  garmentId: RecordId;
  variables: SearchVariable[];
  plan: SearchPlan;
  /** In place of those of the garment; none in searches of before they could be said. */
  limits?: Limits;
  /** ms a frame; null for none. */
  budget: number | null;
  /** What work is priced by; that of the reference machine in searches of before it was said. */
  pricing?: Pricing;
}

/** One candidate of a search. */
export interface SearchResult extends SearchScore {
  /** Of each variable the share of the way from low to high. */
  point: number[];
}

/** A trial that was made: one row, of a character as it was at one moment. */
export const Trial = defineEntity({
  name: 'Trial',
  tableName: 'trial',
  indexes: [{ name: 'trial_character', properties: ['character', 'createdAt'] }],
  properties: {
    /** That of its task. */
    id: p.uuid().primary(),
    character: () => p.manyToOne(Character).deleteRule('cascade'),
    title: p.string().length(400),
    isAutomatic: p.boolean(),
    revision: p.integer(),
    motionHash: p.string().length(64),
    snapshotHash: p.string().length(64),
    hashes: p.json<string[]>().lazy(),
    cases: p.json<TrialCase[]>().lazy(),
    caseCount: p.integer(),
    /** Cases that broke a limit of then. */
    brokenCount: p.integer(),
    /** As `packTrial` makes them. */
    measured: p.blob().lazy(),
    machine: p.blob().lazy(),
    /** From the first part's beginning to the last one's end. */
    seconds: p.float(),
    createdAt: p.datetime(),
  },
});
export type ITrial = InferEntity<typeof Trial>;

/** What work costs on a machine. */
export const MeasuredCosts = defineEntity({
  name: 'MeasuredCosts',
  tableName: 'measured_costs',
  properties: {
    /** `machine`: the one that the application runs on. */
    key: p.string().length(80).primary(),
    profile: p.json<CostProfile>(),
    measuredAt: p.datetime(),
  },
});
export type IMeasuredCosts = InferEntity<typeof MeasuredCosts>;

/** A machine that a game runs on, as somebody made it; and the settings of the one that the application runs on. */
export const TargetRow = defineEntity({
  name: 'TargetRow',
  tableName: 'target_profile',
  properties: {
    id: p.string().length(80).primary(),
    name: p.string().length(200),
    settings: p.json<TargetSettings>(),
    /** Null: as this machine was measured. */
    costs: p.json<CostProfile>().nullable(),
    createdAt: p.datetime().onCreate(() => new Date()),
  },
});

export const ENTITIES = [
  Blob,
  Project,
  Character,
  AuthoredRow,
  CharacterVersion,
  Task,
  Trial,
  MeasuredCosts,
  TargetRow,
];
