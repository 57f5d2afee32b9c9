import { z } from 'zod';
import type { ChainSummary } from '#core/chain';
import { codeListSchema } from '#core/codes';
import {
  changeSchema,
  documentSchema,
  intakeSchema,
  bookLayoutSchema,
  layoutSchema,
  startSchema,
  surfaceSchema,
  type ChangeDetail,
  type GridRef,
  type Part,
  type Stage,
  type Start,
} from '#core/project';
import type { FoundSystem, GeographicArea, GridFactors } from '#core/basis';
import { packageSpecSchema, type Manifest } from '#core/handover';

// The HTTP interface between page and server. Types come from the schemas; both sides use them.

const name = z.string().trim().min(1, 'A name is needed.').max(120);

export const signInSchema = z.object({
  email: z.string().trim().min(3).max(200),
  password: z.string().min(1).max(400),
});
export const registerSchema = z.object({
  email: z
    .string()
    .trim()
    .max(200)
    .regex(/^[^\s@]+@[^\s@]+$/, 'This does not look like an e-mail address.'),
  name,
  password: z.string().min(12, 'At least 12 characters, please.').max(400),
  /** An invitation that brought them: it opens a door that is closed otherwise. */
  invitation: z.string().max(200).optional(),
});
const uuid = z.uuid();
export const newProjectSchema = z.object({
  name,
  description: z.string().trim().max(2000).default(''),
  team: uuid.nullable().default(null),
  /** Settings, basis and code list to begin with; the team's or our own where it is null. */
  start: startSchema.nullable().default(null),
  /** A project whose settings, basis and code list are taken over. */
  copy: uuid.nullable().default(null),
});
export const projectPatchSchema = z.object({
  name: name.optional(),
  description: z.string().trim().max(2000).optional(),
  archived: z.boolean().optional(),
});
export const ROLES = ['owner', 'surveyor', 'checker', 'crew', 'viewer'] as const;
export type Role = (typeof ROLES)[number];
export const roleSchema = z.object({ role: z.enum(ROLES) });
export const invitationSchema = z.object({ role: z.enum(ROLES), days: z.int().min(1).max(60) });
export const teamInvitationSchema = z.object({ days: z.int().min(1).max(60) });
export const addMemberSchema = z.object({ account: uuid, role: z.enum(ROLES) });
export const teamSchema = z.object({ name });
export const teamPatchSchema = z.object({ name: name.optional(), start: startSchema.optional() });
export const checkedSchema = z.object({ revision: z.int().min(1), note: z.string().trim().max(500).default('') });
export const presenceSchema = z.object({
  stage: z.enum(['basis', 'book', 'lines', 'ground', 'quantities', 'handover']),
  /** Middle of what is seen on the sheet, m; null when nothing is. */
  place: z.object({ x: z.number(), y: z.number() }).nullable(),
});
const freshPassword = z.string().min(12, 'At least 12 characters, please.').max(400);
export const passwordSchema = z.object({ old: z.string().min(1).max(400), new: freshPassword });
export const freshPasswordSchema = z.object({ password: freshPassword });
export const deleteAccountSchema = z.object({
  password: z.string().min(1).max(400),
  /** Projects that nobody else is in go too. */
  withProjects: z.boolean().default(false),
});
export const accountPatchSchema = z.object({ locked: z.boolean().optional(), admin: z.boolean().optional() });
export const factorsSchema = z.object({
  places: z
    .array(
      z.tuple([z.number().min(-1e8).max(1e8), z.number().min(-1e8).max(1e8), z.number().min(-1e5).max(1e5).nullable()]),
    )
    .min(1)
    .max(500),
});
const degreesSchema = z.number().min(-360).max(360);
const systemParametersSchema = z.object({
  name,
  method: z.enum(['tmerc', 'lcc1', 'lcc2', 'omerc', 'sterea', 'stere']),
  latitude: degreesSchema,
  longitude: degreesSchema,
  parallel1: degreesSchema.optional(),
  parallel2: degreesSchema.optional(),
  azimuth: degreesSchema.optional(),
  rectifiedAngle: degreesSchema.optional(),
  scale: z.number(),
  falseEast: z.number(),
  falseNorth: z.number(),
  ellipsoid: z.enum(['GRS80', 'WGS84', 'bessel', 'clrk66', 'clrk80ign', 'intl', 'airy', 'krass', 'evrst30']),
  datum: z.discriminatedUnion('kind', [
    z.object({ kind: z.literal('same') }),
    z.object({ kind: z.literal('parameters'), values: z.array(z.number()).max(7) }),
    z.object({ kind: z.literal('grid'), file: z.string().regex(/^[A-Za-z0-9_.-]{1,120}$/) }),
  ]),
});
/** A system by its parameters, or by a definition as PROJ writes it. */
export const systemRequestSchema = z.union([
  z.object({ parameters: systemParametersSchema }),
  z.object({ name, definition: z.string().min(5).max(800) }),
]);
export const gridRequestSchema = z.object({ fileId: z.string().min(1).max(40) });
/** PostgreSQL's largest whole number; no project has as many revisions. */
const revisionNumber = z.int().min(0).max(2_147_483_647);
/** `revision`: what the person was looking at; `mine`: revisions since then that came from the same page. */
export const changeRequestSchema = z.object({
  revision: revisionNumber,
  change: changeSchema,
  mine: z.array(revisionNumber).max(500).optional(),
});
export const undoRequestSchema = z.object({
  revision: revisionNumber,
  /** The revision of the change to take back, or to bring again; without it the newest of one’s own. */
  about: revisionNumber.optional(),
  /** Though somebody has changed the same since. */
  despite: z.boolean().default(false),
});
/** `into`: the surface that the file's points belong to, where they are a design: one that is there, or a new one. */
export const intakeRequestSchema = z.object({
  revision: revisionNumber,
  intake: intakeSchema,
  into: z
    .union([
      z.object({ id: surfaceSchema.shape.id }),
      z.object({ surface: surfaceSchema.pick({ id: true, name: true }) }),
    ])
    .optional(),
});
export const saveLayoutSchema = z.object({
  name: z.string().trim().min(1).max(80),
  layout: z.union([layoutSchema, bookLayoutSchema]),
  signature: z.string().max(400),
  team: z.uuid().nullable().default(null),
});
export const keepCodeListSchema = z.object({
  /** A kept list to which this is the next revision; null for a new one. */
  id: z.uuid().nullable().default(null),
  /** The revision that it began from. */
  base: z.int().min(0).default(0),
  name: z.string().trim().min(1).max(80),
  client: z.string().trim().max(80).default(''),
  team: z.uuid().nullable().default(null),
  list: codeListSchema,
});
export const packageRequestSchema = z.object({ revision: z.int().min(0), spec: packageSpecSchema });

