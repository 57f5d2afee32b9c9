import type { PointEdit, ProjectDocument } from './document.ts';
import { recordOfKey } from './record-key.ts';

// Edits stand by file and row: a file of which much was edited costs the others nothing.

type Edited = Pick<ProjectDocument, 'edits'>;
type FileEdits = Readonly<Record<number, PointEdit | undefined>>;
const NONE: FileEdits = {};

/** Edits of one file's points or records, by their rows. */
export const editsOf = ({ edits }: Edited, intake: string): FileEdits =>
  (Object.hasOwn(edits, intake) ? edits[intake] : NONE) as FileEdits;

export const editOf = (doc: Edited, intake: string, row: number): PointEdit | undefined => editsOf(doc, intake)[row];

/** The edit under a key `intake:row`. */
export function editAt(doc: Edited, key: string): PointEdit | undefined {
  const at = recordOfKey(key);
  return at ? editOf(doc, at.intake, at.row) : undefined;
}

/** Every edit under its key, in the order of the keys whatever order they are kept in. */
export const editEntries = ({ edits }: Edited): [key: string, edit: PointEdit][] =>
  Object.keys(edits)
    .sort()
    .flatMap((intake) =>
      Object.keys(edits[intake])
        .sort((a, b) => Number(a) - Number(b))
        .map((row): [string, PointEdit] => [`${intake}:${row}`, edits[intake][row]]),
    );

/** Edits with some of them set anew, or taken away where there is none; files that they do not speak of stay as they are. */
export function withEdits(
  edits: ProjectDocument['edits'],
  set: Iterable<readonly [key: string, edit: PointEdit | null]>,
): ProjectDocument['edits'] {
  const all = { ...edits };
  const copied = new Set<string>();
  for (const [key, edit] of set) {
    const at = recordOfKey(key);
    if (!at) continue;
    const { intake, row } = at;
    if (!copied.has(intake)) all[intake] = Object.hasOwn(all, intake) ? { ...all[intake] } : {};
    copied.add(intake);
    if (edit) all[intake][row] = edit;
    else delete all[intake][row];
  }
  for (const intake of copied) if (isEmpty(all[intake])) delete all[intake];
  return all;
}

function isEmpty(object: object): boolean {
  for (const _ in object) return false;
  return true;
}
