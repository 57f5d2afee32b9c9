import { cornersOf, type PictureSize, type Projective } from '#core/pictures';
import { sheetHandle } from '../handle.ts';

/** Brings all of a picture into view. */
export function fitTo(matrix: Readonly<Projective>, size: PictureSize): void {
  const corners = cornersOf(matrix, size);
  sheetHandle.current?.fitTo(
    corners.filter((_, i) => i % 2 === 0),
    corners.filter((_, i) => i % 2 === 1),
  );
}
