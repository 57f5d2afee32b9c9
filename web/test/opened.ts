import { vi } from 'vitest';
import type { ProjectState } from '#contract';
import type { Change, ProjectDocument } from '#core/project';
import { useProject } from '../src/project-state/store.ts';
import type { Project } from './tables.ts';

type Role = ProjectState['project']['role'];

/**
 * Opens a project on the page without a server: what would be written or proposed is caught, and what is written is
 * taken as accepted. `with` puts more of the page's state beside it.
 */
export function opened(
  { doc, tables }: Pick<Project, 'doc' | 'tables'>,
  { role = 'surveyor', ...more }: { role?: Role } & Partial<ReturnType<typeof useProject.getState>> = {},
) {
  const spies = {
    make: vi.fn((_: Change, __?: number) => Promise.resolve(true)),
    propose: vi.fn((_: string, __: Change, ___?: string) => Promise.resolve()),
    accept: vi.fn((_?: string) => Promise.resolve()),
    cancel: vi.fn(),
    takeBack: vi.fn(() => Promise.resolve()),
    tell: vi.fn((_: string | null) => undefined),
  };
  useProject.setState({
    id: 'p',
    state: stateOf(doc, role),
    tables,
    busy: false,
    pending: null,
    traced: null,
    selection: null,
    imported: null,
    ...spies,
    ...more,
  });
  return spies;
}

/** What the server says of a project whose newest revision is computed. */
export const stateOf = (document: ProjectDocument, role: Role = 'surveyor'): ProjectState => ({
  project: { id: 'p', name: 'Test site', description: '', archived: false, role },
  checked: null,
  revision: 1,
  document,
  settled: null,
  problem: null,
  undo: null,
  redo: null,
  files: [],
  jobs: [],
});

/** The changes that were written, in their order. */
export const written = ({ make }: Pick<ReturnType<typeof opened>, 'make'>): Change[] =>
  make.mock.calls.map(([change]) => change);

/** The edits of points and records that were proposed, each with its title and why. */
export const editsProposed = ({ propose }: Pick<ReturnType<typeof opened>, 'propose'>) =>
  propose.mock.calls.flatMap(([title, change]) =>
    change.op === 'points.edit' ? [{ title, edits: change.edits, why: change.why }] : [],
  );
