import { execFileSync } from 'node:child_process';
import { writeFileSync } from 'node:fs';
import { beforeAll, describe, expect, it } from 'vitest';
import { at, dunrik, json } from './ran.ts';

interface Told {
  kind: string;
  layer: string;
  text: string;
  x: number;
  y: number;
}
interface Compared {
  unchanged: number;
  added: Told[];
  removed: Told[];
  moved: (Told & { dx: number; dy: number; distance: number })[];
  changed: (Told & { what: string })[];
  relayered: (Told & { from: string; to: string })[];
  groups: { angle: number; x: number; y: number; things: Told[] }[];
}

// Drawn and edited by ezdxf (Debian's python3-ezdxf), which also says how it turned the group.
let turn: { angle: number; x: number; y: number };
beforeAll(() => {
  turn = JSON.parse(execFileSync('/usr/bin/python3', ['cli/test/outside/edited_drawing.py', at('issue-a.dxf'), at('issue-b.dxf')], { encoding: 'utf8' })) as typeof turn; // prettier-ignore
});

describe('two issues of a drawing', () => {
  it('are told by what somebody did to it', () => {
    const got = json<Compared>('compare-drawings', at('issue-a.dxf'), at('issue-b.dxf'));
    expect(got.moved).toMatchObject([{ layer: 'BUILDINGS' }]);
    expect([got.moved[0].dx, got.moved[0].dy].map((v) => v.toFixed(6))).toEqual(['0.250000', '-0.500000']);
    expect(got.relayered).toMatchObject([{ from: 'BUILDINGS', to: 'DEMOLITION', x: 4250, y: 7720 }]);
    expect(got.removed).toMatchObject([{ layer: 'BUILDINGS', x: 4270, y: 7720 }]);
    expect(got.added).toMatchObject([{ layer: 'FENCE', x: 4250, y: 7750 }]);
    expect(got.changed).toMatchObject([{ what: 'text “House 5” is “House 5a”' }]);
    expect(got.groups).toHaveLength(1);
    expect(got.groups[0].angle).toBeCloseTo(turn.angle, 6);
    expect(Math.hypot(got.groups[0].x - turn.x, got.groups[0].y - turn.y)).toBeLessThan(0.001);
    expect(got.groups[0].things.map((t) => t.layer).sort()).toEqual(['BUILDINGS', 'NAMES', 'TREES']);
    // 1 kerb, 5 houses, 5 names, 5 trees, 40 levels, a path, a pond.
    expect(got.unchanged).toBe(58 - 7);
  });

  it('that are the same file have nothing between them, and turned the other way round give the other way back', () => {
    const same = json<Compared>('compare-drawings', at('issue-a.dxf'), at('issue-a.dxf'));
    expect(same).toMatchObject({
      unchanged: 58,
      added: [],
      removed: [],
      moved: [],
      changed: [],
      relayered: [],
      groups: [],
    });
    const back = json<Compared>('compare-drawings', at('issue-b.dxf'), at('issue-a.dxf'));
    expect(back.groups[0].angle).toBeCloseTo(-turn.angle, 6);
    expect(back.moved[0].dx).toBeCloseTo(-0.25, 9);
    expect([back.added[0].layer, back.removed[0].layer]).toEqual(['BUILDINGS', 'FENCE']);
  });

  it('are told in sentences, of chosen layers, and what is near enough is the same', () => {
    const { out } = dunrik('compare-drawings', at('issue-a.dxf'), at('issue-b.dxf'), '--layer', 'BUILDINGS');
    expect(out).toContain('1 unchanged');
    expect(out).toContain('by 0.250 east, -0.500 north');
    expect(out).toContain('rotated together by 30.0000° about E 4235.000 N 7724.000');
    const near = json<Compared>('compare-drawings', at('issue-a.dxf'), at('issue-b.dxf'), '--tolerance', '0.6');
    expect(near.moved).toEqual([]);
    const short = json<Compared>('compare-drawings', at('issue-a.dxf'), at('issue-b.dxf'), '--reach', '0.1');
    expect(short.moved).toEqual([]);
    expect(short.removed.length).toBe(2);
  });

  it('of which the first is empty: all of the second is added', () => {
    writeFileSync(at('empty.geojson'), JSON.stringify({ type: 'FeatureCollection', features: [] }));
    const none = json<Compared>('compare-drawings', at('empty.geojson'), at('issue-a.dxf'));
    expect(none).toMatchObject({ unchanged: 0, removed: [] });
    expect(none.added).toHaveLength(58);
  });

  it('refuse what is no drawing, and one file alone', () => {
    writeFileSync(at('points.csv'), 'number,east,north,elevation [m]\n1,2,3,4\n');
    const text = dunrik('compare-drawings', at('issue-a.dxf'), at('points.csv'));
    expect(text.code).toBe(1);
    expect(text.err).toContain('is text, and no drawing');
    expect(dunrik('compare-drawings', at('issue-a.dxf')).code).toBe(2);
    expect(dunrik('compare-drawings', at('issue-a.dxf'), at('issue-b.dxf'), '--layer', 'NONE').err).toContain('has no layer NONE'); // prettier-ignore
  });
});
