export * from './units.ts';
export * from './angles.ts';
