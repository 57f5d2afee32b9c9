export * from './statistics.ts';
export * from './network.ts';
export * from './network-types.ts';
export * from './traverse.ts';
export * from './height-system.ts';
export * from './snooping.ts';
