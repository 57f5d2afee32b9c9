export { FEWEST_MARKS, fitPicture, PICTURE_FITS, type PictureFitKind, type PictureMark } from './fit.ts';
export { pictureKind, pictureSize } from './picture-size.ts';
export { inMetres, placedInView, scaledByLength, type PictureSize } from './placing.ts';
export { cornersOf, extentOfPicture, invertProjective, placeOf, shiftedBy, type Projective } from './projective.ts';
export { readTiffPicture } from './tiff-picture.ts';
export { tiffPlace, type TiffTags } from './tiff-place.ts';
export { pixelSize, tracingPrecision } from './tracing-precision.ts';
export { isWorldFile, readWorldFile } from './world-file.ts';
