export * from './book-pack.ts';
export * from './carry-over.ts';
export * from './gone-records.ts';
export * from './match-records.ts';
export * from './read-key.ts';
export * from './read-pack.ts';
export * from './reading-plan.ts';
export * from './reading.ts';
