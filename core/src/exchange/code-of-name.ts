/** As long as a code may be. */
const LONGEST_CODE = 16;

/** A name as a code: one word, no signs that mean something among codes; a digit at its end would be read as a line number. */
export function codeOfName(name: unknown): string {
  const plain = (typeof name === 'string' ? name : '').trim().toUpperCase().replace(/[\s/"=*]+/g, '_').slice(0, LONGEST_CODE); // prettier-ignore
  const named = /^[\d.,+-]*$/.test(plain) ? `L${plain}` : plain;
  return /\d$/.test(named) ? `${named.slice(0, LONGEST_CODE - 1)}_` : named;
}
