import { getDocument, GlobalWorkerOptions, type PDFDocumentProxy } from 'pdfjs-dist';
import reader from 'pdfjs-dist/build/pdf.worker.min.mjs?url';
import { NO_PLACE, shownSize, type OpenedPicture, type Part } from './opened.ts';

// Pages of PDF documents as pictures. What a document would run is never run.

GlobalWorkerOptions.workerSrc = reader;

/** A page is measured in pixels of this many to the inch, however fine it is drawn. */
const PIXELS_PER_INCH = 144;
const POINTS_PER_INCH = 72;
const MOST_PAGES = 200;

/** Fonts that every reader of PDF has to have. */
const FONTS = import.meta.glob<string>('../../../../node_modules/pdfjs-dist/standard_fonts/*.{pfb,ttf}', { query: '?url', import: 'default' }); // prettier-ignore

class StandardFonts {
  async fetch({ filename }: { filename: string }): Promise<Uint8Array> {
    const found = Object.entries(FONTS).find(([path]) => path.endsWith(`/${filename}`));
    if (!found) throw new Error(`There is no font ${filename}.`);
    return new Uint8Array(await (await fetch(await found[1]())).arrayBuffer());
  }
}

interface Drawn {
  canvas: OffscreenCanvas | null;
  context: OffscreenCanvasRenderingContext2D | null;
}

/** Canvases of a thread that has no page. */
class Canvases {
  create(width: number, height: number): Drawn {
    const canvas = new OffscreenCanvas(Math.max(1, width), Math.max(1, height));
    return { canvas, context: canvas.getContext('2d') };
  }
  reset({ canvas }: Drawn, width: number, height: number): void {
    if (canvas) Object.assign(canvas, { width, height });
  }
  destroy(drawn: Drawn): void {
    drawn.canvas = drawn.context = null;
  }
}

/** Filters are a page's own; without one, what asks for them is drawn as it is. */
class NoFilters {
  addFilter = (): string => 'none';
  addHCMFilter = (): string => 'none';
  addAlphaFilter = (): string => 'none';
  addLuminosityFilter = (): string => 'none';
  addHighlightHCMFilter = (): string => 'none';
  destroy = (): void => undefined;
}

async function withDocument<T>(bytes: Uint8Array, of: (document: PDFDocumentProxy) => Promise<T>): Promise<T> {
  const task = getDocument({
    data: bytes.slice(),
    isEvalSupported: false,
    disableFontFace: true,
    useSystemFonts: false,
    enableXfa: false,
    CanvasFactory: Canvases,
    FilterFactory: NoFilters,
    StandardFontDataFactory: StandardFonts,
    useWorkerFetch: false,
    verbosity: 0,
  } as Parameters<typeof getDocument>[0]);
  try {
    return await of(await task.promise);
  } finally {
    await task.destroy();
  }
}

/** The pages of a document and how large they are. */
export async function openPdf(bytes: Uint8Array): Promise<OpenedPicture | { problem: string }> {
  try {
    return await withDocument(bytes, async (document) => {
      const sizes: OpenedPicture['sizes'] = [];
      for (let page = 1; page <= Math.min(document.numPages, MOST_PAGES); page++) {
        const { width, height } = (await document.getPage(page)).getViewport({
          scale: PIXELS_PER_INCH / POINTS_PER_INCH,
        });
        sizes.push({ width: Math.max(1, Math.round(width)), height: Math.max(1, Math.round(height)) });
      }
      return { kind: 'PDF', sizes, pages: document.numPages, ...NO_PLACE };
    });
  } catch (error) {
    const needsPassword = (error as Error).name === 'PasswordException';
    return { problem: needsPassword ? 'The PDF is locked by a password. Ask the sender for one without.' : 'The PDF is damaged: its pages cannot be read.' }; // prettier-ignore
  }
}

/** A part of a page, drawn as fine as is asked for. */
export const pageBitmap = (bytes: Uint8Array, number: number, part: Part, most: number): Promise<ImageBitmap> =>
  withDocument(bytes, async (document) => {
    const page = await document.getPage(number);
    const { width, height, by } = shownSize(part, most);
    const scale = (by * PIXELS_PER_INCH) / POINTS_PER_INCH;
    const viewport = page.getViewport({ scale, offsetX: -part.column * by, offsetY: -part.row * by });
    const canvas = new OffscreenCanvas(width, height);
    const context = canvas.getContext('2d')!;
    await page.render({ canvasContext: context as unknown as CanvasRenderingContext2D, viewport, background: 'white' }).promise; // prettier-ignore
    return canvas.transferToImageBitmap();
  });
