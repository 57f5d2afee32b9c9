export * from './difference.ts';
export * from './memory.ts';
export * from './run.ts';
