import { describe, expect, it } from 'vitest';
import type { ProjectCard } from '#contract';
import { matching } from '../../src/entry/projects.tsx';

const card = (i: number): ProjectCard => ({
  id: String(i),
  name: `Site ${i}`,
  description: i % 2 ? 'north quarry' : 'harbour',
  archived: i % 10 === 0,
  role: 'owner',
  team: i % 3 ? 'Quillow & Asterby' : null,
  revision: i,
  checkedRevision: null,
  changedAt: '2026-11-25T08:00:00Z',
  figures: null,
});
const list = Array.from({ length: 500 }, (_, i) => card(i));

describe('finding among hundreds of projects', () => {
  it('takes every word, in any order, from name, description and team', () => {
    expect(matching(list, 'QUARRY 77', false).map((p) => p.name)).toEqual([
      'Site 77',
      'Site 177',
      'Site 277',
      'Site 377',
      'Site 477',
    ]);
    expect(matching(list, 'tamm harbour site 44 ', false).every((p) => p.description === 'harbour' && p.team)).toBe(
      true,
    );
    expect(matching(list, 'nowhere', false)).toEqual([]);
  });

  it('keeps the archive apart', () => {
    expect(matching(list, '', true)).toHaveLength(50);
    expect(matching(list, '', false)).toHaveLength(450);
  });
});
