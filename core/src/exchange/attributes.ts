import { before } from '#core/kernel';

// What attributes of shapes and features say, whatever their file calls them.

export type Attributes = Readonly<Record<string, unknown>>;

/** Attributes that say on which layer something is, the number of a point, an elevation; the first that is there, in capitals. */
export const LAYER = ['LAYER', 'CODE', 'TYPE', 'KIND', 'CLASS'];
export const NUMBER = ['NUMBER', 'POINT', 'NAME', 'ID'];
export const ELEVATION = ['ELEVATION', 'ELEV', 'Z', 'HEIGHT', 'CONTOUR', 'LEVEL'];

/** Fields of a fixed length are filled up behind. */
export const clean = (text: string): string => before(text, '\0').trim();

/** A text or a number as it is read; nothing of all else. */
export const textOf = (value: unknown): string => (typeof value === 'string' ? clean(value) : typeof value === 'number' && Number.isFinite(value) ? String(value) : ''); // prettier-ignore

export const numberOf = (value: unknown): number => (typeof value === 'number' && Number.isFinite(value) ? value : NaN);
