// @vitest-environment jsdom
import { screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it, vi } from 'vitest';
import { METHODS, type SystemParameters } from '#core/basis';
import { ByDefinition, ByParameters } from '../../src/intake/system-parameters.tsx';
import { NewPair } from '../../src/stages/basis/fit-table.tsx';
import { typedSchema } from '../../src/stages/basis/typed-control.tsx';
import { draw } from '../drawn.tsx';

const row = (number: string, first: string, second: string, z = '') => ({ number, first, second, z });
const typed = (...rows: ReturnType<typeof row>[]) => typedSchema('ft', ['number', 'north ft', 'east ft', 'elevation ft']).safeParse({ rows, by: '', source: '' }); // prettier-ignore
const said = (...rows: ReturnType<typeof row>[]): string[] =>
  typed(...rows).error?.issues.map((i) => `${i.path.join('.')} ${i.message}`) ?? [];

describe('control typed row by row', () => {
  it('is taken with blank rows and without elevations, in any unit that is said', () => {
    expect(typed(row('A', '10.5', '20', '1.5m'), row('', '', ''), row('B', '1 m', '2m')).success).toBe(true);
  });

  it('tells every slip at its own field and row', () => {
    expect(said(row('A', 'x', '20'), row('', '1', '2'), row('A', '1', '2', 'high'))).toEqual([
      expect.stringMatching(/^rows.0.first Row 1, north ft: /),
      'rows.1.number Row 2 has no number.',
      'rows.2.number Row 3: A stands in row 1 already. Which is meant?',
      expect.stringMatching(/^rows.2.z Row 3, elevation ft: /),
    ]);
  });

  it('is asked for where nothing is typed', () => {
    expect(said(row('', '', ''), row(' ', '', ''))).toEqual(['rows.0.number Type at least one point.']);
  });
});

describe('a pair of common points', () => {
  const both = (...numbers: string[]) => new Map(numbers.map((n) => [n, null]));

  it('is added by its numbers, one for both sides where they are the same', async () => {
    const add = vi.fn();
    draw(<NewPair from={both('1', '2')} to={both('1', 'K2')} order="NE" onAdd={add} onPoint={() => undefined} />);
    await userEvent.type(screen.getByLabelText('number in the files'), ' 1 ');
    await userEvent.click(screen.getByRole('button', { name: 'Add the pair' }));
    expect(add).toHaveBeenLastCalledWith({ from: '1', to: '1', plan: true, height: true });
    await userEvent.type(screen.getByLabelText('number in the files'), '2');
    await userEvent.type(screen.getByLabelText('number on the other side'), 'K2');
    await userEvent.click(screen.getByRole('button', { name: 'Add the pair' }));
    expect(add).toHaveBeenLastCalledWith({ from: '2', to: 'K2', plan: true, height: true });
  });

  it('that one side does not have says which, at the field', async () => {
    const add = vi.fn();
    draw(<NewPair from={both('1')} to={both('K1')} order="NE" onAdd={add} onPoint={() => undefined} />);
    const [files, other] = ['number in the files', 'number on the other side'].map((n) => screen.getByLabelText(n));
    await userEvent.type(files, '9{Enter}');
    expect(screen.getByRole('alert').textContent).toContain('The files have no point 9');
    expect(files.getAttribute('aria-invalid')).toBe('true');
    await userEvent.clear(files);
    await userEvent.type(files, '1{Enter}');
    expect(screen.getByRole('alert').textContent).toContain('have a point 1');
    expect(other.getAttribute('aria-invalid')).toBe('true');
    expect(add).not.toHaveBeenCalled();
  });
});

describe('a system by its parameters', () => {
  it('is made of angles as people type them, in degrees, under the name of its projection', async () => {
    const make = vi.fn<(p: SystemParameters) => void>();
    draw(<ByParameters onMake={make} />);
    await userEvent.type(screen.getByLabelText('longitude of the origin'), '15-30-00');
    expect(screen.getByText('= 15°30′00.0000″')).toBeTruthy();
    await userEvent.click(screen.getByRole('button', { name: 'Use it' }));
    expect(make.mock.calls[0][0]).toMatchObject({ name: METHODS.tmerc, latitude: 0, longitude: 15.5, scale: 1, datum: { kind: 'same' } }); // prettier-ignore
  });

  it('says at each field what is missing or wrong, and makes nothing', async () => {
    const make = vi.fn();
    draw(<ByParameters onMake={make} />);
    await userEvent.type(screen.getByLabelText('scale factor'), 'x');
    await userEvent.click(screen.getByRole('button', { name: 'Use it' }));
    const alerts = screen.getAllByRole('alert').map((a) => a.textContent);
    expect(alerts).toEqual(['longitude of the origin: a number is needed', 'scale factor: “1x” is not a number']);
    expect(make).not.toHaveBeenCalled();
  });

  it('or by a definition needs a name and one', async () => {
    const make = vi.fn();
    draw(<ByDefinition onMake={make} />);
    await userEvent.click(screen.getByRole('button', { name: 'Use it' }));
    expect(screen.getAllByRole('alert').map((a) => a.textContent)).toEqual([
      'Name the system.',
      'Type its definition.',
    ]);
    await userEvent.type(screen.getByLabelText('name of the system'), 'Site grid');
    await userEvent.type(screen.getByLabelText('PROJ definition'), '+proj=tmerc');
    await userEvent.click(screen.getByRole('button', { name: 'Use it' }));
    expect(make).toHaveBeenCalledWith('Site grid', '+proj=tmerc');
  });
});
