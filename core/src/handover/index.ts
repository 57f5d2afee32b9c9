export * from './comparison.ts';
export * from './coordinates.ts';
export * from './drawing.ts';
export * from './package.ts';
export * from './read-back-drawing.ts';
export * from './read-back-landxml.ts';
export * from './read-back-text.ts';
