export * from './chain-run.ts';
export * from './difference.ts';
export * from './preview.ts';
export * from './stages.ts';
export * from './summary.ts';
export * from './volume-history.ts';
