import { readFileSync } from 'node:fs';
import { expect, it } from 'vitest';
import { demoFiles, designDrawing, otherParty, sectionTable } from '#demo';

it('the files in demo/ostrel-landing are what the generator makes', () => {
  for (const file of [...demoFiles().files, designDrawing(), otherParty(), sectionTable()])
    expect(readFileSync(new URL(`../ostrel-landing/${file.name}`, import.meta.url), 'utf8')).toBe(file.text);
});
