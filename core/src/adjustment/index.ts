export * from './statistics.ts';
export * from './network.ts';
