import { wrap, type Remote } from 'comlink';
import type { ChainWork } from './chain.worker.ts';
import type { IntakeWork } from './intake.worker.ts';
import type { PictureWork } from './picture.worker.ts';
import type { PlotWork } from './plot.worker.ts';
import { filesOfZip, type Unzipped } from './open-zip.ts';
import type { SheetWork } from './sheet.worker.ts';
import type { ZipWork } from './zip.worker.ts';

let chain: Remote<ChainWork> | null = null;
let sheet: Remote<SheetWork> | null = null;
let plot: Remote<PlotWork> | null = null;

export const chainWork = (): Remote<ChainWork> =>
  (chain ??= wrap<ChainWork>(
    new Worker(new URL('./chain.worker.ts', import.meta.url), { type: 'module', name: 'chain' }),
  ));

export const sheetWork = (): Remote<SheetWork> =>
  (sheet ??= wrap<SheetWork>(
    new Worker(new URL('./sheet.worker.ts', import.meta.url), { type: 'module', name: 'sheet' }),
  ));

export const plotWork = (): Remote<PlotWork> =>
  (plot ??= wrap<PlotWork>(new Worker(new URL('./plot.worker.ts', import.meta.url), { type: 'module', name: 'plot' })));

/** The files of a zip; the thread that unpacks them ends with it. Without threads, as in tests, they are unpacked here. */
export async function unpackZip(bytes: Uint8Array, path: string): Promise<Unzipped[]> {
  if (typeof Worker === 'undefined') return filesOfZip(bytes, path);
  const worker = new Worker(new URL('./zip.worker.ts', import.meta.url), { type: 'module', name: 'zip' });
  try {
    return await wrap<ZipWork>(worker).open(bytes, path);
  } finally {
    worker.terminate();
  }
}

/** A worker for one intake; ended with it, which also stops whatever it is reading. */
export function startIntakeWork(): { work: Remote<IntakeWork>; end: () => void } {
  const worker = new Worker(new URL('./intake.worker.ts', import.meta.url), { type: 'module', name: 'intake' });
  return { work: wrap<IntakeWork>(worker), end: () => worker.terminate() };
}

let picture: Remote<PictureWork> | null = null;

const pictureThread = (): Worker =>
  new Worker(new URL('./picture.worker.ts', import.meta.url), { type: 'module', name: 'picture' });

/** Unpacks pictures for the drawing. */
export const pictureWork = (): Remote<PictureWork> => (picture ??= wrap<PictureWork>(pictureThread()));

/** A worker for one picture that is being looked at; ended with it, whatever the file makes it do. */
export function startPictureWork(): { work: Remote<PictureWork>; end: () => void } {
  const worker = pictureThread();
  return { work: wrap<PictureWork>(worker), end: () => worker.terminate() };
}
