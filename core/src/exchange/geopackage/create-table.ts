/** Words that begin what is no column. */
const CONSTRAINTS = new Set('CONSTRAINT PRIMARY UNIQUE CHECK FOREIGN'.split(' '));
const MOST_COLUMNS = 2000;
/** By what a name may be set off, and what ends it. */
const QUOTES: Readonly<Record<string, string>> = { '"': '"', '`': '`', '[': ']', "'": "'" };

/** Columns of a table in their order, of the sentence that made it; `isRowid`: it is kept as the number of the row. */
export function columnsOfTable(sql: string): { name: string; isRowid: boolean }[] {
  return partsWithin(sql)
    .slice(0, MOST_COLUMNS)
    .flatMap((part) => {
      const { name, rest, quoted } = nameOf(part);
      if (!quoted && CONSTRAINTS.has(name.toUpperCase())) return [];
      return [{ name, isRowid: /^\s*INTEGER\b/i.test(rest) && /\bPRIMARY\s+KEY\b/i.test(rest) }];
    });
}

/** What stands between commas within the outermost brackets. */
function partsWithin(sql: string): string[] {
  const out: string[] = [];
  let depth = 0;
  let from = 0;
  for (let i = 0; i < sql.length; i++) {
    const c = sql[i];
    const end = QUOTES[c];
    if (end !== undefined) {
      const to = sql.indexOf(end, i + 1);
      if (to < 0) break;
      i = to;
    } else if (c === '(' && depth++ === 0) from = i + 1;
    else if (c === ',' && depth === 1) {
      out.push(sql.slice(from, i));
      from = i + 1;
    } else if (c === ')' && --depth === 0) {
      out.push(sql.slice(from, i));
      break;
    }
  }
  return out.map((p) => p.trim()).filter(Boolean);
}

function nameOf(part: string): { name: string; rest: string; quoted: boolean } {
  const end = QUOTES[part[0]];
  const to = end === undefined ? part.search(/[\s(]/) : part.indexOf(end, 1);
  if (to < 0) return { name: end === undefined ? part : part.slice(1), rest: '', quoted: end !== undefined };
  return { name: part.slice(end === undefined ? 0 : 1, to), rest: part.slice(to + (end === undefined ? 0 : 1)), quoted: end !== undefined }; // prettier-ignore
}
