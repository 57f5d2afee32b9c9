// @vitest-environment jsdom
import { screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it, vi } from 'vitest';
import type { Comparison } from '#core/project';
import { madeFrom, volumeToLevel, type DifferencePieces } from '#core/quantities';
import { clipToRing, type Surface } from '#core/terrain';
import { MadeFromPart } from '../../../src/stages/quantities/made-from.tsx';
import { draw } from '../../drawn.tsx';
import { opened } from '../../opened.ts';
import { projectOf } from '../../tables.ts';

vi.mock('../../../src/work/workers.ts', () => ({
  sheetWork: () => ({ madeFrom: (pieces: DifferencePieces, surface: Surface) => Promise.resolve(madeFrom(pieces, surface)) }), // prettier-ignore
}));

// A grid of 16 points, 10 m apart; what is compared lies in one of its squares.
const given = projectOf({ points: Array.from({ length: 16 }, (_, i) => [String(i + 1), 10 * (i % 4), 10 * Math.floor(i / 4), 10 + i / 50]) }); // prettier-ignore
const DOWN: Comparison = { id: 'c', name: 'Down', surface: 'ground', against: { level: 9 }, within: [12, 12, 18, 12, 18, 18, 12, 18] }; // prettier-ignore

describe('what a volume is made from', () => {
  it('is told by triangles and points, and by the files they came in', async () => {
    const inside = clipToRing(given.tables.surfaces.get('ground')!, Float64Array.from(DOWN.within!));
    const pieces = new Map([['c', volumeToLevel(inside, 9).pieces]]);
    opened({ doc: { ...given.doc, comparisons: [DOWN] }, tables: { ...given.tables, pieces } });
    draw(<MadeFromPart comparison={DOWN} />);
    expect(screen.queryByRole('table')).toBeNull();
    await userEvent.click(screen.getByRole('button', { name: 'Made from …' }));
    const table = await screen.findByRole('table', { name: 'what it is made from' });
    expect(screen.getByText(/“Ground”: 2 triangles, 4 points/)).toBeTruthy();
    const [row] = within(table).getAllByRole('row').slice(1);
    expect(row.textContent).toContain(given.doc.intakes[0].fileName);
    expect(row.textContent).toMatch(/4$/);
    await userEvent.click(screen.getByRole('button', { name: 'Hide what it is made from' }));
    expect(screen.queryByRole('table')).toBeNull();
  });
});
