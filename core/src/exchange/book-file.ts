import { isBookText, readBookText, readByLayout, type Book, type BookLayout } from '#core/book';
import { isLandXmlSurvey } from './landxml/recognise.ts';
import { readLandXmlSurvey } from './landxml/survey-read.ts';

export type BookForm = 'text' | 'landxml' | 'layout';

export interface ReadBook {
  book: Book;
  form: BookForm;
  /** Rows of GNSS records whose x and y are longitude and latitude in degrees. */
  geographic: number[];
}

/** The form of a field book that a text shows by itself, or null: then it takes a layout. */
export const bookFormOf = (text: string): BookForm | null =>
  isBookText(text) ? 'text' : isLandXmlSurvey(text) ? 'landxml' : null;

/** Reads a field book in whichever form it stands. Null when the caller stopped it, or where it takes a layout and has none. */
export function readBookFile(
  text: string,
  layout: BookLayout | null,
  onProgress?: (share: number) => boolean | void,
): ReadBook | null {
  const form = layout ? 'layout' : bookFormOf(text);
  if (form === 'landxml') {
    const read = readLandXmlSurvey(text, onProgress);
    return read && { ...read, form };
  }
  const book =
    form === 'text' ? readBookText(text, onProgress) : layout ? readByLayout(text, layout, onProgress) : null;
  return book && { book, form: form!, geographic: [] };
}
