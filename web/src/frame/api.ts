import type {
  AccountCard,
  AuditEntry,
  PasswordResetOffer,
  ChangeEntry,
  CheckedMark,
  ColumnChoices,
  FactorsAnswer,
  FollowingProject,
  FoundSystem,
  GridFacts,
  InvitationOffer,
  Job,
  Known,
  keepCodeListSchema,
  KeptCodeList,
  KeptCodeListCard,
  PackageCard,
  People,
  PointHistory,
  VolumeStory,
  Presence,
  Problem,
  ProjectCard,
  ProjectMoved,
  ProjectState,
  Role,
  SavedLayout,
  SessionCard,
  SessionState,
  SystemsThereRequest,
  TeamCard,
} from '#contract';
import type { z } from 'zod';
import type { Code } from '#core/codes';
import type { PublishedSystem, SystemParameters } from '#core/basis';
import type { Change, Intake, Start, StartPart, IntoSurface } from '#core/project';
import type { FoundThere } from '#core/sources';
import type { Manifest, PackageSpec } from '#core/handover';

/** Which change is undone or redone, the newest where nothing is said; `despite` what others did to the same since. */
export interface UndoOf {
  about?: number;
  despite?: boolean;
}

/** The server's refusal, with its sentence. */
export class ApiProblem extends Error {
  constructor(
    readonly status: number,
    readonly body: Problem,
  ) {
    super(body.problem);
  }
}

async function call<T>(method: string, path: string, body?: unknown, signal?: AbortSignal): Promise<T> {
  let response: Response;
  try {
    response = await fetch(`/api${path}`, {
      method,
      headers: body === undefined ? {} : { 'Content-Type': 'application/json' },
      body: body === undefined ? undefined : JSON.stringify(body),
      signal,
    });
  } catch {
    throw new ApiProblem(0, { problem: 'The server does not answer. What you typed is kept; try again.' });
  }
  return answerOf<T>(response);
}

async function answerOf<T>(response: Response): Promise<T> {
  if (response.status === 204) return undefined as T;
  const text = await response.text();
  let body: unknown;
  try {
    body = JSON.parse(text);
  } catch {
    throw new ApiProblem(response.status, { problem: 'The server’s answer cannot be read.' });
  }
  if (!response.ok) throw new ApiProblem(response.status, body as Problem);
  return body as T;
}

/** The name that a file comes with (RFC 6266). */
function nameOf(response: Response): string {
  const said = response.headers.get('Content-Disposition') ?? '';
  const encoded = /filename\*=UTF-8''([^;]+)/i.exec(said)?.[1];
  return encoded ? decodeURIComponent(encoded) : (/filename="?([^";]+)/i.exec(said)?.[1] ?? 'paper.pdf');
}

const project = (id: string): string => `/projects/${id}`;

