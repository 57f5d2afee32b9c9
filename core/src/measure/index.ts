export * from './units.ts';
