import { pictureSize } from '#core/pictures';
import { NO_PLACE, shownSize, type OpenedPicture, type Part } from './opened.ts';

/** A PNG or a JPEG; a photograph is taken the way up that its camera says. */
export async function openBitmap(file: Blob, bytes: Uint8Array): Promise<OpenedPicture | { problem: string }> {
  const said = pictureSize(bytes);
  if (!said.ok) return { problem: said.reason };
  let whole: ImageBitmap;
  try {
    whole = await createImageBitmap(file);
  } catch {
    return { problem: `The ${said.kind} is damaged: it cannot be unpacked.` };
  }
  const size = { width: whole.width, height: whole.height };
  whole.close();
  return { kind: said.kind, sizes: [size], pages: 1, ...NO_PLACE };
}

/** The picture that was asked for last, unpacked: further parts of it come without unpacking it again. */
let last: { key: string; whole: ImageBitmap } | null = null;

/** A part of a PNG or a JPEG, never finer than the picture is. */
export async function partOf(key: string, file: Blob, part: Part, most: number): Promise<ImageBitmap> {
  if (last?.key !== key) {
    last?.whole.close();
    last = null;
    last = { key, whole: await createImageBitmap(file) };
  }
  const { width, height, by } = shownSize(part, most);
  const { column, row } = part;
  return by < 1
    ? createImageBitmap(last.whole, column, row, part.width, part.height, { resizeWidth: width, resizeHeight: height, resizeQuality: 'high' }) // prettier-ignore
    : createImageBitmap(last.whole, column, row, part.width, part.height);
}
