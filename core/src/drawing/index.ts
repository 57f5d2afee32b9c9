export * from './inserts.ts';
export * from './labels.ts';
export * from './layers.ts';
export * from './paper.ts';
export * from './plan.ts';
export * from './plot.ts';
export * from './sheet-names.ts';