export interface Account {
  id: string;
  name: string;
  email: string;
  isDemo: boolean;
  isAdmin: boolean;
}

/** An account as an administrator of the server sees it. */
export interface AccountCard extends Account {
  locked: boolean;
  madeAt: string;
  sessions: number;
  projects: number;
}

export interface AuditEntry {
  id: number;
  at: string;
  what: string;
  name: string;
  address: string;
  detail: string;
  project: string;
}

/** Whose password a link resets. */
export interface PasswordResetOffer {
  name: string;
  email: string;
}

/** Everything that is kept about a person; times are ISO 8601. */
export interface AccountExport {
  account: { name: string; email: string; madeAt: string; isAdmin: boolean };
  sessions: SessionCard[];
  projects: { id: string; name: string; role: string }[];
  teams: { id: string; name: string; role: string }[];
  files: { project: string; name: string; size: number; sha256: string; at: string }[];
  changes: { project: string; revision: number; at: string; what: string }[];
  checked: { project: string; revision: number; at: string; note: string }[];
  layouts: { name: string; layout: unknown }[];
  codeLists: { name: string; client: string; revision: number; list: unknown }[];
  audit: { at: string; what: string; address: string; detail: string }[];
}

export interface SessionState {
  account: Account | null;
  /** Whether a demo account can be entered with one click. */
  demo: boolean;
  /** Whether whoever comes may make an account. */
  registration: boolean;
}

export interface ProjectCard {
  id: string;
  name: string;
  description: string;
  archived: boolean;
  role: Role;
  team: string | null;
  revision: number;
  checkedRevision: number | null;
  changedAt: string;
  figures: { points: number; lines: number; openQueries: number } | null;
}

/** Content hashes of a settled revision's results. */
export interface SettledStages {
  reads: Record<string, string>;
  points: string;
  /** How books became points. */
  reduction: string;
  lines: string;
  /** By the surface's id. */
  surfaces: Record<string, string>;
  contours: Record<string, string>;
  pieces: Record<string, string>;
  summary: string;
  /** Intakes in the order that the points speak of them. */
  intakes?: string[];
  /** Of the computation that gave them: results of an older one are computed anew by themselves. */
  version?: number;
  figures?: { points: number; lines: number; openQueries: number };
}

export interface Settled {
  revision: number;
  stages: SettledStages;
}

export interface FileCard {
  id: string;
  name: string;
  size: number;
  sha256: string;
  receivedAt: string;
  receivedBy: string;
}

export interface Job {
  id: string;
  kind: 'intake' | 'settle' | 'package';
  what: string;
  share: number;
  state: 'working' | 'done' | 'stopped' | 'failed';
  message: string;
}

export interface ProjectState {
  project: { id: string; name: string; description: string; archived: boolean; role: Role };
  /** The newest mark, and how many revisions it no longer covers. */
  checked: CheckedMark | null;
  revision: number;
  document: z.infer<typeof documentSchema>;
  settled: Settled | null;
  /** Why the newest revision could not be computed; null while it is, or was. */
  problem: { revision: number; text: string } | null;
  /** What undo and redo would take back or bring again, in words. */
  undo: string | null;
  redo: string | null;
  files: FileCard[];
  jobs: Job[];
}

