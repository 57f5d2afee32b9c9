export { delaunay, nextEdge, previousEdge, GHOST, type Mesh } from './delaunay.ts';
export { constrain, type Constraints, type Crossing } from './constraints.ts';
export * from './surface.ts';
export * from './measures.ts';
export * from './heights.ts';
export * from './contours.ts';
export * from './spikes.ts';
export * from './shifted-runs.ts';
export * from './boundary.ts';
