import { describe, expect, it } from 'vitest';
import { changeSchema, newDocument } from '#core/project';
import { settleQuery, type Draft } from '../../src/queries/query.ts';

const draft = (key: string): Draft => ({ key, kind: 'crosses-itself', stage: 'lines', weight: 'look', text: '', evidence: [1], place: null, rows: [], lines: [], remedies: [] }); // prettier-ignore

describe('the key of a query', () => {
  const long = `crosses-itself:KT1:${Array.from({ length: 200 }, (_, i) => `day-1:${i}`).join()}`;

  it('can be accepted however many points the query speaks of', () => {
    const query = settleQuery(newDocument(), draft(long));
    const accepted = { evidence: query.evidence, reason: 'seen on site', by: '', at: '' };
    expect(changeSchema.safeParse({ op: 'query.accept', key: query.key, accepted }).success).toBe(true);
    const doc = { ...newDocument(), accepted: { [query.key]: accepted } };
    expect(settleQuery(doc, draft(long)).accepted?.reason).toBe('seen on site');
  });

  it('tells two apart that begin alike, and is left as it is where it is short', () => {
    expect(settleQuery(newDocument(), draft(`${long}:a`)).key).not.toBe(settleQuery(newDocument(), draft(`${long}:b`)).key); // prettier-ignore
    expect(settleQuery(newDocument(), draft('spike:day-1:7')).key).toBe('spike:day-1:7');
  });
});
