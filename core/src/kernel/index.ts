export * from './distance.ts';
export * from './predicates.ts';
export * from './hilbert.ts';
export * from './rings.ts';
export * from './sums.ts';
export * from './hash.ts';
export * from './strings.ts';
export * from './pack.ts';
