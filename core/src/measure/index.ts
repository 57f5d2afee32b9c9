export * from './units.ts';
export * from './angles.ts';
export * from './plain-number.ts';
export * from './ranges.ts';
export * from './issue-text.ts';
