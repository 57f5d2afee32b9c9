export * from './volume.ts';
export * from './given-sections.ts';
export { readSectionTable } from './section-table.ts';
export { contourAreaVolume } from './methods/contour-areas.ts';
export { gridVolume, refinedGrid, type DifferenceAt, type Extent } from './methods/grid.ts';
export * from './methods/methods.ts';
export { cutSections, type CutSections, type DifferenceSection } from './methods/sections.ts';
export { influenceOf, type Influence } from './precision/influence.ts';
export * from './precision/volume-sd.ts';
