export * from './volume.ts';
