import type { CodeAttribute, CodeItem } from '#core/codes';
import { makeAnew, type Keep } from '#core/kernel';
import { type ProjectDocument, codeReader } from '#core/project';
import { settleQuery, type Query } from '../query.ts';
import { pointKey, STATE, type PointTable } from '#core/stages';

const MOST = 200;

/** Attributes that are missing where they must be said, or say what their type does not take. */
export function queryAttributes(doc: ProjectDocument, points: PointTable, keep: Keep = makeAnew): Query[] {
  if (!doc.codeList.codes.some((c) => c.attributes?.length)) return [];
  const { x, y, intake, fileRow, number, description, state } = points;
  const files = doc.intakes.map((i) => [i.id, i.purpose, i.words ?? null]);
  return keep('attributes', [doc.codeList, files, doc.accepted, x, y, intake, fileRow, number, description, state], () => wrongAttributes(doc, points)); // prettier-ignore
}

function wrongAttributes(doc: ProjectDocument, points: PointTable): Query[] {
  const itemsOf = codeReader(doc);
  const out: Query[] = [];
  for (let row = 0; row < points.x.length && out.length < MOST; row++) {
    if (points.state[row] !== STATE.used || doc.intakes[points.intake[row]].purpose === 'control') continue;
    const text = points.description[row];
    const wrong = wrongIn(itemsOf(text, points.intake[row]));
    if (wrong === null) continue;
    const name = points.number[row] || `in row ${points.fileRow[row]}`;
    out.push(
      settleQuery(doc, {
        key: `attribute-wrong:${pointKey(doc, points, row)}`,
        kind: 'attribute-wrong',
        stage: 'lines',
        weight: 'note',
        text: `${name} “${text.slice(0, 60)}”: ${wrong}.`,
        evidence: [text, wrong],
        place: { x: points.x[row], y: points.y[row] },
        rows: [row],
        lines: [],
        remedies: [],
      }),
    );
  }
  return out;
}

function wrongIn(items: readonly CodeItem[]): string | null {
  for (const item of items)
    for (const a of item.known?.attributes ?? []) {
      const said = Object.hasOwn(item.attributes, a.name) ? item.attributes[a.name] : undefined;
      if (said === undefined && a.required) return `${item.code} must say ${a.name}`;
      if (said !== undefined && !fits(a, said)) return `${item.code} says ${a.name}=${said.slice(0, 30)}, ${wanted(a)}`;
    }
  return null;
}

function fits(a: CodeAttribute, said: string): boolean {
  if (a.type === 'number') return /^[+-]?(\d+([.,]\d*)?|[.,]\d+)$/.test(said);
  if (a.type === 'whole') return /^[+-]?\d+$/.test(said);
  if (a.type === 'yes-no') return /^(yes|no|y|n|1|0)$/i.test(said);
  if (a.type === 'choice') return (a.choices ?? []).some((c) => c.toLowerCase() === said.toLowerCase());
  return true;
}

function wanted(a: CodeAttribute): string {
  if (a.type === 'choice') return `which is none of ${(a.choices ?? []).join(', ')}`;
  return a.type === 'yes-no' ? 'which is neither yes nor no' : `which is no ${a.type === 'whole' ? 'whole number' : 'number'}`; // prettier-ignore
}
