import type { AuthoredRecord, CharacterSummary, IntakeReport } from '../../core/document/index.ts';
import type { SourceReview } from '../../core/prepare/index.ts';

export interface ProjectCard {
  id: string;
  name: string;
  version: number;
  characters: CharacterSummary[];
}

export interface CharacterInfo {
  id: string;
  name: string;
  project: { id: string; name: string };
  report: IntakeReport;
  shippedAt: string | null;
  /** Number of its newest state, and one text for its source files. */
  revision: number;
  source: string;
  /** Blob with the character as `packCharacter` makes it. */
  packedHash: string;
  records: { record: AuthoredRecord; version: number; arrayHash: string | null }[];
}

export interface Shipment {
  /** Number of the state that it was made of. */
  revision: number;
  hash: string;
  name: string;
  bytes: number;
  validation: {
    errors: number;
    warnings: number;
    messages: { code: string; message: string; pointer: string }[];
  };
}

export interface ErrorBody {
  message: string;
  where?: string;
  file?: string;
  found?: string;
  remedy?: string;
  conflicts?: { id: string; version: number; record: AuthoredRecord | null; array: string | null }[];
}

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

async function send<T>(method: string, path: string, body?: unknown): Promise<T> {
  const init: RequestInit = { method };
  if (body !== undefined) {
    init.body = JSON.stringify(body);
    init.headers = { 'Content-Type': 'application/json' };
  }
  return (await request(path, init)).json() as Promise<T>;
}

function toForm(files: readonly File[]): FormData {
  const form = new FormData();
  for (const file of files) form.append('files', file, file.name);
  return form;
}

export const api = {
  listProjects: () => send<{ projects: ProjectCard[] }>('GET', '/api/projects'),
  createProject: (name: string) => send<ProjectCard>('POST', '/api/projects', { name }),
  editProject: (id: string, edit: { name?: string; isDeleted?: boolean }) =>
    send('PATCH', `/api/projects/${id}`, edit),
  editCharacter: (id: string, edit: { name?: string; isDeleted?: boolean }) =>
    send('PATCH', `/api/characters/${id}`, edit),
  duplicateCharacter: (id: string) =>
    send<{ id: string; name: string }>('POST', `/api/characters/${id}/duplicate`),
  readCharacter: (id: string) => send<CharacterInfo>('GET', `/api/characters/${id}`),
  readBlob: async (hash: string) => (await request(`/api/blobs/${hash}`)).arrayBuffer(),
  saveChanges: (id: string, changes: unknown[]) =>
    send<{ versions: Record<string, number>; revision: number }>('POST', `/api/characters/${id}/changes`, {
      changes,
    }),
  /** Writes the finished file of what the page has on its screen. */
  ship: (id: string, seen: { source: string; versions: Record<string, number> }) =>
    send<Shipment>('POST', `/api/characters/${id}/shipment`, seen),
  readRevision: (id: string) => send<{ revision: number }>('GET', `/api/characters/${id}/revision`),

  /** Adds the clips of other files. */
  addClips: async (id: string, files: readonly File[]): Promise<IntakeReport> => {
    const init = { method: 'POST', body: toForm(files) };
    const response = await request(`/api/characters/${id}/clips`, init);
    return ((await response.json()) as { report: IntakeReport }).report;
  },
  removeClips: (id: string, file: string) =>
    send<{ report: IntakeReport }>('DELETE', `/api/characters/${id}/clips?file=${encodeURIComponent(file)}`),
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
    return ((await response.json()) as { review: SourceReview }).review;
  },

  /** Sends files as a new character. @param onProgress - Share sent, 0 to 1; 1 means the server is reading. */
  bringIn(
    projectId: string,
    files: readonly File[],
    onProgress: (share: number) => void,
  ): Promise<{ id: string; name: string; report: IntakeReport }> {
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
