export * from './code-list.ts';
export * from './describe.ts';
