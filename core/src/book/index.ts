export * from './records.ts';
export * from './read-text.ts';
export * from './write-text.ts';
export * from './builder.ts';
export * from './layout.ts';
export * from './read-layout.ts';
export * from './guess-layout.ts';
export * from './record-index.ts';