export const api = {
  session: () => call<SessionState>('GET', '/session'),
  signIn: (email: string, password: string) => call<SessionState>('POST', '/session', { email, password }),
  enterDemo: () => call<SessionState>('POST', '/session/demo'),
  createAccount: (email: string, name: string, password: string, invitation?: string) =>
    call<SessionState>('POST', '/accounts', { email, name, password, invitation }),
  signOut: () => call<void>('DELETE', '/session'),
  columns: () => call<ColumnChoices>('GET', '/account/columns'),
  keepColumns: (choices: ColumnChoices) => call<void>('PUT', '/account/columns', choices),

  projects: () => call<ProjectCard[]>('GET', '/projects'),
  createProject: (body: {
    name: string;
    description?: string;
    team?: string | null;
    start?: Start | null;
    copy?: string | null;
    whole?: boolean;
  }) => call<{ id: string }>('POST', '/projects', body),
  patchProject: (id: string, patch: { name?: string; description?: string; archived?: boolean }) =>
    call<void>('PATCH', project(id), patch),
  state: (id: string) => call<ProjectState>('GET', project(id)),
  moved: (id: string, known: Known) =>
    call<ProjectMoved>('GET', `${project(id)}/moved?${new URLSearchParams(Object.entries(known).map(([k, v]) => [k, String(v)])).toString()}`), // prettier-ignore
  changes: (id: string) => call<ChangeEntry[]>('GET', `${project(id)}/changes`),
  change: (id: string, revision: number, change: Change, mine: number[]) =>
    call<{ revision: number }>('POST', `${project(id)}/changes`, { revision, change, mine }),
  undo: (id: string, revision: number, which: UndoOf = {}) =>
    call<{ revision: number }>('POST', `${project(id)}/undo`, { revision, ...which }),
  redo: (id: string, revision: number, which: UndoOf = {}) =>
    call<{ revision: number }>('POST', `${project(id)}/redo`, { revision, ...which }),
  startIntake: (id: string, revision: number, intake: Intake, into?: IntoSurface, codes?: readonly Code[]) =>
    call<Job>('POST', `${project(id)}/intakes`, { revision, intake, into, codes }),
  cancelSettling: (id: string) => call<void>('DELETE', `${project(id)}/settling`),
  settleAgain: (id: string) => call<void>('POST', `${project(id)}/settling`),
  stopJob: (id: string, job: string) => call<void>('DELETE', `${project(id)}/jobs/${job}`),
  packages: (id: string) => call<PackageCard[]>('GET', `${project(id)}/packages`),
  makePackage: (id: string, revision: number, spec: PackageSpec) =>
    call<{ id: string; manifest: Manifest }>('POST', `${project(id)}/packages`, { revision, spec }),
  withdrawPackage: (id: string, name: string, why: string) =>
    call<void>('POST', `${project(id)}/packages/${name}/withdraw`, { why }),
  deletePackage: (id: string, name: string) => call<void>('DELETE', `${project(id)}/packages/${name}`),

  findSystems: (find: string) => call<FoundSystem[]>('GET', `/systems?find=${encodeURIComponent(find)}`),
  system: (code: string) => call<PublishedSystem>('GET', `/systems/${encodeURIComponent(code)}`),
  systemsThere: (asked: SystemsThereRequest) => call<FoundThere>('POST', '/systems/there', asked),
  systemByParameters: (parameters: SystemParameters) => call<PublishedSystem>('POST', '/systems', { parameters }),
  systemByDefinition: (name: string, definition: string) =>
    call<PublishedSystem>('POST', '/systems', { name, definition }),
  factors: (id: string, places: [number, number, number | null][]) =>
    call<FactorsAnswer>('POST', `${project(id)}/factors`, { places }),
  gridFacts: (id: string, fileId: string) => call<GridFacts>('POST', `${project(id)}/grids`, { fileId }),
  history: (id: string, key: string) =>
    call<PointHistory>('GET', `${project(id)}/points/history?key=${encodeURIComponent(key)}`),

  volumeStory: (id: string, comparison: string, signal: AbortSignal) =>
    call<VolumeStory>(
      'GET',
      `${project(id)}/volume-story?comparison=${encodeURIComponent(comparison)}`,
      undefined,
      signal,
    ),

  people: (id: string) => call<People>('GET', `${project(id)}/people`),
  addMate: (id: string, account: string, role: Role) =>
    call<People>('POST', `${project(id)}/people`, { account, role }),
  setRole: (id: string, account: string, role: Role) =>
    call<People>('PATCH', `${project(id)}/people/${account}`, { role }),
  removePerson: (id: string, account: string) => call<void>('DELETE', `${project(id)}/people/${account}`),
  invite: (id: string, role: Role, days: number) =>
    call<{ token: string }>('POST', `${project(id)}/invitations`, { role, days }),
  withdraw: (id: string, invitation: string) => call<void>('DELETE', `${project(id)}/invitations/${invitation}`),
  offer: (token: string) => call<InvitationOffer>('GET', `/invitations/${encodeURIComponent(token)}`),
  takeInvitation: (token: string) =>
    call<{ project: string | null; already: boolean }>('POST', `/invitations/${encodeURIComponent(token)}`),
  checked: (id: string) => call<{ mark: CheckedMark | null; since: ChangeEntry[] }>('GET', `${project(id)}/checked`),
  markChecked: (id: string, revision: number, note: string) =>
    call<CheckedMark>('POST', `${project(id)}/checked`, { revision, note }),
  here: (id: string, presence: Pick<Presence, 'stage' | 'place'>) =>
    call<void>('POST', `${project(id)}/presence`, presence),

  teams: () => call<TeamCard[]>('GET', '/teams'),
  createTeam: (name: string) => call<{ id: string }>('POST', '/teams', { name }),
  patchTeam: (id: string, patch: { name?: string; start?: Start }) => call<void>('PATCH', `/teams/${id}`, patch),
  projectsOfTeam: (id: string) => call<FollowingProject[]>('GET', `/teams/${id}/projects`),
  followStart: (team: string, project: string, parts: readonly StartPart[], revision: number) =>
    call<{ revision: number }>('POST', `/teams/${team}/projects/${project}/follow`, { parts, revision }),
  inviteToTeam: (id: string, days: number) => call<{ token: string }>('POST', `/teams/${id}/invitations`, { days }),
  leaveTeam: (id: string, account: string) => call<void>('DELETE', `/teams/${id}/people/${account}`),
  sessions: () => call<SessionCard[]>('GET', '/account/sessions'),
  endSession: (id: string) => call<void>('DELETE', `/account/sessions/${id}`),
  deleteAccount: (password: string, withProjects: boolean) =>
    call<void>('DELETE', '/account', { password, withProjects }),
  resetOffer: (token: string) => call<PasswordResetOffer>('GET', `/password-resets/${encodeURIComponent(token)}`),
  resetPassword: (token: string, password: string) =>
    call<void>('POST', `/password-resets/${encodeURIComponent(token)}`, { password }),
  adminAccounts: (find: string) => call<AccountCard[]>('GET', `/admin/accounts?find=${encodeURIComponent(find)}`),
  adminPatch: (id: string, patch: { locked?: boolean; admin?: boolean }) =>
    call<AccountCard>('PATCH', `/admin/accounts/${id}`, patch),
  adminReset: (id: string) => call<{ token: string }>('POST', `/admin/accounts/${id}/password-reset`),
  adminSessions: (id: string) => call<SessionCard[]>('GET', `/admin/accounts/${id}/sessions`),
  adminEndSession: (id: string, session: string) => call<void>('DELETE', `/admin/accounts/${id}/sessions/${session}`),
  adminAudit: (find: string, before: number | null) =>
    call<AuditEntry[]>(
      'GET',
      `/admin/audit?find=${encodeURIComponent(find)}${before === null ? '' : `&before=${before}`}`,
    ),
  changePassword: (old: string, fresh: string) => call<void>('POST', '/account/password', { old, new: fresh }),

  codeLists: () => call<KeptCodeListCard[]>('GET', '/code-lists'),
  codeList: (id: string) => call<KeptCodeList>('GET', `/code-lists/${id}`),
  keepCodeList: (kept: z.input<typeof keepCodeListSchema>) =>
    call<{ id: string; revision: number }>('POST', '/code-lists', kept),

  layouts: () => call<SavedLayout[]>('GET', '/layouts'),
  /** A paper of a project; with `boxes`, letters that no font has are boxes. */
  paper: async (id: string, path: string, boxes: boolean): Promise<{ name: string; file: Blob; notes: string[] }> => {
    const asked = boxes ? `${path}${path.includes('?') ? '&' : '?'}boxes=yes` : path;
    const response = await fetch(`/api${project(id)}/${asked}`).catch(() => null);
    if (!response) throw new ApiProblem(0, { problem: 'The server does not answer. Try again.' });
    if (!response.ok) return answerOf(response);
    const notes = response.headers.get('Dunrik-Notes');
    return {
      name: nameOf(response),
      file: await response.blob(),
      notes: notes ? (JSON.parse(decodeURIComponent(notes)) as string[]) : [],
    };
  },
  /** Rows of text as a spreadsheet. */
  spreadsheet: async (project: string, sheet: { name: string; text: string; numeric: boolean[] }): Promise<Blob> => {
    const response = await fetch(`/api/projects/${project}/spreadsheet`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify(sheet),
    });
    if (!response.ok) throw new ApiProblem(response.status, (await response.json()) as Problem);
    return response.blob();
  },
  saveLayout: (name: string, layout: SavedLayout['layout'], signature: string, team: string | null = null) =>
    call<{ id: string }>('POST', '/layouts', { name, layout, signature, team }),

  /** Where one cause of another party's difference acts, packed. */
  async splitPieces(id: string, comparison: string, cause: string): Promise<Uint8Array> {
    const response = await fetch(`/api${project(id)}/split-pieces?comparison=${encodeURIComponent(comparison)}&cause=${cause}`); // prettier-ignore
    if (!response.ok) return answerOf<never>(response);
    return new Uint8Array(await response.arrayBuffer());
  },

  /** A result by its content hash; the browser keeps it, since it can never change. */
  async result(id: string, hash: string): Promise<Uint8Array> {
    const response = await fetch(`/api${project(id)}/results/${hash}`);
    if (!response.ok) return answerOf<never>(response);
    return new Uint8Array(await response.arrayBuffer());
  },

  /** Sends a file with progress (0 … 1); abort the signal to stop. */
  upload(
    id: string,
    file: File,
    onProgress: (share: number) => void,
    signal: AbortSignal,
  ): Promise<{ id: string; sha256: string }> {
    return new Promise((resolve, reject) => {
      const request = new XMLHttpRequest();
      request.open('POST', `/api${project(id)}/files?name=${encodeURIComponent(file.name)}`);
      request.setRequestHeader('Content-Type', 'application/octet-stream');
      request.upload.onprogress = (e) => e.lengthComputable && onProgress(e.loaded / e.total);
      request.onload = () =>
        answerOf<{ id: string; sha256: string }>(new Response(request.responseText, { status: request.status })).then(
          resolve,
          reject,
        );
      request.onerror = () =>
        reject(
          new ApiProblem(0, {
            problem: 'The connection broke while the file was sent. Nothing was imported; try again.',
          }),
        );
      request.onabort = () => reject(new ApiProblem(0, { problem: 'Sending was cancelled. Nothing was imported.' }));
      signal.addEventListener('abort', () => request.abort());
      request.send(file);
    });
  },
};

export const problemText = (error: unknown): string =>
  error instanceof Error ? error.message : 'Something went wrong.';
