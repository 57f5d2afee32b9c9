// @vitest-environment jsdom
import { screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it, vi } from 'vitest';
import type { Comparison } from '#core/project';
import { useProject } from '../../../src/project-state/store.ts';
import { Quantities } from '../../../src/stages/quantities/quantities.tsx';
import { draw } from '../../drawn.tsx';
import { opened, written } from '../../opened.ts';
import { projectOf, tablesOf } from '../../tables.ts';

const saved = vi.hoisted(() => vi.fn<(name: string, text: string) => void>());
vi.mock('../../../src/frame/download.ts', () => ({ saveText: saved, saveFile: vi.fn() }));

// A hummocky square, 9 × 9 shots every 10 m.
const given = projectOf({ points: Array.from({ length: 81 }, (_, i) => [String(i + 1), 10 * (i % 9), 10 * Math.floor(i / 9), 50 + Math.sin(i * 1.7)]) }); // prettier-ignore
const DOWN: Comparison = { id: 'c', name: 'Down', surface: 'ground', against: { level: 40 }, within: null, sd: { plan: 0, height: 0.02 } }; // prettier-ignore
let page: ReturnType<typeof opened>;
function shown(comparison: Comparison): void {
  const doc = { ...given.doc, comparisons: [comparison] };
  page = opened({ doc, tables: tablesOf(doc, given.readOf) });
  draw(<Quantities />);
}
const thin = (text: string | null): string => (text ?? '').replace(/[\u2009\u00a0]/g, ' ');

describe('how sure a volume is', () => {
  it('says which part is measuring and which is spacing, and together they are more than either', () => {
    shown(DOWN);
    const whole = Number(/cut − fill [\d .]+ ± ([\d.]+)/.exec(thin(screen.getByText(/\(95 %\)/).textContent))![1]);
    const parts = /± ([\d.]+) is measuring, ± ([\d.]+) how well/.exec(thin(screen.getByText(/is measuring/).textContent))!; // prettier-ignore
    expect(whole).toBeCloseTo(Math.hypot(Number(parts[1]), Number(parts[2])), 0);
    expect(Number(parts[2])).toBeGreaterThan(Number(parts[1]));
  });

  it('shows where more shots help most, and gives them as a list for the site', async () => {
    shown(DOWN);
    await userEvent.click(screen.getByRole('button', { name: 'Where 10 more shots help most' }));
    expect(useProject.getState().sketch!.places).toHaveLength(20);
    await userEvent.click(screen.getByRole('button', { name: 'Hide the places' }));
    expect(useProject.getState().sketch).toBeNull();
    await userEvent.click(screen.getByRole('button', { name: 'as a list' }));
    const [name, text] = saved.mock.lastCall!;
    expect(name).toMatch(/more-shots\.csv$/);
    const rows = text.trim().split(/\r?\n/);
    expect(rows[0]).toBe('Number,East [m],North [m]');
    expect(rows).toHaveLength(11);
    expect(rows[1]).toMatch(/^S1,\d+\.\d{3},\d+\.\d{3}$/);
  });

  it('takes each point’s own precision where that is ticked', async () => {
    shown(DOWN);
    await userEvent.click(screen.getByLabelText('each point’s own where it is known'));
    expect(written(page)).toMatchObject([{ comparison: { sd: { plan: 0, height: 0.02, own: true } } }]);
  });
});
