import type { Code, CodeList } from './code.ts';

export interface ListDifference {
  added: Code[];
  gone: Code[];
  changed: { from: Code; to: Code; fields: string[] }[];
  /** Meanings whose word differs, and whether the form of words does. */
  words: string[];
}

/** What another list has more, less and otherwise, code by code. */
export function compareLists(here: CodeList, there: CodeList): ListDifference {
  const own = new Map(here.codes.map((c) => [c.code.toUpperCase(), c]));
  const others = new Map(there.codes.map((c) => [c.code.toUpperCase(), c]));
  const changed = there.codes.flatMap((to) => {
    const from = own.get(to.code.toUpperCase());
    if (!from) return [];
    const keys = new Set([...Object.keys(from), ...Object.keys(to)]) as Set<keyof Code>;
    const fields = [...keys].filter((k) => JSON.stringify(from[k]) !== JSON.stringify(to[k]));
    return fields.length ? [{ from, to, fields }] : [];
  });
  const words = [...new Set([...Object.keys(here.words), ...Object.keys(there.words)])].filter(
    (k) => JSON.stringify(here.words[k as keyof typeof here.words]) !== JSON.stringify(there.words[k as keyof typeof there.words]), // prettier-ignore
  );
  return {
    added: there.codes.filter((c) => !own.has(c.code.toUpperCase())),
    gone: here.codes.filter((c) => !others.has(c.code.toUpperCase())),
    changed,
    words,
  };
}
