export * from './drawing.ts';
export * from './read-back.ts';
export * from './coordinates.ts';
export * from './package.ts';
