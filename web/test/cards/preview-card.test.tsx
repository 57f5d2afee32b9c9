// @vitest-environment jsdom
import { screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it } from 'vitest';
import type { Change, ProjectDocument } from '#core/project';
import { PreviewCard } from '../../src/cards/preview-card.tsx';
import type { PendingChange } from '../../src/project-state/store.ts';
import { draw } from '../drawn.tsx';
import { opened } from '../opened.ts';
import { projectOf } from '../tables.ts';

const given = projectOf({ points: [['1', 0, 0, 1]] }); // prettier-ignore
const EDIT: Change = { op: 'points.edit', edits: { 'day:1': { set: { z: 2 }, undo: [] } } };
const NONE = { pointsChanged: 1, pointsMoved: 0, largestMove: 0, linesChanged: 0, lines: [], surfaces: [], comparisons: [], queriesGone: [], queriesNew: [], rows: [0] }; // prettier-ignore
const query = (key: string, text: string) => ({ key, text, weight: 'look' as const });

function card(
  preview: Partial<NonNullable<PendingChange['preview']>> | null,
  over: Partial<PendingChange> = {},
  settings: Partial<ProjectDocument['settings']> = {},
) {
  // prettier-ignore
  const doc = { ...given.doc, settings: { ...given.doc.settings, ...settings }, comparisons: [{ id: 'c', name: 'Down to 48', surface: 'ground', against: { level: 48 }, within: null }] }; // prettier-ignore
  const page = opened({ doc, tables: given.tables });
  const pending: PendingChange = { label: 'Elevation of 1: 2.000', change: EDIT, preview: preview && { ...NONE, ...preview }, places: null, problem: null, query: null, revision: 1, ...over }; // prettier-ignore
  draw(<PreviewCard pending={pending} side={{ right: '12px' }} />);
  return page;
}
const said = (): string => screen.getByLabelText('preview of a change').textContent.replace(/[\u2009\u00a0]/g, ' ');

describe('a preview', () => {
  it('says what would change: points, lines, surfaces, volumes', () => {
    card({
      pointsMoved: 1,
      largestMove: 0.3048,
      linesChanged: 2,
      surfaces: [{ id: 'ground', name: 'Ground', triangles: [10, 12], planArea: [1, 1], largestHeight: 0.3048 }],
      comparisons: [{ id: 'c', before: { cut: 100, fill: 0 }, after: { cut: 120, fill: 0 } }],
    }, {}, { unit: 'ft' }); // prettier-ignore
    expect(said()).toContain('points changed1largest move ft1.000lines changed2');
    expect(said()).toContain('Groundtriangles10 → 12height, up to ft± 1.000');
    expect(said()).toMatch(/Down to 48cut100\.0 → 120\.0fill0\.0 → 0\.0/);
  });

  it('says what stays as it was, and leaves out volumes that do not move', () => {
    card({ comparisons: [{ id: 'c', before: { cut: 100, fill: 0 }, after: { cut: 100.001, fill: 0 } }] });
    expect(said()).toContain('surfacesas they were');
    expect(said()).not.toContain('Down to 48');
    expect(said()).not.toContain('largest move');
  });

  it('names the queries that would go and come, the first five', () => {
    const gone = Array.from({ length: 7 }, (_, i) => query(`g${i}`, `Point ${i} stands high.`));
    card({ queriesGone: gone, queriesNew: [query('n', 'Point 9 stands low.')] });
    expect(said()).toContain('7 would go, 1 would come');
    const items = within(screen.getByRole('list', { name: 'queries that would go' })).getAllByRole('listitem');
    expect(items).toHaveLength(6);
    expect(items[5].textContent).toBe('and 2 more');
    expect(screen.getByTitle('Point 9 stands low.')).toBeTruthy();
  });

  it('says that it is being computed, or why it cannot be', () => {
    card(null);
    expect(said()).toContain('computing …');
  });

  it('says why it cannot be made', () => {
    card(null, { problem: 'Its file was deleted meanwhile.' });
    expect(said()).toContain('Its file was deleted meanwhile.');
    expect(said()).not.toContain('computing');
  });

  it('is applied with why, which is kept with it', async () => {
    const page = card({});
    await userEvent.type(screen.getByLabelText('why'), 'read again on site{Enter}');
    expect(page.accept).toHaveBeenCalledWith('read again on site');
    await userEvent.click(screen.getByRole('button', { name: /^Cancel/ }));
    expect(page.cancel).toHaveBeenCalled();
  });

  it('does not ask why again where it was said already', () => {
    card({}, { change: { ...EDIT, why: 'the pole was bent' } as Change });
    expect(screen.queryByLabelText('why')).toBeNull();
  });
});
