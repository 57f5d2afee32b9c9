/**
 * A text without what it ends in of these characters. A pattern anchored at the end alone, as /[ ;]+$/, tries from every
 * place: on a hostile file that is the square of its length.
 */
export function withoutTail(text: string, characters: string): string {
  let end = text.length;
  while (end > 0 && characters.includes(text[end - 1])) end--;
  return text.slice(0, end);
}

/** A text up to the first of these characters, the whole where none of them is in it. */
export function before(text: string, characters: string): string {
  for (let i = 0; i < text.length; i++) if (characters.includes(text[i])) return text.slice(0, i);
  return text;
}

export const DIGITS = '0123456789';
