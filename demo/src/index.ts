export * from './project.ts';
export * from './tarn-hollow.ts';
export * from './kessa-bank.ts';
export * from './selmar-yard.ts';
export * from './instrument.ts';
export { demoFiles } from './files.ts';
export type { Slip } from './survey.ts';
export * as site from './site.ts';
export * from './invented-survey.ts';
