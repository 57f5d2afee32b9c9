import type { DxfEntities } from './content.ts';

// What an entity is to us travels with it as extended data, which programs keep through edits (DXF reference): under the name
// of our application, registered in the drawing's own table.

export const APPLICATION = 'DUNRIK';
export const APPLICATION_GROUP = 1001;

/** What an entity shows: a point of the project, the course of a line in space or in plan, a label. */
export type OwnKind = 'point' | 'line' | 'plan' | 'label';

export interface Own {
  kind: OwnKind;
  /** Key of the point, the line or the label; of its parts between gaps each has a number. */
  key: string;
  part: number;
}

/** As it is written: extended data hold at most 255 letters a text. */
export const ownText = ({ kind, key, part }: Own): string => `${kind} ${part} ${key}`;

/** What an entity says that it is to us, and of which package it was, by when that was made; null of what is not ours. */
export function readOwn(text: string | undefined): (Own & { sent: string | null }) | null {
  if (text === undefined) return null;
  const [of, sent] = text.split('\n');
  const found = /^(point|line|plan|label) (\d{1,5}) ?(.{0,200})$/.exec(of);
  return found ? { kind: found[1] as OwnKind, part: Number(found[2]), key: found[3], sent: sent || null } : null;
}

/** How many things of a drawing say what they are to us, and when the package was made that most of them were of. */
export interface SentWith {
  ours: number;
  sent: string | null;
}

/** What a drawing says of itself: whether it is ours, and by when its package was made which it was. */
export function sentWith(content: Pick<DxfEntities, 'points' | 'polylines' | 'inserts'>): SentWith {
  let ours = 0;
  const sent = new Map<string, number>();
  for (const list of [content.points, content.polylines, content.inserts])
    for (const { own } of list) {
      const said = readOwn(own);
      if (!said) continue;
      ours++;
      if (said.sent) sent.set(said.sent, (sent.get(said.sent) ?? 0) + 1);
    }
  const [most] = [...sent].sort((a, b) => b[1] - a[1] || (a[0] < b[0] ? -1 : 1));
  return { ours, sent: most?.[0] ?? null };
}
