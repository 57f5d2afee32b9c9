import { expose, transfer } from 'comlink';
import { openPdf, pageBitmap } from './picture/pdf.ts';
import { openTiff, tiffBitmap } from './picture/tiff.ts';
import { openBitmap, partOf } from './picture/bitmap.ts';
import { kindOfFile, kindOfPicture, type OpenedPicture, type Part } from './picture/opened.ts';

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

  /**
   * A part of the picture, or of a page of it, at most so many pixels wide and high; null where it cannot be shown. `key`
   * tells its bytes from all others.
   */
  async show(key: string, file: Blob, page: number | undefined, part: Part, most: number): Promise<ImageBitmap | null> {
    try {
      const kind = await kindOfFile(file);
      const shown =
        kind === 'PDF'
          ? await pageBitmap(await bytesOf(file), page ?? 1, part, most)
          : kind === 'TIFF'
            ? await tiffBitmap(await bytesOf(file), part, most)
            : await partOf(key, file, part, most);
      return transfer(shown, [shown]);
    } catch {
      return null;
    }
  },
};

const bytesOf = async (file: Blob): Promise<Uint8Array> => new Uint8Array(await file.arrayBuffer());

export type PictureWork = typeof work;
expose(work);
