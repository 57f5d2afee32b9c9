import {
  editEntries,
  DECISION,
  editText,
  type ChangeDetail,
  DECIDED,
  FIELD_NAME,
  type HistoryUnits,
  type ProjectDocument,
  whereOfKey,
} from '#core/project';

/** A change of the project’s history as it is told: who, when, why, and what it set. */
export interface ToldChange {
  by: string;
  /** ISO 8601. */
  at: string;
  why?: string;
  details?: readonly ChangeDetail[];
}

/** A value that is not as received: what stands now, what the file has, and who set it. */
export interface HandEdit {
  key: string;
  /** `row 12 of kerb.csv`. */
  where: string;
  field: string;
  received: string;
  now: string;
  /** Empty where the history told does not reach back so far. */
  by: string;
  at: string;
  why: string;
}

/**
 * Every value set and every decision taken by hand that stands now, in the order of the document; `history` newest first.
 * Files that are gone are skipped.
 */
export function handEdits(
  doc: Pick<ProjectDocument, 'edits' | 'decisions' | 'intakes'>,
  history: readonly ToldChange[],
  units: HistoryUnits,
): HandEdit[] {
  const files = new Map(doc.intakes.map((i) => [i.id, i.fileName]));
  const told = new Map<string, { change: ToldChange; detail: ChangeDetail }[]>();
  for (const change of history)
    for (const detail of change.details ?? []) {
      const at = `${detail.key} ${detail.name}`;
      const list = told.get(at);
      if (list) list.push({ change, detail });
      else told.set(at, [{ change, detail }]);
    }
  const one = (key: string, name: string, field: string, now: string): HandEdit[] => {
    const where = whereOfKey(key, files);
    if (where === null) return [];
    const list = told.get(`${key} ${name}`) ?? [];
    const [last] = list;
    return [{
      key,
      where,
      field,
      received: list.find((t) => t.detail.received !== undefined)?.detail.received ?? (name === DECISION ? 'by the rules' : 'as received'), // prettier-ignore
      now,
      by: last?.change.by ?? '',
      at: last?.change.at ?? '',
      why: last?.change.why ?? '',
    }]; // prettier-ignore
  };
  return [
    ...editEntries(doc).flatMap(
      ([key, edit]) =>
      Object.entries(edit).flatMap(([name, value]) => one(key, name, FIELD_NAME[name] ?? name, editText(name, value, units))), // prettier-ignore
    ),
    ...Object.entries(doc.decisions).flatMap(([key, d]) => one(key, DECISION, 'decision', DECIDED[d])),
  ];
}
