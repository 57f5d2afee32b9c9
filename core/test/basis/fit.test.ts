import { execFileSync } from 'node:child_process';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { applyMatrix, fitPairs, gridToGround, groundToGrid, type FitPair, type FitSettings } from '#core/basis';

const at = (x: number, y: number, z = NaN) => ({ x, y, z });
const pair = (name: string, from: FitPair['from'], to: FitPair['to'], use = true): FitPair => ({
  name,
  from,
  to,
  plan: use,
  height: use,
});

function fitted(pairs: FitPair[], settings: FitSettings) {
  const result = fitPairs(pairs, settings);
  if (!result.ok) throw new Error(result.reason);
  return result.fit;
}

const PLAN: FitSettings = { kind: 'plan', scale: 'free', height: 'shift' };

/** Local points turned by 30°, scaled by 1.0002 and moved far away. */
const carried = (noise: [number, number, number][] = []): FitPair[] =>
  [at(1000, 5000, 10), at(1400, 5030, 14), at(1380, 5390, 9), at(1010, 5350, 12), at(1200, 5200, 11)].map((from, i) => {
    const [a, b] = [1.0002 * Math.cos(Math.PI / 6), 1.0002 * Math.sin(Math.PI / 6)];
    const [nx, ny, nz] = noise[i] ?? [0, 0, 0];
    return pair(
      `P${i + 1}`,
      from,
      at(a * from.x - b * from.y + 500000 + nx, b * from.x + a * from.y + 5000000 + ny, from.z + 52.5 + nz),
    );
  });

