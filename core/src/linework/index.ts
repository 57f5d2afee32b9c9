export * from './arcs.ts';
export * from './build.ts';
export * from './line.ts';
export * from './parallel.ts';
export * from './shape.ts';
export * from './slips.ts';
export * from './thread.ts';
