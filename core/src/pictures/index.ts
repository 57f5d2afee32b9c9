export {
  FEWEST_MARKS,
  fitPicture,
  PICTURE_FITS,
  type MarkResidual,
  type PictureFit,
  type PictureFitKind,
  type PictureMark,
} from './fit.ts';
export { MOST_PIXELS, pictureKind, pictureSize, type PictureKind } from './picture-size.ts';
export { placedInView, scaledByLength, type KnownLength, type PictureSize } from './placing.ts';
export { cornersOf, invertProjective, placeOf, shiftedBy, type Projective } from './projective.ts';
export { readTiffPicture } from './tiff-picture.ts';
export { tiffPlace, type TiffTags } from './tiff-place.ts';
export { isWorldFile, readWorldFile } from './world-file.ts';