describe('fitting a local system to the grid', () => {
  it('gives back a turn, a scale and shifts that were put in', () => {
    const fit = fitted(carried(), PLAN);
    expect(fit.scale).toBeCloseTo(1.0002, 10);
    expect((fit.rotation * 180) / Math.PI).toBeCloseTo(30, 9);
    expect(fit.shift.z).toBeCloseTo(52.5, 9);
    for (const r of fit.residuals) expect(Math.max(Math.abs(r.x), Math.abs(r.y), Math.abs(r.z))).toBeLessThan(1e-6);
  });

  it('agrees with numpy’s lstsq (Debian python3-numpy) in parameters, residuals and sigma', () => {
    const pairs = carried([
      [0.01, -0.004, 0.002],
      [-0.006, 0.011, 0.004],
      [0.002, 0.003, -0.008],
      [0.005, -0.009, 0.001],
      [-0.012, 0.001, 0.006],
    ]);
    const script = `
import json,sys,numpy as np
P=json.load(sys.stdin);A=[];b=[]
for f,t in P:
  A+=[[f[0],-f[1],1,0],[f[1],f[0],0,1]];b+=[t[0],t[1]]
A=np.array(A);b=np.array(b);mx=A[:,0:2].mean()
x,res,rank,s=np.linalg.lstsq(A-0,b,rcond=None)
v=A@x-b
Q=np.linalg.inv(A.T@A);h=np.diag(A@Q@A.T)
s0=np.sqrt((v@v)/(len(b)-4))
print(json.dumps([x.tolist(),v.tolist(),s0,(np.abs(v)/(s0*np.sqrt(1-h))).tolist()]))`;
    // About the middle, so that the peer's own conditioning does not limit the comparison.
    const middle = (key: 'from' | 'to', axis: 'x' | 'y'): number =>
      pairs.reduce((s, p) => s + p[key][axis] / pairs.length, 0);
    const [fx, fy, tx, ty] = [middle('from', 'x'), middle('from', 'y'), middle('to', 'x'), middle('to', 'y')];
    const moved = pairs.map((p) =>
      pair(p.name, at(p.from.x - fx, p.from.y - fy, p.from.z), at(p.to.x - tx, p.to.y - ty, p.to.z)),
    );
    const [x, v, s0, w] = JSON.parse(
      execFileSync('/usr/bin/python3', ['-c', script], {
        input: JSON.stringify(
          moved.map((p) => [
            [p.from.x, p.from.y],
            [p.to.x, p.to.y],
          ]),
        ),
        encoding: 'utf8',
      }),
    ) as [number[], number[], number, number[]];
    const fit = fitted(pairs, PLAN);
    expect(fit.matrix[0]).toBeCloseTo(x[0], 10);
    expect(fit.matrix[4]).toBeCloseTo(x[1], 10);
    expect(fit.sigmaPlan).toBeCloseTo(s0, 8);
    fit.residuals.forEach((r, i) => {
      expect(r.x).toBeCloseTo(v[2 * i], 7);
      expect(r.y).toBeCloseTo(v[2 * i + 1], 7);
      expect(r.standardised).toBeCloseTo(Math.max(w[2 * i], w[2 * i + 1]), 5);
    });
    expect(fit.redundancyPlan).toBe(6);
  });

  it('a blunder stands out by its standardised residual, and switched off lets the rest agree', () => {
    const pairs = carried([
      [0, 0, 0],
      [0, 0, 0],
      [0.5, -0.3, 0],
      [0, 0, 0],
      [0, 0, 0],
    ]);
    const fit = fitted(pairs, PLAN);
    const worst = [...fit.residuals].sort((a, b) => b.standardised - a.standardised)[0];
    expect(worst.name).toBe('P3');
    const without = fitted(
      pairs.map((p) => (p.name === 'P3' ? { ...p, plan: false } : p)),
      PLAN,
    );
    const off = without.residuals[2];
    expect(off.x).toBeCloseTo(-0.5, 6);
    expect(off.y).toBeCloseTo(0.3, 6);
    expect(without.sigmaPlan).toBeLessThan(1e-6);
  });

  it('holds the scale at 1 when told to', () => {
    const fit = fitted(carried(), { ...PLAN, scale: 'fixed' });
    expect(fit.scale).toBeCloseTo(1, 12);
    expect((fit.rotation * 180) / Math.PI).toBeCloseTo(30, 9);
  });

  it('finds a tilted plane in height', () => {
    const pairs = carried().map((p) => ({
      ...p,
      to: { ...p.to, z: p.from.z + 3 + 1e-4 * (p.from.x - 1000) - 2e-4 * (p.from.y - 5000) },
    }));
    const fit = fitted(pairs, { ...PLAN, height: 'plane' });
    expect(fit.tilt.east).toBeCloseTo(1e-4, 12);
    expect(fit.tilt.north).toBeCloseTo(-2e-4, 12);
    expect(applyMatrix(fit.matrix, 1100, 5100, 7).z).toBeCloseTo(7 + 3 + 0.01 - 0.02, 9);
  });

  it('seven parameters in space come back, whatever the turns', () => {
    fc.assert(
      fc.property(
        fc.tuple(
          fc.double({ min: -0.3, max: 0.3, noNaN: true }),
          fc.double({ min: -0.3, max: 0.3, noNaN: true }),
          fc.double({ min: -3, max: 3, noNaN: true }),
        ),
        fc.double({ min: 0.99, max: 1.01, noNaN: true }),
        ([a, b, c], scale) => {
          const turn = (p: FitPair['from']): FitPair['from'] => {
            let { x, y, z } = p;
            [y, z] = [y * Math.cos(a) - z * Math.sin(a), y * Math.sin(a) + z * Math.cos(a)];
            [x, z] = [x * Math.cos(b) + z * Math.sin(b), -x * Math.sin(b) + z * Math.cos(b)];
            [x, y] = [x * Math.cos(c) - y * Math.sin(c), x * Math.sin(c) + y * Math.cos(c)];
            return { x: scale * x + 7000, y: scale * y - 300, z: scale * z + 40 };
          };
          const pairs = [at(0, 0, 0), at(400, 10, 30), at(50, 380, -20), at(390, 410, 60), at(200, 150, 90)].map(
            (p, i) => pair(`${i}`, p, turn(p)),
          );
          const fit = fitted(pairs, { kind: 'space', scale: 'free', height: 'shift' });
          expect(fit.scale).toBeCloseTo(scale, 9);
          for (const r of fit.residuals)
            expect(Math.max(Math.abs(r.x), Math.abs(r.y), Math.abs(r.z))).toBeLessThan(1e-6);
        },
      ),
      { numRuns: 60 },
    );
  });

  it('says what is missing when there is too little', () => {
    const reason = (pairs: FitPair[], settings: FitSettings): string => {
      const result = fitPairs(pairs, settings);
      return result.ok ? 'fitted' : result.reason;
    };
    expect(reason(carried().slice(0, 1), PLAN)).toContain('two common points; 1');
    expect(reason([carried()[0], carried()[0]], PLAN)).toContain('in one place');
    expect(reason(carried().slice(0, 2), { ...PLAN, height: 'plane' })).toContain('three common points');
    expect(
      reason(
        [1, 2, 3].map((i) => pair(`${i}`, at(i, i, i), at(i, i, i))),
        { ...PLAN, height: 'plane' },
      ),
    ).toContain('one line');
    expect(
      reason(
        [1, 2, 3].map((i) => pair(`${i}`, at(i, i, i), at(i, i, i))),
        { ...PLAN, kind: 'space' },
      ),
    ).toContain('one line');
  });
});

describe('grid and ground about a base point', () => {
  it('are each other’s inverse, keep the base where it is, and lengthen by the factor', () => {
    fc.assert(
      fc.property(
        fc.double({ min: -1e5, max: 1e5, noNaN: true }),
        fc.double({ min: 0.99, max: 1.01, noNaN: true }),
        (d, factor) => {
          const base = { x: 500000, y: 4000000 };
          const p = { x: base.x + d, y: base.y - d };
          const ground = gridToGround(base, factor, p);
          expect(groundToGrid(base, factor, ground).x).toBeCloseTo(p.x, 6);
          expect((ground.x - base.x) * factor).toBeCloseTo(d, 6);
        },
      ),
    );
    expect(gridToGround({ x: 1, y: 2 }, 0.9996, { x: 1, y: 2 })).toEqual({ x: 1, y: 2 });
  });
});
