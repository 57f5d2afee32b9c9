// @vitest-environment jsdom
import { cleanup, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { act } from 'react';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { proposedRecipe, type Comparison, type ProjectDocument } from '#core/project';
import { useProject } from '../../../src/project-state/store.ts';
import { sheetHandle } from '../../../src/sheet/handle.ts';
import { Quantities } from '../../../src/stages/quantities/quantities.tsx';
import { NewComparison } from '../../../src/stages/quantities/new-comparison.tsx';
import { draw } from '../../drawn.tsx';
import { opened, written } from '../../opened.ts';
import { projectOf, tablesOf } from '../../tables.ts';

// A level square of 20 m at 50 m; against 48 m all of it is cut, 800 m³, against 50.5 m fill, 200 m³.
const given = projectOf({ points: [['1', 0, 0, 50], ['2', 20, 0, 50], ['3', 0, 20, 50], ['4', 20, 20, 50]] }); // prettier-ignore
const CUT: Comparison = { id: 'c', name: 'Down to 48', surface: 'ground', against: { level: 48 }, within: null };
const FILL: Comparison = { id: 'f', name: 'Up to 50.5', surface: 'ground', against: { level: 50.5 }, within: null };
const LOST: Comparison = { id: 'l', name: 'Off the site', surface: 'ground', against: { level: 1 }, within: [90, 90, 95, 90, 95, 95] }; // prettier-ignore

let page: ReturnType<typeof opened>;
function quantities(comparisons: Comparison[], over: Partial<ProjectDocument['settings']> = {}, more = {}): void {
  const doc = { ...given.doc, comparisons, settings: { ...given.doc.settings, ...over } };
  page = opened({ doc, tables: tablesOf(doc, given.readOf) }, more);
  draw(<Quantities />);
}
const rowOf = (name: string): string => screen.getByText(name, { selector: 'td *, td' }).closest('tr')!.textContent;
const thin = (text: string | null): string => (text ?? '').replace(/[\u2009\u00a0]/g, ' ');

describe('comparisons', () => {
  beforeEach(() => localStorage.clear());

  it('stand with cut, fill and cut − fill apart, in the unit of the project', () => {
    quantities([CUT, FILL]);
    const rows = within(screen.getByRole('table', { name: 'comparisons' }))
      .getAllByRole('row')
      .slice(1);
    expect(rows.map((r) => thin(r.textContent))).toEqual(['Down to 48800.00.0800.0', 'Up to 50.50.0200.0−200.0']);
    expect(screen.getByRole('columnheader', { name: /Cut m³/ })).toBeTruthy();
  });

  it('are in cubic yards where the project says so, with the other unit beside', () => {
    quantities([CUT], { volumeUnit: 'yd3' });
    // 800 m³ / 0.9144³ = 1046.36 yd³, by the international yard.
    expect(thin(rowOf('Down to 48'))).toContain('1 046.4');
    expect(screen.getByText('cut m³').parentElement!.textContent).toContain('800.0');
  });

  it('say why there are no figures in their place', () => {
    quantities([LOST]);
    expect(rowOf('Off the site')).toMatch(/^Off the site.{12,}/);
    expect(rowOf('Off the site')).not.toMatch(/\d\.\d/);
  });

  it('say what against what, at which revision', () => {
    quantities([CUT]);
    expect(screen.getByText(/to level 48\.000 m; revision 1$/)).toBeTruthy();
  });

  it('that are chosen are brought into view, once, as soon as they are computed', () => {
    const fitTo = vi.fn();
    sheetHandle.current = { fitTo } as unknown as typeof sheetHandle.current;
    quantities([CUT], {}, { selection: { kind: 'comparison', id: 'c' } });
    expect(fitTo).not.toHaveBeenCalled();
    const pieces = new Map([['c', Float64Array.of(0, 0, 2, 20, 0, 2, 0, 20, 2)]]);
    act(() => useProject.setState({ tables: { ...useProject.getState().tables!, pieces } }));
    expect(fitTo.mock.calls).toEqual([[Float64Array.of(0, 20, 0), Float64Array.of(0, 0, 20)]]);
    sheetHandle.current = null;
  });

  it('get a boundary that is drawn, lose it, and go', async () => {
    quantities([CUT]);
    await userEvent.click(screen.getByRole('button', { name: 'Draw a boundary' }));
    const ring = [1, 1, 9, 1, 9, 9];
    act(() => useProject.getState().traced!.finish(ring));
    await userEvent.click(screen.getByRole('button', { name: 'Delete' }));
    expect(written(page)).toEqual([
      { op: 'comparison.set', comparison: { ...CUT, within: ring } },
      { op: 'comparison.remove', id: 'c' },
    ]);
  });

  it('are left as they are by whoever may only read', () => {
    quantities([CUT], {}, { role: 'viewer' });
    for (const name of ['Compare …', 'Delete', 'Draw a boundary'])
      expect(screen.queryByRole('button', { name })).toBeNull();
  });

  it('that do not exist yet are offered', () => {
    quantities([]);
    expect(screen.getByText(/Begin with “Compare”/)).toBeTruthy();
  });
});

describe('what every method makes of a comparison', () => {
  beforeEach(() => localStorage.clear());
  const methods = () => within(screen.getByRole('table', { name: 'what every method makes of it' }));
  // A ridge of 2 m between two sections, on level ground at 50 m.
  const ridge = projectOf({ points: [['1', 0, 0, 50], ['2', 40, 0, 50], ['3', 0, 20, 50], ['4', 40, 20, 50], ['5', 24, 0, 50], ['6', 24, 20, 50], ['7', 25, 0, 52], ['8', 25, 20, 52], ['9', 26, 0, 50], ['10', 26, 20, 50], ['11', 12, 0, 50], ['12', 12, 20, 50]] }); // prettier-ignore
  const shownFor = (comparison: Comparison, more = {}): void => {
    const doc = { ...ridge.doc, comparisons: [comparison] };
    page = opened({ doc, tables: tablesOf(doc, ridge.readOf) }, more);
    draw(<Quantities />);
  };

  it('stands side by side, with the spread and the stretch that sections miss', async () => {
    const show = vi.fn();
    sheetHandle.current = { show } as unknown as typeof sheetHandle.current;
    shownFor({ ...CUT, against: { level: 50 }, methods: { spacing: 10 } });
    const rows = methods().getAllByRole('row').slice(1).map((r) => thin(r.textContent)); // prettier-ignore
    // 2 m high, 2 m wide, 20 m long.
    expect(rows[0]).toContain('40.0');
    expect(rows[2]).toMatch(/0\.0.*100\.00$/);
    expect(screen.getByText(/^Spread of cut − fill:/).textContent).toContain('% of cut + fill');
    expect(thin(screen.getByRole('button', { name: 'Show it' }).parentElement!.textContent)).toMatch(/10\.00 m apart miss 40\.\d m³ between 20\.0 and 30\.0/); // prettier-ignore
    await userEvent.click(screen.getByRole('button', { name: 'Show it' }));
    expect(show).toHaveBeenCalledWith(25, 10);
    sheetHandle.current = null;
  });

  it('tells which points weigh most, and shows them', async () => {
    const show = vi.fn();
    sheetHandle.current = { show } as unknown as typeof sheetHandle.current;
    shownFor({ ...CUT, against: { level: 50 } });
    await userEvent.click(screen.getByRole('button', { name: 'Which points weigh most …' }));
    const rows = within(screen.getByRole('table', { name: 'points that weigh most' }))
      .getAllByRole('row')
      .slice(1);
    expect(rows).toHaveLength(10);
    // Of the corners of the long side, by the triangles that they have.
    expect(thin(rows[0].textContent)).toMatch(/^\d+50\.000\+\d+\.\d$/);
    await userEvent.click(rows[0].querySelector('td')!);
    expect(show).toHaveBeenCalledOnce();
    sheetHandle.current = null;
  });

  it('takes a size that is typed, and keeps the others as they are', async () => {
    shownFor({ ...CUT, against: { level: 50 }, methods: { cell: 2 } });
    const field = screen.getByLabelText('sections every m');
    await userEvent.clear(field);
    await userEvent.type(field, '2,5{Enter}');
    expect(written(page)).toMatchObject([{ op: 'comparison.set', comparison: { methods: { cell: 2, spacing: 2.5 } } }]);
  });

  it('says how sure it is once somebody says how precise the points are', async () => {
    shownFor({ ...CUT, against: { level: 50 } });
    await userEvent.click(screen.getByRole('button', { name: 'How sure is it …' }));
    expect(written(page)).toMatchObject([{ comparison: { sd: { plan: 0.02, height: 0.02 } } }]);
    cleanup();
    shownFor({ ...CUT, against: { level: 50 }, sd: { plan: 0, height: 0.05 } });
    expect(thin(screen.getByText(/\(95 %\)/).textContent)).toMatch(/cut 40\.0 ± \d+\.\d/);
  });

  it('is read by everybody and changed by those who may', () => {
    shownFor({ ...CUT, against: { level: 50 } }, { role: 'viewer' });
    expect(methods().queryAllByRole('textbox')).toEqual([]);
    expect(screen.queryByRole('button', { name: /How sure|Measure a heap/ })).toBeNull();
    expect(screen.queryByLabelText('propose ground')).toBeNull();
  });
});

describe('what a comparison takes off or adds', () => {
  it('is typed: topsoil, a band, factors; voids are drawn', async () => {
    quantities([CUT]);
    await userEvent.click(screen.getByRole('button', { name: 'Topsoil, factors, voids …' }));
    const type = async (label: string, text: string): Promise<void> => {
      await userEvent.clear(screen.getByLabelText(label));
      await userEvent.type(screen.getByLabelText(label), `${text}{Enter}`);
    };
    await type('topsoil that goes first m', '0,3');
    await type('factor of cut, loose', '1.25');
    await userEvent.click(screen.getByRole('button', { name: 'Draw a void' }));
    act(() => useProject.getState().traced!.finish([1, 1, 9, 1, 9, 9]));
    const set = written(page).map((c) => c.op === 'comparison.set' && c.comparison);
    for (const to of [{ strip: 0.3 }, { factors: { cut: 1.25, fill: 1 } }, { voids: [[1, 1, 9, 1, 9, 9]] }])
      expect(set).toContainEqual(expect.objectContaining(to));
  });

  it('stands among the figures', () => {
    quantities([{ ...CUT, strip: 0.5, factors: { cut: 1.25, fill: 1.1 } }]);
    // 400 m², half a metre of topsoil, the other metre and a half loose.
    expect(screen.getByText('topsoil m³').parentElement!.textContent).toContain('200.0');
    expect(screen.getByText('cut, loose m³').parentElement!.textContent).toContain('750.0');
  });
});

describe('a heap', () => {
  // A pyramid of 10 m square, 3 m high, on ground at 50 m that reaches 10 m farther.
  const heap = projectOf({ points: [['1', 10, 10, 50], ['2', 20, 10, 50], ['3', 20, 20, 50], ['4', 10, 20, 50], ['5', 15, 15, 53], ['6', 0, 0, 50], ['7', 30, 0, 50], ['8', 30, 30, 50], ['9', 0, 30, 50]] }); // prettier-ignore
  const HEAP: Comparison = { id: 'h', name: 'Heap', surface: 'ground', against: { base: 'toe' }, within: null };
  const shownWith = (comparisons: Comparison[]): void => {
    const doc = { ...heap.doc, comparisons };
    page = opened({ doc, tables: tablesOf(doc, heap.readOf) });
    draw(<Quantities />);
  };

  it('is measured in one action, under a name that is free', async () => {
    shownWith([HEAP]);
    await userEvent.click(screen.getByRole('button', { name: 'Measure a heap' }));
    expect(written(page)).toMatchObject([{ op: 'comparison.set', comparison: { name: 'Heap 2', surface: 'ground', against: { base: 'toe' }, within: null } }]); // prettier-ignore
  });

  it('stands above every base, and another one can be chosen', async () => {
    shownWith([HEAP]);
    const bases = within(screen.getByRole('table', { name: 'the heap above every base' }));
    const rows = bases.getAllByRole('row').slice(1).map((r) => thin(r.textContent)); // prettier-ignore
    expect(rows).toEqual(['lowest of the toe', 'mean of the toe', 'plane fitted to the toe', 'triangles from the toe'].map((b) => `${b}100.00.0100.00.0`)); // prettier-ignore
    expect(screen.getByText(/^heap in “Ground” above the triangles from the toe, toe found by itself/)).toBeTruthy();
    await userEvent.click(bases.getByLabelText('plane fitted to the toe'));
    expect(written(page)).toMatchObject([{ comparison: { id: 'h', against: { base: 'plane' } } }]);
  });

  it('stands above an earlier surface too, once one is named, and says what of it that does not lie under', async () => {
    const half = proposedRecipe({ id: 'october', name: 'October' }, { kind: 'pad', surface: 'ground', ring: [1, 1, 15, 1, 15, 29, 1, 29], level: 49, levelAt: 'centre', gradient: 0, direction: 0, cutSlope: 0.01, fillSlope: 2, corners: 'mitred', sagitta: 0.01, batter: 'square' }); // prettier-ignore
    const shown = (comparison: Comparison): void => {
      const doc = { ...heap.doc, surfaces: [...heap.doc.surfaces, half], comparisons: [comparison] };
      page = opened({ doc, tables: tablesOf(doc, heap.readOf) });
      draw(<Quantities />);
    };
    shown(HEAP);
    await userEvent.selectOptions(screen.getByLabelText('surface of what was there before the heap'), 'October');
    expect(written(page)).toMatchObject([{ comparison: { id: 'h', earlier: 'october', against: { base: 'toe' } } }]);
    cleanup();
    shown({ ...HEAP, earlier: 'october' });
    // Half of the pyramid of 100 m³, and a metre below half of its 100 m².
    const bases = within(screen.getByRole('table', { name: 'the heap above every base' }));
    expect(thin(bases.getAllByRole('row').at(-1)!.textContent)).toMatch(/10[01]\.\d/);
    expect(screen.getByText(/does not lie under .* of the heap/)).toBeTruthy();
    await userEvent.click(bases.getByLabelText('earlier surface'));
    expect(written(page)).toMatchObject([{ comparison: { against: { surface: 'october', heap: true } } }]);
  });

  it('gets a toe that is drawn', async () => {
    shownWith([HEAP]);
    await userEvent.click(screen.getByRole('button', { name: 'Draw the toe' }));
    const ring = [9, 9, 21, 9, 21, 21, 9, 21];
    act(() => useProject.getState().traced!.finish(ring));
    expect(written(page)).toMatchObject([{ comparison: { id: 'h', within: ring } }]);
  });
});

describe('a pad', () => {
  it('is laid where it is drawn, at the mean of the ground there, and compared at once', async () => {
    quantities([]);
    await userEvent.selectOptions(screen.getByLabelText('propose ground'), 'pad');
    await act(async () => useProject.getState().traced!.finish([5, 5, 15, 5, 15, 15, 5, 15]));
    const [change] = written(page);
    expect(change).toMatchObject({ op: 'several', changes: [{ op: 'surface.add', surface: { name: 'Pad 1', rows: [{ kind: 'pad', level: 50, surface: 'ground' }] } }, { op: 'comparison.set', comparison: { name: 'Pad 1', surface: 'ground' } }] }); // prettier-ignore
  });

  it('off the ground is not laid, and said so', async () => {
    quantities([]);
    await userEvent.selectOptions(screen.getByLabelText('propose ground'), 'pad');
    await act(async () => useProject.getState().traced!.finish([500, 5, 515, 5, 515, 15]));
    expect(written(page)).toEqual([]);
    expect(page.tell).toHaveBeenCalledWith(expect.stringContaining('No corner of the pad lies on the ground'));
  });

  it('is set by its level, slopes, gradient and corners', async () => {
    const pad = proposedRecipe({ id: 'pad', name: 'Pad' }, { kind: 'pad', surface: 'ground', ring: [5, 5, 15, 5, 15, 15, 5, 15], level: 51, levelAt: 'centre', gradient: 0, direction: 0, cutSlope: 2, fillSlope: 2, corners: 'mitred', sagitta: 0.01, batter: 'square' }); // prettier-ignore
    const doc = {
      ...given.doc,
      surfaces: [...given.doc.surfaces, pad],
      comparisons: [{ ...CUT, against: { surface: 'pad' } }],
    };
    page = opened({ doc, tables: tablesOf(doc, given.readOf) });
    draw(<Quantities />);
    // 10 × 10 m, 1 m up, batters of 1 : 2.
    expect(thin(rowOf('Down to 48'))).toContain((100 + (40 * 2) / 2 + (4 * 4) / 3).toFixed(1));
    const type = async (label: string, text: string): Promise<void> => {
      await userEvent.clear(screen.getByLabelText(label));
      await userEvent.type(screen.getByLabelText(label), `${text}{Enter}`);
    };
    await type('level of the pad m', '50.5');
    await type('slope in fill, horizontal to 1 vertical', '3');
    await type('gradient of the pad %', '1,5');
    await userEvent.selectOptions(screen.getByLabelText('corners of the batters'), 'rounded');
    const rows = written(page).map((c) => c.op === 'surface.row' && c.row);
    for (const set of [{ level: 50.5 }, { fillSlope: 3 }, { gradient: 0.015 }, { corners: 'rounded' }])
      expect(rows).toContainEqual(expect.objectContaining(set));
    await type('slope in cut, horizontal to 1 vertical', '0');
    expect(written(page).some((c) => c.op === 'surface.row' && c.row.kind === 'pad' && c.row.cutSlope === 0)).toBe(
      false,
    );
    expect(screen.getByLabelText('slope in cut, horizontal to 1 vertical').getAttribute('aria-invalid')).toBe('true');
  });
});

describe('a new comparison', () => {
  const close = vi.fn();
  const form = (unit: 'm' | 'ft' = 'm') => {
    close.mockClear();
    const pad = { ...given.doc.surfaces[0], id: 'pad', name: 'Pad', role: 'design' as const };
    const doc = { ...given.doc, surfaces: [pad, ...given.doc.surfaces], settings: { ...given.doc.settings, unit } };
    page = opened({ ...given, doc });
    draw(<NewComparison onClose={close} />);
  };

  it('begins with the ground, whatever comes first in the list, and leaves the compared one out of the other side', () => {
    form();
    expect(screen.getByLabelText<HTMLSelectElement>('surface that is compared').value).toBe('ground');
    const against = within(screen.getByLabelText('against'))
      .getAllByRole('option')
      .map((o) => o.textContent);
    expect(against).toEqual(['Pad', 'a level', 'the base of its heap']);
  });

  it('with itself cannot be asked for: the other side falls back to a level', async () => {
    form();
    await userEvent.selectOptions(screen.getByLabelText('surface that is compared'), 'pad');
    expect(screen.getByLabelText<HTMLSelectElement>('against').value).toBe('');
  });

  it('to a level is typed in the project’s unit, echoed, and named for what it is', async () => {
    form('ft');
    await userEvent.selectOptions(screen.getByLabelText('against'), 'a level');
    await userEvent.type(screen.getByLabelText('level, ft'), '100');
    expect(screen.getByText(/^= 100/)).toBeTruthy();
    await userEvent.click(screen.getByRole('button', { name: 'Compute' }));
    const [change] = written(page);
    expect(change).toMatchObject({ op: 'comparison.set', comparison: { surface: 'ground', within: null } });
    expect(change.op === 'comparison.set' && change.comparison.against).toEqual({ level: 30.48 });
    expect(close).toHaveBeenCalled();
  });

  it('with a level that is missing or cannot be read says so at the field, and writes nothing', async () => {
    form();
    await userEvent.selectOptions(screen.getByLabelText('against'), 'a level');
    await userEvent.click(screen.getByRole('button', { name: 'Compute' }));
    expect(screen.getByRole('alert').textContent).toBe('Type the level’s elevation.');
    await userEvent.type(screen.getByLabelText('level, m'), 'high');
    await userEvent.click(screen.getByRole('button', { name: 'Compute' }));
    expect(screen.getByRole('alert').textContent).toContain('high');
    expect([written(page), close.mock.calls]).toEqual([[], []]);
  });

  it('that is refused keeps what was typed', async () => {
    form();
    page.make.mockResolvedValue(false);
    await userEvent.type(screen.getByLabelText('name of the comparison'), 'May to April');
    await userEvent.click(screen.getByRole('button', { name: 'Compute' }));
    expect(written(page)).toMatchObject([{ comparison: { name: 'May to April', against: { surface: 'pad' } } }]);
    expect(screen.getByLabelText<HTMLInputElement>('name of the comparison').value).toBe('May to April');
    expect(close).not.toHaveBeenCalled();
  });
});
