// A worker thread starts from here: it needs its own way to read TypeScript before the tasks can be loaded.
import { register } from 'tsx/esm/api';

register();
const tasks = await import('./chain-worker.ts');
export const readOriginal = tasks.readOriginal;
export const runStages = tasks.runStages;
export const packageFiles = tasks.packageFiles;
