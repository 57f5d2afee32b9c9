import { hashOnce, hashValue } from '#core/kernel';
import type { ProjectDocument } from '#core/project';

// What several stages depend on of the document, as parts of their keys.

/** Edits file by file, in the order of their names, of the files that are asked for. */
export const editsKey = (
  { edits }: Pick<ProjectDocument, 'edits'>,
  of: (file: string) => boolean = () => true,
): [string, string][] =>
  Object.keys(edits)
    .filter(of)
    .sort()
    .map((file) => [file, hashOnce(edits[file])]);

/** What codes mean, and in whose words. */
export const codesKey = (doc: ProjectDocument): string =>
  hashValue(['codes', hashOnce(doc.codeList), doc.intakes.map((i) => i.words ?? null)]);
