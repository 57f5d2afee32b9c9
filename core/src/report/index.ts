export * from './book-report.ts';
export * from './file-rows.ts';
export * from './hand-edits.ts';
export * from './report-points.ts';
