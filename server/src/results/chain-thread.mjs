// A worker thread starts from here: it needs its own way to read TypeScript before the tasks can be loaded.
import { register } from 'tsx/esm/api';

register();
// A package that reads grids looks for the browser's Worker on import and, finding none in a thread, fails;
// nothing here starts one.
globalThis.Worker ??= class {};
const tasks = await import('./chain-worker.ts');
export const readOriginal = tasks.readOriginal;
export const settle = tasks.settle;
export const packageFiles = tasks.packageFiles;
export const volumesBefore = tasks.volumesBefore;
export const { makeQuantityReport } = await import('../paper/quantity-thread.ts');
export const { makeReport, makePaper, makeSurfaceReport } = await import('../paper/report-thread.ts');
export const { splitPieces } = await import('../projects/split-thread.ts');
export const { makeSections } = await import('../paper/sections-thread.ts');
export const readReceived = (await import('../projects/received-thread.ts')).readReceived;
export const drawPlots = (await import('../paper/plot-thread.ts')).drawPlots;
