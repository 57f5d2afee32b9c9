import { expose, transfer } from 'comlink';
import { openPdf, pageBitmap } from './picture/pdf.ts';
import { openTiff, tiffBitmap } from './picture/tiff.ts';
import { openBitmap } from './picture/bitmap.ts';
import { kindOfPicture, type OpenedPicture } from './picture/opened.ts';

// Pictures are unpacked beside the page: what is shown of them comes back as one that the graphics card can take.

const work = {
  /** What a file is and how large, and where it says that it is; nothing of it is unpacked yet. */
  async open(file: Blob): Promise<OpenedPicture | { problem: string }> {
    const bytes = new Uint8Array(await file.arrayBuffer());
    try {
      switch (kindOfPicture(bytes)) {
        case 'PDF':
          return await openPdf(bytes);
        case 'TIFF':
          return await openTiff(bytes);
        default:
          return await openBitmap(file, bytes);
      }
    } catch (error) {
      return { problem: `It cannot be shown: ${(error as Error).message}` };
    }
  },

  /** The picture, or a page of it, at most so many pixels wide and high; null where it cannot be shown. */
  async show(file: Blob, page: number | undefined, most: number): Promise<ImageBitmap | null> {
    const bytes = new Uint8Array(await file.arrayBuffer());
    try {
      const kind = kindOfPicture(bytes);
      const shown = await (kind === 'PDF' ? pageBitmap(bytes, page ?? 1, most) : kind === 'TIFF' ? tiffBitmap(bytes, most) : bitmapOf(file, most)); // prettier-ignore
      return transfer(shown, [shown]);
    } catch {
      return null;
    }
  },
};

async function bitmapOf(file: Blob, most: number): Promise<ImageBitmap> {
  const whole = await createImageBitmap(file);
  const by = Math.min(1, most / Math.max(whole.width, whole.height));
  if (by === 1) return whole;
  try {
    return await createImageBitmap(whole, { resizeWidth: Math.max(1, Math.round(whole.width * by)), resizeHeight: Math.max(1, Math.round(whole.height * by)), resizeQuality: 'high' }); // prettier-ignore
  } finally {
    whole.close();
  }
}

export type PictureWork = typeof work;
expose(work);
