export * from './code-list.ts';
export * from './describe.ts';
export * from './edit-description.ts';
export * from './index-codes.ts';
export * from './learn-words.ts';
export * from './nearest.ts';
export * from './words.ts';
export * from './write-description.ts';
