// The HTTP interface between page and server, a file a resource. Types come from the schemas; both sides use them.

export * from './accounts.ts';
export * from './basis.ts';
export * from './changes.ts';
export * from './code-lists.ts';
export * from './columns.ts';
export * from './files.ts';
export * from './live.ts';
export * from './packages.ts';
export * from './people.ts';
export * from './problem.ts';
export * from './projects.ts';
export * from './results.ts';
