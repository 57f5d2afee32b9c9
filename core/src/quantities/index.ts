export * from './volume.ts';
export * from './hand-methods.ts';
export * from './given-sections.ts';
export { readSectionTable } from './section-table.ts';