/** What a page says that it knows of a project; nothing of what it leaves out. */
export const knownSchema = z.object({
  since: z.coerce.number().int().min(0).optional(),
  settled: z.string().max(80).optional(),
  files: z.string().max(80).optional(),
});
export type Known = z.infer<typeof knownSchema>;

/** A project as it moved since a page last asked. */
export interface ProjectMoved extends Omit<ProjectState, 'document' | 'settled' | 'files'> {
  /** Whether the parts are all there are, and not those that moved since. */
  anew: boolean;
  parts: Part[];
  /** Left out where they are those of the mark that the page knows. */
  settled?: Settled | null;
  settledMark: string | null;
  files?: FileCard[];
  filesMark: string;
}

export interface CheckedMark {
  revision: number;
  by: string;
  at: string;
  note: string;
  /** Changes that still stand and came after it. */
  since: number;
}

export interface TeamCard {
  id: string;
  name: string;
  role: 'owner' | 'member';
  start: Start;
  members: { id: string; name: string; email: string; role: 'owner' | 'member' }[];
  invitations: InvitationCard[];
}

export interface InvitationCard {
  id: string;
  role: string;
  madeBy: string;
  madeAt: string;
  expiresAt: string;
  usedBy: string | null;
}

export interface People {
  members: { id: string; name: string; email: string; role: Role }[];
  invitations: InvitationCard[];
  /** People of the project's team who are not in the project yet. */
  mates: { id: string; name: string }[];
}

/** What an invitation's link leads to, before it is taken. */
export interface InvitationOffer {
  what: 'project' | 'team';
  name: string;
  role: string;
  by: string;
  expiresAt: string;
}

export interface SessionCard {
  id: string;
  since: string;
  seen: string;
  browser: string;
  own: boolean;
}

export interface PointHistory {
  entries: ChangeEntry[];
}

export interface FactorsAnswer {
  /** One a place; null where the system says nothing there. */
  list: ({ factors: GridFactors; geoidHeight: number | null } | null)[];
}

export interface GridFacts {
  ref: GridRef;
  use: 'geoid' | 'datum';
  areas: GeographicArea[];
  rows: number;
  columns: number;
}

export type { FoundSystem };

export interface Presence {
  account: string;
  name: string;
  stage: Stage;
  place: { x: number; y: number } | null;
}

export interface ChangeEntry {
  revision: number;
  at: string;
  by: string;
  kind: 'do' | 'undo' | 'redo';
  about: number | null;
  what: string;
  /** In the whole list: where it belongs, what it set, and why. */
  stage?: Stage;
  details?: ChangeDetail[];
  why?: string;
  /** Made by whoever asks, and not taken back: it can be. */
  mine?: boolean;
}

export interface SavedLayout {
  id: string;
  name: string;
  /** Of points, or of a field book’s rows. */
  layout: z.infer<typeof layoutSchema> | z.infer<typeof bookLayoutSchema>;
  signature: string;
  team: string | null;
}

/** A code list that is kept: its newest revision. */
export interface KeptCodeListCard {
  id: string;
  name: string;
  client: string;
  team: string | null;
  revision: number;
  codes: number;
  savedAt: string;
  savedBy: string;
}

export interface KeptCodeList {
  id: string;
  name: string;
  client: string;
  revision: number;
  list: z.infer<typeof codeListSchema>;
}

export interface PackageCard {
  id: string;
  revision: number;
  name: string;
  manifest: Manifest;
  madeAt: string;
  madeBy: string;
  size: number;
}

/** What is being computed of a revision. */
export interface Settling {
  revision: number;
  /** In words: “triangulating Existing ground”. */
  doing: string;
  /** 0 to 1. */
  share: number;
}

export type LiveEvent =
  | { type: 'revision'; project: string; revision: number; by: string }
  | { type: 'settled'; project: string; revision: number }
  | { type: 'unsettled'; project: string; revision: number }
  | ({ type: 'settling'; project: string } & Settling)
  /** A session has ended; `project` is the topic of that session. */
  | { type: 'ended'; project: string }
  | { type: 'packages'; project: string }
  | { type: 'people'; project: string }
  /** Its name, its description, or whether it is archived. */
  | { type: 'project'; project: string }
  | { type: 'checked'; project: string }
  | { type: 'here'; project: string; who: Presence }
  | { type: 'who'; project: string }
  | { type: 'left'; project: string; account: string }
  | { type: 'job'; project: string; job: Job };

/** Every refusal has this form. */
export interface Problem {
  problem: string;
  /** With a stale write, or what somebody has changed since: what changed, and what one’s own would set now. */
  since?: ChangeEntry[];
  yours?: ChangeDetail[];
  revision?: number;
}

export type Summary = ChainSummary;
