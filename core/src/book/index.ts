export * from './records.ts';
export * from './read-text.ts';
export * from './write-text.ts';
