import { pictureSize } from '#core/pictures';
import type { OpenedPicture } from './opened.ts';

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
  return { kind: said.kind, sizes: [size], pages: 1, matrix: null, remark: null };
}
