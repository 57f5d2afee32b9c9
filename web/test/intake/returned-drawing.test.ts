// @vitest-environment jsdom
import { describe, expect, it } from 'vitest';
import { together } from '../../src/intake/returned-drawing.tsx';

const point = (key: string, x: number) => ({ op: 'points.edit' as const, edits: { [key]: { set: { x }, undo: [] } } });
const line = (key: string) => ({ op: 'lines.hand' as const, set: { [key]: null }, what: key });

describe('changes that a drawing brought back', () => {
  it('are one change of points and one of lines, however many things there are', () => {
    const many = Array.from({ length: 6000 }, (_, i) => point(`a:${i}`, i));
    const all = together([...many, line('KT1'), line('KT2')], 'take them');
    expect(all).toMatchObject({ op: 'several', what: 'take them' });
    const { changes } = all as Extract<typeof all, { op: 'several' }>;
    expect(changes.map((c) => c.op)).toEqual(['points.edit', 'lines.hand']);
    expect(Object.keys((changes[0] as ReturnType<typeof point>).edits)).toHaveLength(6000);
    expect(changes[1]).toMatchObject({ set: { KT1: null, KT2: null } });
  });

  it('of other kinds stand beside those', () => {
    const label = { op: 'drawing.label' as const, key: 'a:1:number', to: [2, 3] as [number, number] };
    expect(together([point('a:1', 5), label], 'take them')).toMatchObject({ op: 'several', changes: [{ op: 'drawing.label' }, { op: 'points.edit' }] }); // prettier-ignore
    expect(together([label], 'take it')).toEqual(label);
  });

  it('are that one change where there is one kind of them', () => {
    expect(together([point('a:1', 5), point('a:2', 6)], 'take them')).toEqual({ op: 'points.edit', edits: { 'a:1': { set: { x: 5 }, undo: [] }, 'a:2': { set: { x: 6 }, undo: [] } } }); // prettier-ignore
  });
});
