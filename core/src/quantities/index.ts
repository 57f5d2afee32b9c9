export * from './volume.ts';
export * from './hand-methods.ts';
