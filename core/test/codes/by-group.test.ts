import { describe, expect, it } from 'vitest';
import { codeSchema, DEFAULT_CODE_LIST, drawnLikeGroup, type Code } from '#core/codes';

const { codes } = DEFAULT_CODE_LIST;
const like = (group: string, name = 'gabion', kind: Code['kind'] | null = null) => drawnLikeGroup(group, kind, { code: 'XX', name }, codes); // prettier-ignore

describe('how a new code of a group is drawn', () => {
  it('is as most of its group are: kind, ink, style, symbol, ground, with a layer by its own name', () => {
    expect(like('banks and ground')).toMatchObject({ kind: 'line', ink: 'lake', breakline: true, ground: true, layer: 'GABION' }); // prettier-ignore
    expect(like('services', 'hydrant, post')).toMatchObject({ kind: 'point', layer: 'HYDRANT-POST', breakline: false });
  });

  it('does not depend on how it is spelt', () => {
    const drawn = (code: string) => drawnLikeGroup('services', null, { code, name: 'hydrant' }, codes);
    expect(drawn('TRX')).toEqual(drawn('KTT'));
  });

  it('takes a layer that several of them share', () => {
    const shared = codes.map((c) => (c.group === 'services' ? { ...c, layer: 'SERVICES' } : c));
    expect(drawnLikeGroup('Services ', null, { code: 'HY', name: 'hydrant' }, shared)?.layer).toBe('SERVICES');
  });

  it('keeps to the kind that was said, and a group of points makes no line a breakline', () => {
    expect(like('banks and ground', 'mark', 'point')).toMatchObject({ kind: 'point', ground: true, breakline: false });
    expect(like('control', 'baseline', 'line')).toMatchObject({ kind: 'line', breakline: false });
  });

  it('is nothing where the group has no codes', () => {
    expect([like(''), like('none such')]).toEqual([null, null]);
  });

  it('is one that a list takes, for every group of ours and whatever its name', () => {
    for (const group of new Set(codes.map((c) => c.group ?? '')))
      for (const name of ['x', 'Łąka / wet meadow, edge — a very long name of forty letters', '…'])
        expect(codeSchema.safeParse({ code: 'XX', name, group, ...like(group, name) }).success, `${group} ${name}`).toBe(true); // prettier-ignore
  });
});
