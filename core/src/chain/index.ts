export * from './document.ts';
export * from './changes.ts';
export * from './points.ts';
export * from './query.ts';
export * from './ground.ts';
export * from './run.ts';
export * from './packs.ts';
export * from './difference.ts';
