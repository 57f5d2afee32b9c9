// @vitest-environment jsdom
import { screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import type { Comparison } from '#core/project';
import type { VolumeStory } from '#contract';
import { EarlierVolumes } from '../../../src/stages/quantities/earlier-volumes.tsx';
import { draw } from '../../drawn.tsx';
import { opened } from '../../opened.ts';
import { projectOf } from '../../tables.ts';

let answer: () => Promise<VolumeStory>;
vi.mock('../../../src/frame/api.ts', async (original) => {
  const real = await original<typeof import('../../../src/frame/api.ts')>();
  return { ...real, api: { ...real.api, volumeStory: () => answer() } };
});

const given = projectOf({ points: [['1', 0, 0, 10], ['2', 10, 0, 10], ['3', 10, 10, 10], ['4', 0, 10, 10]] }); // prettier-ignore
const DOWN: Comparison = { id: 'c', name: 'Down', surface: 'ground', against: { level: 9 }, within: null };
const step = (revision: number, before: number | null, after: number | null, more: object = {}): VolumeStory['steps'][number] => ({ revision, before: before === null ? null : { cut: before, fill: 0 }, after: after === null ? null : { cut: after, fill: 0 }, at: '2026-11-24T09:00:00.000Z', by: 'Ina Quillow', kind: 'do', what: `change ${revision}`, ...more }); // prettier-ignore
const STORY: VolumeStory = { revision: 9, now: { cut: 130, fill: 0 }, from: 3, end: 'made', steps: [step(8, 150, 130), step(5, 100, 150, { by: 'Otto Brams', why: 'a kerb was missed' }), step(3, null, 100)] }; // prettier-ignore

describe('what changed a volume', () => {
  beforeEach(() => {
    answer = () => Promise.resolve(STORY);
    opened({ doc: { ...given.doc, comparisons: [DOWN] }, tables: given.tables });
    draw(<EarlierVolumes comparison={DOWN} />);
  });
  const open = () => userEvent.click(screen.getByRole('button', { name: 'What changed it …' }));
  const rows = (): string[] => within(screen.getByRole('table')).getAllByRole('row').slice(1).map((r) => r.textContent); // prettier-ignore

  it('is asked for only when somebody opens it, and told with who, why and the share of each', async () => {
    expect(screen.queryByRole('table')).toBeNull();
    await open();
    await screen.findByRole('table');
    const [newest, middle, first] = rows();
    expect(newest).toMatch(/^8.*change 8.*130\.0.*−20\.0$/);
    expect(middle).toMatch(/Otto Brams.*a kerb was missed.*150\.0.*\+50\.0$/);
    expect(first).toMatch(/100\.0.*first$/);
    expect(screen.getByText(/Looked back to revision 3. The comparison was made there/)).toBeTruthy();
  });

  it('since a revision that is chosen adds up', async () => {
    await open();
    await screen.findByRole('table');
    await userEvent.click(screen.getByText('change 3'));
    expect(rows()).toHaveLength(2);
    expect(screen.getByText(/Since revision 3 cut − fill changed by \+30\.0 m³, the sum of these/)).toBeTruthy();
    await userEvent.click(screen.getByRole('button', { name: 'Show all' }));
    expect(rows()).toHaveLength(3);
  });

  it('says where nothing altered it, and what went wrong', async () => {
    answer = () => Promise.resolve({ ...STORY, steps: [], end: 'begins' });
    await open();
    expect(await screen.findByText(/No change since revision 3 altered it/)).toBeTruthy();
  });
});
