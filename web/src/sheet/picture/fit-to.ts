import { extentOfPicture, type PictureSize, type Projective } from '#core/pictures';
import { sheetHandle } from '../handle.ts';

/** Brings all of a picture into view. */
export function fitTo(matrix: Readonly<Projective>, size: PictureSize): void {
  const [w, s, e, n] = extentOfPicture(matrix, size);
  sheetHandle.current?.fitTo([w, e], [s, n]);
}
