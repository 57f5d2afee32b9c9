import { isTiff } from '#core/basis';
import { pictureKind, type Projective } from '#core/pictures';

/** What a picture file is, before anybody says anything of it. */
export interface OpenedPicture {
  kind: 'PNG' | 'JPEG' | 'TIFF' | 'PDF';
  /** Pixels of the picture, or of each page. */
  sizes: { width: number; height: number }[];
  /** Pages of which only the first so many are offered. */
  pages: number;
  /** Where the file itself says that it is, in metres, or in a unit that it does not say; null where it says no place. */
  matrix: Projective | null;
  isUnitSaid: boolean;
  /** The system that it says, as EPSG:… */
  system: string | null;
  /** Why what it says of its place is not taken. */
  remark: string | null;
}

/** What a file says of its place that says nothing. */
export const NO_PLACE = { matrix: null, isUnitSaid: true, system: null, remark: null } as const;

/** A part of a picture, pixels: its upper left corner and how large it is. */
export interface Part {
  column: number;
  row: number;
  width: number;
  height: number;
}

/** Of a part at most so many pixels wide and high, how many there are, and how large each is of the picture's. */
export function shownSize({ width, height }: Part, most: number): { width: number; height: number; by: number } {
  const by = most / Math.max(width, height);
  return { width: Math.max(1, Math.round(width * by)), height: Math.max(1, Math.round(height * by)), by };
}

const PDF_SIGN = '%PDF-';
/** The sign may stand behind some bytes (ISO 32000, the readers’ custom). */
const SIGN_WITHIN = 1024;

/** What tells a picture from all else is within so many bytes. */
const HEAD = 1100;

/** What a file is by its first bytes; null of what is no picture. */
export const kindOfFile = async (file: Blob): Promise<OpenedPicture['kind'] | null> =>
  kindOfPicture(new Uint8Array(await file.slice(0, HEAD).arrayBuffer()));

/** What a file is by what it holds; null of what is no picture. */
export function kindOfPicture(bytes: Uint8Array): OpenedPicture['kind'] | null {
  const image = pictureKind(bytes);
  if (image) return image;
  if (isTiff(bytes)) return 'TIFF';
  return new TextDecoder('latin1').decode(bytes.subarray(0, SIGN_WITHIN)).includes(PDF_SIGN) ? 'PDF' : null;
}
