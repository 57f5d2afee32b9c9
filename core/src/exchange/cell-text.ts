/** A text as the field of a row whose fields are separated by tabs. */
export const cell = (value: string): string => value.replace(/[\t\r\n"]+/g, ' ').trim();
