// What depends on some columns alone is not computed again when another one changed: an edited height leaves places in
// plan, codes and numbers as they were.

/** Gives what the same inputs gave last time, or computes it. Without a memory it is computed each time. */
export type Keep = <T>(what: string, inputs: readonly unknown[], make: () => T) => T;

/** Keeps nothing. */
export const makeAnew: Keep = (_, __, make) => make();

/** Keeps the newest result of each kind with its inputs, which are compared by what they hold; of so many kinds, the last asked for. */
export function keepAlike(most = 200): Keep {
  const kept = new Map<string, { inputs: readonly unknown[]; made: unknown }>();
  return <T>(what: string, inputs: readonly unknown[], make: () => T): T => {
    const before = kept.get(what);
    kept.delete(what);
    const now = before && isAlike(before.inputs, inputs) ? before : { inputs, made: make() };
    kept.set(what, now);
    if (kept.size > most) kept.delete(kept.keys().next().value!);
    return now.made as T;
  };
}

const isAlike = (a: readonly unknown[], b: readonly unknown[]): boolean =>
  a.length === b.length && a.every((one, i) => sameInput(one, b[i]));

/** Columns number by number and text by text; anything else by its text as JSON. */
function sameInput(a: unknown, b: unknown): boolean {
  if (Object.is(a, b)) return true;
  if (typeof a !== 'object' || typeof b !== 'object' || a === null || b === null) return false;
  if (isColumn(a) && isColumn(b)) return sameColumn(a, b);
  return !isColumn(a) && !isColumn(b) && JSON.stringify(a) === JSON.stringify(b);
}

type Column = ArrayLike<number | string>;
const isColumn = (value: object): value is Column =>
  ArrayBuffer.isView(value) || (Array.isArray(value) && (value.length === 0 || typeof value[0] !== 'object'));

/** Whether two columns hold the same; not-a-number is the same as itself. */
export function sameColumn(a: Column, b: Column): boolean {
  if (a === b) return true;
  if (a.length !== b.length) return false;
  if (a instanceof Float64Array && b instanceof Float64Array) return sameDoubles(a, b);
  if (a instanceof Uint32Array && b instanceof Uint32Array) return sameWhole(a, b);
  return Array.isArray(a) && Array.isArray(b) ? sameList(a, b) : sameValues(a, b);
}

// One loop for each kind of column: a loop that meets all of them is slow for each.

function sameDoubles(a: Float64Array, b: Float64Array): boolean {
  for (let i = 0; i < a.length; i++) if (a[i] !== b[i] && !(a[i] !== a[i] && b[i] !== b[i])) return false;
  return true;
}

function sameWhole(a: Uint32Array, b: Uint32Array): boolean {
  for (let i = 0; i < a.length; i++) if (a[i] !== b[i]) return false;
  return true;
}

function sameList(a: readonly unknown[], b: readonly unknown[]): boolean {
  for (let i = 0; i < a.length; i++) if (a[i] !== b[i] && !(a[i] !== a[i] && b[i] !== b[i])) return false;
  return true;
}

function sameValues(a: Column, b: Column): boolean {
  for (let i = 0; i < a.length; i++) if (a[i] !== b[i] && !(a[i] !== a[i] && b[i] !== b[i])) return false;
  return true;
}
