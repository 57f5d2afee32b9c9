// @vitest-environment jsdom
import { screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { useState } from 'react';
import { MemoryRouter } from 'react-router';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import type { Query } from '#core/queries';
import { orderedQueries, Queries } from '../../src/cards/queries.tsx';
import { useProject, type PendingChange } from '../../src/project-state/store.ts';
import { sheetHandle } from '../../src/sheet/handle.ts';
import { draw } from '../drawn.tsx';
import { opened, written } from '../opened.ts';
import { projectOf } from '../tables.ts';

const given = projectOf({ points: [['1', 0, 0, 50], ['2', 10, 0, 51], ['3', 0, 10, 52]] }); // prettier-ignore
const query = (over: Partial<Query>): Query =>
  ({ key: 'k', kind: 'spike', stage: 'ground', weight: 'look', text: 'Point 2 stands high.', evidence: [2, 51], place: { x: 10, y: 0 }, rows: [1], lines: [], remedies: [], accepted: null, ...over }) as Query; // prettier-ignore
const STOP = query({ key: 'stop', weight: 'stop', text: 'Point 1 is 1.01 m below its neighbours.', remedies: [{ label: 'Exclude point 1', change: { op: 'points.edit', edits: { 'day:1': { set: { off: true }, undo: [] } } } }] }); // prettier-ignore
const LOOK = query({ key: 'look' });
const TAKEN = query({ key: 'taken', text: 'A pit at 3.', accepted: { evidence: [], reason: 'it is the sump', by: 'Ada Quill', at: '' } as never }); // prettier-ignore
const ELSEWHERE = query({ key: 'lines', stage: 'lines', text: 'KT1 has no end.' });
const sheet = { show: vi.fn(), fitTo: vi.fn(), viewed: () => null, look: vi.fn() };

function Panel() {
  const [accepting, setAccepting] = useState<string | null>(null);
  return <Queries stage="ground" accepting={accepting} setAccepting={setAccepting} />;
}
function panel(queries: Query[], more: Parameters<typeof opened>[1] = {}) {
  const tables = { ...given.tables, summary: { ...given.tables.summary, queries } };
  const page = opened({ doc: given.doc, tables }, more);
  draw(<MemoryRouter><Panel /></MemoryRouter>); // prettier-ignore
  return page;
}
const items = () => within(screen.getByRole('list')).queryAllByRole('listitem').map((li) => li.textContent.replace(/\s/g, ' ')); // prettier-ignore
beforeEach(() => {
  localStorage.clear();
  sheet.show.mockClear();
  sheetHandle.current = sheet as unknown as typeof sheetHandle.current;
});

describe('the queries of a stage', () => {
  it('stand with the weightiest first, those of other stages and those accepted apart', () => {
    panel([LOOK, ELSEWHERE, STOP, TAKEN]);
    expect(items()).toEqual([STOP.text, LOOK.text]);
    expect(screen.getByRole('button', { name: '1 accepted' })).toBeTruthy();
  });

  it('are gone to: selected, with their place on the drawing', async () => {
    panel([STOP]);
    await userEvent.click(screen.getByText(STOP.text));
    expect(useProject.getState().selection).toEqual({ kind: 'query', key: 'stop' });
    expect(sheet.show).toHaveBeenCalledWith(10, 0);
  });

  it('offer their remedy as a preview, tied to the query that it would settle', async () => {
    const page = panel([STOP], { selection: { kind: 'query', key: 'stop' } });
    await userEvent.click(screen.getByRole('button', { name: /^Exclude point 1/ }));
    expect(page.propose).toHaveBeenCalledWith('Exclude point 1', STOP.remedies[0].change, 'stop');
  });

  it('with their remedy previewed are applied or left', async () => {
    const pending = { label: 'Exclude point 1', query: 'stop' } as PendingChange;
    const page = panel([STOP], { selection: { kind: 'query', key: 'stop' }, pending });
    await userEvent.click(screen.getByRole('button', { name: /^Cancel/ }));
    await userEvent.click(screen.getByRole('button', { name: /^Apply/ }));
    expect([page.cancel, page.accept].map((f) => f.mock.calls.length)).toEqual([1, 1]);
  });

  it('are accepted as they are only with a reason, and by their evidence', async () => {
    const page = panel([LOOK], { selection: { kind: 'query', key: 'look' } });
    await userEvent.click(screen.getByRole('button', { name: 'Accept as it is …' }));
    const accept = screen.getByRole<HTMLButtonElement>('button', { name: 'Accept' });
    expect(accept.disabled).toBe(true);
    await userEvent.type(screen.getByLabelText('reason'), 'a boulder stands there{Enter}');
    expect(written(page)).toEqual([{ op: 'query.accept', key: 'look', accepted: { evidence: [2, 51], reason: 'a boulder stands there', by: '', at: '' } }]); // prettier-ignore
    expect(screen.queryByLabelText('reason')).toBeNull();
  });

  it('that were accepted say by whom and why, and can be reopened', async () => {
    const page = panel([TAKEN]);
    await userEvent.click(screen.getByRole('button', { name: '1 accepted' }));
    expect(screen.getByText(/accepted by Ada Quill: “it is the sump”/)).toBeTruthy();
    await userEvent.click(screen.getByRole('button', { name: 'Reopen' }));
    expect(written(page)).toEqual([{ op: 'query.reopen', key: 'taken' }]);
  });

  it('fold away, say then how many there are, and stay folded', async () => {
    panel([STOP, LOOK]);
    await userEvent.click(screen.getByRole('button', { name: 'Queries of this stage' }));
    expect(screen.getByText(/^2 · /)).toBeTruthy();
    expect(localStorage.getItem('dunrik.queries.folded')).toBe('yes');
  });

  it('that are none say where the next is', async () => {
    panel([ELSEWHERE]);
    await userEvent.click(screen.getByRole('button', { name: 'Next is in Lines' }));
    expect(useProject.getState().selection).toEqual({ kind: 'query', key: 'lines' });
  });
});

describe('who may do what', () => {
  it('a checker accepts and mends nothing; a viewer reads', () => {
    panel([STOP], { role: 'checker', selection: { kind: 'query', key: 'stop' } });
    expect(screen.queryByRole('button', { name: /^Exclude/ })).toBeNull();
    expect(screen.getByRole('button', { name: 'Accept as it is …' })).toBeTruthy();
  });

  it('a viewer has neither button', () => {
    panel([STOP], { role: 'viewer', selection: { kind: 'query', key: 'stop' } });
    expect(screen.queryByRole('button', { name: /^(Exclude|Accept)/ })).toBeNull();
  });
});

it('all queries go in the order of the chain, then by weight', () => {
  const book = query({ key: 'b', stage: 'book', weight: 'note' });
  expect(orderedQueries([LOOK, STOP, ELSEWHERE, TAKEN, book]).map((q) => q.key)).toEqual(['b', 'lines', 'stop', 'look']); // prettier-ignore
});
