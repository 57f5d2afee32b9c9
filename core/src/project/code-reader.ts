import { indexCodes, readDescription, type CodeIndex, type CodeItem } from '#core/codes';
import type { ProjectDocument } from './document.ts';

/** The list with the words of each file's crew. */
export function indexesOf(doc: ProjectDocument): (intake: number) => CodeIndex {
  const shared = indexCodes(doc.codeList);
  const own = doc.intakes.map((i) => (i.words ? indexCodes(doc.codeList, i.words) : shared));
  return (intake) => own[intake] ?? shared;
}

/** More descriptions than this are read anew. */
const MOST_READ = 50_000;

/** Codes of a description by the words of its file; each text is read once for each setting of words. */
export function codeReader(doc: ProjectDocument): (description: string, intake: number) => CodeItem[] {
  const indexOf = indexesOf(doc);
  const seen = new Map<CodeIndex, Map<string, CodeItem[]>>();
  return (description, intake) => {
    const index = indexOf(intake);
    let texts = seen.get(index);
    if (!texts) seen.set(index, (texts = new Map()));
    let items = texts.get(description);
    if (!items) {
      items = readDescription(description, index).items;
      if (texts.size < MOST_READ) texts.set(description, items);
    }
    return items;
  };
}
