import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { afterAll, beforeAll, expect } from 'vitest';

export const ROOT = fileURLToPath(new URL('../../', import.meta.url));
export const folder = mkdtempSync(join(tmpdir(), 'dunrik-cli-'));
export const at = (name: string): string => join(folder, name);
afterAll(() => rmSync(folder, { recursive: true }));

// Built before the first call, whose words would otherwise be among the command's own.
spawnSync(process.execPath, ['scripts/dunrik.mjs', 'help'], { cwd: ROOT });

export interface Ran {
  code: number | null;
  out: string;
  err: string;
}
export function dunrik(...args: string[]): Ran {
  const run = spawnSync(process.execPath, ['scripts/dunrik.mjs', ...args], {
    cwd: ROOT,
    encoding: 'utf8',
    maxBuffer: 1 << 28,
  });
  return { code: run.status, out: run.stdout, err: run.stderr };
}
export function json<T = Record<string, never>>(...args: string[]): T {
  const run = dunrik(...args, '--json');
  expect(run.err).toBe('');
  expect(run.code).toBe(0);
  return JSON.parse(run.out) as T;
}
export const outside = (program: string, ...args: string[]): string => {
  const run = spawnSync(program, args, { encoding: 'utf8', maxBuffer: 1 << 28 });
  if (run.status !== 0) throw new Error(`${program}: ${run.stderr}`);
  return run.stdout;
};
export const PYTHON = '/usr/bin/python3';
export const script = (name: string): string => fileURLToPath(new URL(`./outside/${name}`, import.meta.url));
export const demo = (name: string): string => join(ROOT, 'demo/ostrel-landing', name);

/** A digitised volcano, 87 × 61 heights on a 10 m grid, from the package vega-datasets (data/volcano.json). */
export interface Volcano {
  width: number;
  height: number;
  values: number[];
}
export const volcano = JSON.parse(
  readFileSync(join(ROOT, 'node_modules/vega-datasets/data/volcano.json'), 'utf8'),
) as Volcano;

/** The volcano as points and as a surface, in the folder of this file's tests. */
export const volcanoBefore = (): void =>
  beforeAll(() => {
    const rows = volcano.values.map(
      (z, i) =>
        `${i + 1},${(i % volcano.width) * 10},${(volcano.height - 1 - Math.floor(i / volcano.width)) * 10},${z}`,
    );
    writeFileSync(at('volcano.csv'), ['Number,East [m],North [m],Elevation [m]', ...rows].join('\n'));
    expect(dunrik('surface', at('volcano.csv'), '-o', at('volcano.xml')).code).toBe(0);
  });
