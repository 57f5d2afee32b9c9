import { mkdirSync, writeFileSync } from 'node:fs';
import { designDrawing } from './design-drawing.ts';
import { demoFiles } from './files.ts';
import { kessaFiles } from './kessa-bank.ts';
import { otherParty, sectionTable } from './other-party.ts';
import { selmarFiles } from './selmar-yard.ts';
import { tarnFiles } from './tarn-hollow.ts';

const bytesOf = (text: string): Uint8Array => new TextEncoder().encode(text);
const ostrel = demoFiles();
// Not in the project yet: for who wants to see how a drawing comes in.
const design = designDrawing();
const tarn = tarnFiles();
const sets = [
  {
    name: 'ostrel-landing',
    slips: [...ostrel.slips, ...design.slips],
    files: [...ostrel.files, design, otherParty(), sectionTable()].map((f) => ({
      name: f.name,
      bytes: bytesOf(f.text),
    })),
  },
  { name: 'tarn-hollow', ...tarn },
  { name: 'kessa-bank', ...kessaFiles() },
  { name: 'selmar-yard', ...selmarFiles() },
];
for (const { name, files, slips } of sets) {
  const folder = new URL(`../${name}/`, import.meta.url);
  mkdirSync(folder, { recursive: true });
  for (const file of files) writeFileSync(new URL(file.name, folder), file.bytes);
  console.log(`${files.length} files, ${slips.length} slips written to demo/${name}/`);
}
