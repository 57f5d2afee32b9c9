const PLAIN_NUMBER = /^[+-]?(?:\d+(?:\.\d*)?|\.\d+)(?:[eE][+-]?\d{1,3})?$/;

/**
 * A decimal number as files of the trade write it, blanks around it allowed, or NaN. Nothing else is one: no
 * hexadecimal, no empty text, no `12.5abc`, nothing beyond what a number can hold.
 */
export function plainNumber(text: string): number {
  const trimmed = text.trim();
  const value = PLAIN_NUMBER.test(trimmed) ? Number(trimmed) : NaN;
  return Number.isFinite(value) ? value : NaN;
}
