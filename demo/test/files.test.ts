import { readFileSync } from 'node:fs';
import { expect, it } from 'vitest';
import { demoFiles, designDrawing, otherParty, sectionTable, selmarFiles } from '#demo';

it('the files in demo/ostrel-landing are what the generator makes', () => {
  for (const file of [...demoFiles().files, designDrawing(), otherParty(), sectionTable()])
    expect(readFileSync(new URL(`../ostrel-landing/${file.name}`, import.meta.url), 'utf8')).toBe(file.text);
});

it('the files in demo/selmar-yard are what the generator makes, the picture from the air to the byte', () => {
  for (const { name, bytes } of selmarFiles().files)
    expect(Buffer.compare(readFileSync(new URL(`../selmar-yard/${name}`, import.meta.url)), bytes), name).toBe(0);
});
