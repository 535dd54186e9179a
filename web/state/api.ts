import type { Schema } from 'yup';
import type { CostProfile, TargetProfile } from '../../core/cost/index.ts';
import type { CrowdSettings } from '../../core/crowd/index.ts';
import type { IntakeReport, Limits } from '../../core/document/index.ts';
import type { SourceReview } from '../../core/prepare/index.ts';
import { type AdviceOrderBody, adviceFoundSchema } from '../wire/advice.ts';
import {
  type CharacterInfo,
  characterSchema,
  type NewCharacter,
  newCharacterSchema,
  reportSchema,
  reviewSchema,
  revisionSchema,
  type Seen,
  type Shipment,
  savedSchema,
  shipmentSchema,
} from '../wire/characters.ts';
import type { ErrorBody } from '../wire/errors.ts';
import { crowdSchema, type LevelsOrderBody, levelsFoundSchema, type ProjectCrowd } from '../wire/levels.ts';
import { type CharacterLooks, looksSchema } from '../wire/looks.ts';
import { type ProjectCard, projectCardSchema, projectsSchema } from '../wire/projects.ts';
import { encodeSave, type RecordSave, SAVE_CONTENT_TYPE } from '../wire/save-format.ts';
import {
  type BodiesOrderBody,
  bodiesFoundSchema,
  type ReachOrderBody,
  reachFoundSchema,
} from '../wire/suggestions.ts';
import {
  costProfileSchema,
  type TargetEdit,
  targetRemovedSchema,
  targetSchema,
  targetsSchema,
} from '../wire/targets.ts';
import {
  removedSchema,
  type SearchOrderBody,
  type SearchState,
  searchStateSchema,
  type TaskEntry,
  type TrialOrderBody,
  taskSchema,
  trialCasesSchema,
  trialChangesSchema,
  trialRecordsSchema,
  trialsSchema,
} from '../wire/trials.ts';
import { type CharacterHistory, historySchema, versionRecordsSchema } from '../wire/versions.ts';
import { getWindowId } from './window-id.ts';

export type { CharacterInfo, Shipment } from '../wire/characters.ts';
export type { ErrorBody } from '../wire/errors.ts';
export type { ProjectCard } from '../wire/projects.ts';
export type { CharacterHistory, Version } from '../wire/versions.ts';

/** An answer of the server that is not a success; `status` 0 when it could not be reached. */
export class ApiError extends Error {
  override readonly name = 'ApiError';
  constructor(
    readonly status: number,
    readonly body: ErrorBody,
  ) {
    super(body.message);
  }
}

/** What to tell of any failure. */
export function toErrorBody(error: unknown): ErrorBody {
  if (error instanceof ApiError) return error.body;
  return { message: error instanceof Error ? error.message : String(error) };
}

async function request(path: string, init?: RequestInit): Promise<Response> {
  let response: Response;
  try {
    response = await fetch(path, init);
  } catch {
    throw new ApiError(0, { message: 'The server does not answer. Is it still running?' });
  }
  if (response.ok) return response;
  let body: { error?: ErrorBody };
  try {
    body = (await response.json()) as { error?: ErrorBody };
  } catch {
    body = {};
  }
  throw new ApiError(response.status, body.error ?? { message: `The server answered ${response.status}.` });
}

/** Sends JSON. @returns The answer, checked; undefined without a schema. */
async function send<T>(method: string, path: string, body?: unknown, schema?: Schema<T>): Promise<T> {
  const init: RequestInit = { method };
  if (body !== undefined) {
    init.body = JSON.stringify(body);
    init.headers = { 'Content-Type': 'application/json' };
  }
  return readAnswer(await request(path, init), schema);
}

/** @throws {ApiError} When the answer is not of the form that this page was made for: it is of another version. */
async function readAnswer<T>(response: Response, schema?: Schema<T>): Promise<T> {
  const answer: unknown = await response.json();
  if (!schema) return undefined as T;
  try {
    return schema.validateSync(answer, { strict: true });
  } catch (error) {
    throw new ApiError(response.status, {
      message: `The server answered what this page does not understand (${(error as Error).message}). Reload the page.`,
    });
  }
}

function toForm(files: readonly File[]): FormData {
  const form = new FormData();
  for (const file of files) form.append('files', file, file.name);
  return form;
}

