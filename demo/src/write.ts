import { mkdirSync, writeFileSync } from 'node:fs';
import { demoFiles } from './files.ts';

const folder = new URL('../ostrel-landing/', import.meta.url);
mkdirSync(folder, { recursive: true });
const { files, slips } = demoFiles();
for (const file of files) writeFileSync(new URL(file.name, folder), file.text);
console.log(`${files.length} files, ${slips.length} slips written to demo/ostrel-landing/`);
