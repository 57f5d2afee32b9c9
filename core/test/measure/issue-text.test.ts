import { describe, expect, it } from 'vitest';
import { z } from 'zod';
import { codeListSchema } from '#core/codes';
import { issueText } from '#core/measure';
import { changeSchema } from '#core/project';

const said = (schema: z.ZodType, value: unknown): string[] => schema.safeParse(value).error!.issues.map((i) => issueText(i as never)); // prettier-ignore

describe('what a schema says', () => {
  it.each([
    [z.string().min(1), '', 'it is empty'],
    [z.string().min(12), 'short', 'it has fewer than 12 characters'],
    [z.string().max(3), 'long', 'it is longer than 3 characters'],
    [z.number().min(0.1), 0, 'it is less than 0.1'],
    [z.number().max(20), 21, 'it is more than 20'],
    [z.array(z.number()).min(1), [], 'the list is empty'],
    [z.array(z.number()).max(1), [1, 2], 'the list has more than 1 entries'],
    [z.number(), 'x', 'a number is expected'],
    [z.number(), undefined, 'it is missing'],
    [z.boolean(), 1, 'yes or no is expected'],
    [z.enum(['east', 'north']), 'up', 'one of east, north is expected'],
    [z.int(), 1.5, 'a whole number is expected'],
    [z.uuid(), 'x', 'it is not what is expected here'],
  ])('by itself is put into plain words: %#', (schema, value, words) => {
    expect(said(schema, value)).toEqual([words]);
  });

  it('for people stays as it was written', () => {
    expect(said(z.string().min(1, 'Say why it is withdrawn.'), '')).toEqual(['Say why it is withdrawn.']);
  });

  it('of a code list and of a change never shows the words of the schema itself', () => {
    const bad: unknown[] = [null, 7, {}, { codes: [{}] }, { codes: [{ code: '', name: 7, kind: 'area' }], words: [] }, { op: 'x' }, { op: 'points.edit', edits: 3 }]; // prettier-ignore
    for (const value of bad)
      for (const schema of [codeListSchema, changeSchema])
        for (const words of said(schema, value)) expect(words).not.toMatch(/Too|Invalid|expected string|>=|<=/);
  });
});