export const api = {
  listProjects: () => send('GET', '/api/projects', undefined, projectsSchema),
  createProject: (name: string): Promise<ProjectCard> =>
    send('POST', '/api/projects', { name }, projectCardSchema),
  editProject: (
    id: string,
    edit: {
      name?: string;
      isDeleted?: boolean;
      limits?: Limits;
      targetId?: string;
      crowd?: CrowdSettings;
    },
  ) => send('PATCH', `/api/projects/${id}`, edit),
  editCharacter: (id: string, edit: { name?: string; isDeleted?: boolean }) =>
    send('PATCH', `/api/characters/${id}`, edit),
  duplicateCharacter: (id: string): Promise<NewCharacter> =>
    send('POST', `/api/characters/${id}/duplicate`, undefined, newCharacterSchema),
  readLooks: (id: string): Promise<CharacterLooks> =>
    send('GET', `/api/characters/${id}/looks`, undefined, looksSchema),
  readLookImage: async (id: string, image: number, source: string): Promise<Blob> =>
    (await request(`/api/characters/${id}/looks/${image}?source=${source}`)).blob(),
  readCharacter: (id: string): Promise<CharacterInfo> =>
    send('GET', `/api/characters/${id}`, undefined, characterSchema),
  readBlob: async (hash: string) => (await request(`/api/blobs/${hash}`)).arrayBuffer(),
  saveChanges: async (id: string, changes: RecordSave[]) => {
    const body = encodeSave({ window: getWindowId(), changes });
    const init = { method: 'POST', body, headers: { 'Content-Type': SAVE_CONTENT_TYPE } };
    return readAnswer(await request(`/api/characters/${id}/changes`, init), savedSchema);
  },
  /** Writes the finished file of what the page has on its screen. */
  ship: (id: string, seen: Seen): Promise<Shipment> =>
    send('POST', `/api/characters/${id}/shipment`, seen, shipmentSchema),
  readRevision: (id: string) => send('GET', `/api/characters/${id}/revision`, undefined, revisionSchema),

  listVersions: (id: string): Promise<CharacterHistory> =>
    send('GET', `/api/characters/${id}/versions`, undefined, historySchema),
  readVersion: async (id: string, version: string): Promise<CharacterInfo['records']> =>
    (await send('GET', `/api/characters/${id}/versions/${version}`, undefined, versionRecordsSchema)).records,
  /** @param name - Null: kept by itself, when anything changed since the newest. */
  keepVersion: (id: string, name: string | null) => send('POST', `/api/characters/${id}/versions`, { name }),
  nameVersion: (id: string, version: string, name: string) =>
    send('PATCH', `/api/characters/${id}/versions/${version}`, { name }),
  removeVersion: (id: string, version: string) => send('DELETE', `/api/characters/${id}/versions/${version}`),

  listTrials: (id: string) => send('GET', `/api/characters/${id}/trials`, undefined, trialsSchema),
  orderTrial: (id: string, order: TrialOrderBody): Promise<TaskEntry> =>
    send('POST', `/api/characters/${id}/trials`, order, taskSchema),
  removeTrials: (id: string, ids: readonly string[]) =>
    send('DELETE', `/api/characters/${id}/trials`, { ids }, removedSchema),
  readTrial: (id: string) => send('GET', `/api/trials/${id}`, undefined, trialCasesSchema),
  readTrialRows: async (id: string) => (await request(`/api/trials/${id}/rows`)).arrayBuffer(),
  readTrialRecords: async (id: string): Promise<CharacterInfo['records']> =>
    (await send('GET', `/api/trials/${id}/records`, undefined, trialRecordsSchema)).records,
  /** What was edited from an earlier trial to this one. */
  readTrialChanges: (id: string, since: string) =>
    send('GET', `/api/trials/${id}/changes?since=${since}`, undefined, trialChangesSchema),
  orderSearch: (id: string, order: SearchOrderBody): Promise<TaskEntry> =>
    send('POST', `/api/characters/${id}/searches`, order, taskSchema),
  readSearch: (taskId: string): Promise<SearchState> =>
    send('GET', `/api/tasks/${taskId}/results`, undefined, searchStateSchema),
  orderBodies: (id: string, order: BodiesOrderBody): Promise<TaskEntry> =>
    send('POST', `/api/characters/${id}/suggestions/bodies`, order, taskSchema),
  readBodies: (taskId: string) => send('GET', `/api/tasks/${taskId}/results`, undefined, bodiesFoundSchema),
  orderReach: (id: string, order: ReachOrderBody): Promise<TaskEntry> =>
    send('POST', `/api/characters/${id}/suggestions/reach`, order, taskSchema),
  orderAdvice: (id: string, order: AdviceOrderBody): Promise<TaskEntry> =>
    send('POST', `/api/characters/${id}/advice`, order, taskSchema),
  readAdvice: (taskId: string) => send('GET', `/api/tasks/${taskId}/results`, undefined, adviceFoundSchema),
  orderLevels: (id: string, order: LevelsOrderBody): Promise<TaskEntry> =>
    send('POST', `/api/characters/${id}/levels`, order, taskSchema),
  readLevels: (taskId: string) => send('GET', `/api/tasks/${taskId}/results`, undefined, levelsFoundSchema),
  readCrowd: (projectId: string): Promise<ProjectCrowd> =>
    send('GET', `/api/projects/${projectId}/crowd`, undefined, crowdSchema),
  readReach: (taskId: string) => send('GET', `/api/tasks/${taskId}/results`, undefined, reachFoundSchema),
  /** What a part of a trial under way measured; null while it is not done. */
  readTaskPart: async (id: string, part: number): Promise<ArrayBuffer | null> => {
    const response = await request(`/api/tasks/${id}/parts/${part}`);
    return response.status === 204 ? null : response.arrayBuffer();
  },
  listTargets: async (): Promise<TargetProfile[]> =>
    (await send('GET', '/api/targets', undefined, targetsSchema)).targets,
  /** @param file - A target profile as it is exported. */
  createTarget: async (file: string): Promise<TargetProfile> => {
    const init = { method: 'POST', body: file, headers: { 'Content-Type': 'application/json' } };
    return readAnswer(await request('/api/targets', init), targetSchema);
  },
  editTarget: (id: string, edit: TargetEdit): Promise<TargetProfile> =>
    send('PATCH', `/api/targets/${id}`, edit, targetSchema),
  removeTarget: (id: string) => send('DELETE', `/api/targets/${id}`, undefined, targetRemovedSchema),
  /** What a table of timings tells of unit costs; nothing is kept. */
  fitTimings: (csv: string): Promise<CostProfile> =>
    send('POST', '/api/targets/timings', { csv }, costProfileSchema),
  /** Measures what work costs on the server's machine. */
  orderCalibration: (): Promise<TaskEntry> => send('POST', '/api/calibration', undefined, taskSchema),
  cancelTask: (id: string): Promise<TaskEntry> => send('DELETE', `/api/tasks/${id}`, undefined, taskSchema),

  /** Adds the clips of other files. */
  addClips: async (id: string, files: readonly File[]): Promise<IntakeReport> => {
    const init = { method: 'POST', body: toForm(files) };
    return (await readAnswer(await request(`/api/characters/${id}/clips`, init), reportSchema)).report;
  },
  removeClips: (id: string, file: string): Promise<{ report: IntakeReport }> =>
    send('DELETE', `/api/characters/${id}/clips?file=${encodeURIComponent(file)}`, undefined, reportSchema),
  /** What becomes of everything authored with another version of the files; `isTaken` takes it. */
  sendSource: async (
    id: string,
    files: readonly File[],
    renames: Readonly<Record<string, string>>,
    isTaken: boolean,
  ): Promise<SourceReview> => {
    const body = toForm(files);
    body.append('renames', JSON.stringify(renames));
    body.append('isTaken', isTaken ? 'yes' : 'no');
    const response = await request(`/api/characters/${id}/source`, { method: 'POST', body });
    return (await readAnswer(response, reviewSchema)).review;
  },

  /** Sends files as a new character. @param onProgress - Share sent, 0 to 1; 1 means the server is reading. */
  bringIn(
    projectId: string,
    files: readonly File[],
    onProgress: (share: number) => void,
  ): Promise<NewCharacter> {
    const form = toForm(files);
    return new Promise((resolve, reject) => {
      // fetch cannot tell how much of a body is sent.
      const sending = new XMLHttpRequest();
      sending.open('POST', `/api/projects/${projectId}/characters`);
      sending.responseType = 'json';
      sending.upload.onprogress = (event) =>
        onProgress(event.lengthComputable ? event.loaded / event.total : 0);
      sending.onerror = () =>
        reject(new ApiError(0, { message: 'The server does not answer. Is it still running?' }));
      sending.onload = () => {
        const body = sending.response as { error?: ErrorBody } | null;
        if (sending.status === 201) resolve(sending.response);
        else
          reject(
            new ApiError(
              sending.status,
              body?.error ?? { message: `The server answered ${sending.status}.` },
            ),
          );
      };
      sending.send(form);
    });
  },
};
