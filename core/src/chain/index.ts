export * from './chain-run.ts';
export * from './difference.ts';
export * from './memory.ts';
export * from './preview.ts';
export * from './stage-settings.ts';
export * from './stages.ts';
export * from './summary.ts';
