export * from './arcs.ts';
export * from './build.ts';
