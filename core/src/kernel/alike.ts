// What depends on some columns alone is not computed again when another one changed: an edited height leaves places in
// plan, codes and numbers as they were.

/** 1 where a column holds a number: for what depends on whether it is there, and not on how large it is. */
export function isThere(values: ArrayLike<number>): Uint8Array {
  const out = new Uint8Array(values.length);
  for (let i = 0; i < out.length; i++) if (values[i] === values[i]) out[i] = 1;
  return out;
}

/** Gives what the same inputs gave last time, or computes it. Without a memory it is computed each time. */
export type Keep = <T>(what: string, inputs: readonly unknown[], make: () => T) => T;

/** Keeps nothing. */
export const makeAnew: Keep = (_, __, make) => make();

/** Keeps the newest result of each kind with its inputs, which are compared by what they hold; of so many kinds, the last asked for. */
export function keepAlike(most = 500): Keep {
  const kept = new Map<string, { inputs: readonly unknown[]; made: unknown }>();
  const isAlike = likeness();
  return <T>(what: string, inputs: readonly unknown[], make: () => T): T => {
    const before = kept.get(what);
    kept.delete(what);
    const now = before && isAlike(before.inputs, inputs) ? before : { inputs, made: make() };
    kept.set(what, now);
    if (kept.size > most) kept.delete(kept.keys().next().value!);
    return now.made as T;
  };
}

/**
 * Whether inputs hold the same. A column that was found to hold what an earlier one holds is that one from then on, so
 * that of the many who ask about a column only the first reads it.
 */
function likeness(): (a: readonly unknown[], b: readonly unknown[]) => boolean {
  const first = new WeakMap<object, object>();
  const firstOf = (one: unknown): unknown => (typeof one === 'object' && one !== null ? (first.get(one) ?? one) : one);
  const same = (one: unknown, other: unknown): boolean => {
    const [a, b] = [firstOf(one), firstOf(other)];
    if (Object.is(a, b)) return true;
    if (!sameInput(a, b)) return false;
    first.set(b as object, a as object);
    return true;
  };
  return (a, b) => a.length === b.length && a.every((one, i) => same(one, b[i]));
}

/** Columns number by number and text by text; anything else by its text as JSON. */
function sameInput(a: unknown, b: unknown): boolean {
  if (Object.is(a, b)) return true;
  if (typeof a !== 'object' || typeof b !== 'object' || a === null || b === null) return false;
  if (isColumn(a) && isColumn(b)) return sameColumn(a, b);
  return !isColumn(a) && !isColumn(b) && JSON.stringify(a) === JSON.stringify(b);
}

export type Column = ArrayLike<number | string>;
const isColumn = (value: object): value is Column =>
  ArrayBuffer.isView(value) || (Array.isArray(value) && (value.length === 0 || typeof value[0] !== 'object'));

/** Whether two columns hold the same; not-a-number is the same as itself. */
export function sameColumn(a: Column, b: Column): boolean {
  if (a === b) return true;
  if (a.length !== b.length) return false;
  if (a instanceof Float64Array && b instanceof Float64Array) return sameDoubles(a, b);
  if (a instanceof Uint32Array && b instanceof Uint32Array) return sameWhole(a, b);
  if (a instanceof Uint8Array && b instanceof Uint8Array) return sameBytes(a, b);
  if (a instanceof Float32Array && b instanceof Float32Array) return sameSingles(a, b);
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

function sameBytes(a: Uint8Array, b: Uint8Array): boolean {
  for (let i = 0; i < a.length; i++) if (a[i] !== b[i]) return false;
  return true;
}

function sameSingles(a: Float32Array, b: Float32Array): boolean {
  for (let i = 0; i < a.length; i++) if (a[i] !== b[i] && !(a[i] !== a[i] && b[i] !== b[i])) return false;
  return true;
}

/** Lists of texts and numbers, in which now and then something else stands. */
function sameList(a: readonly unknown[], b: readonly unknown[]): boolean {
  for (let i = 0; i < a.length; i++)
    if (a[i] !== b[i] && !(a[i] !== a[i] && b[i] !== b[i]) && !sameInput(a[i], b[i])) return false;
  return true;
}

function sameValues(a: Column, b: Column): boolean {
  for (let i = 0; i < a.length; i++) if (a[i] !== b[i] && !(a[i] !== a[i] && b[i] !== b[i])) return false;
  return true;
}
