export * from './types.ts';
export * from './points.ts';
export * from './corrections.ts';
export * from './pointings.ts';
export * from './measure.ts';
export * from './orient.ts';
export * from './resection.ts';
export * from './reduce.ts';
