// @vitest-environment jsdom
import { screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it, vi } from 'vitest';
import { drawingChoices, type TakenRow } from '#core/exchange';
import { newDocument } from '#core/project';
import { DrawingPurposePick, intoOfDrawing, NewCodes, purposeOfDrawing, type DrawingPurpose } from '../../src/intake/drawing-purpose.tsx'; // prettier-ignore
import { whatIsImported } from '../../src/intake/what-is-imported.ts';
import type { Opened } from '../../src/work/intake.worker.ts';
import { draw } from '../drawn.tsx';

const LINES: TakenRow[] = [{ layer: 'KERB', kind: 'LINE', as: 'lines' }];
const GROUND: TakenRow[] = [{ layer: 'KERB', kind: 'LINE', as: 'breaklines' }];
const SAID: DrawingPurpose = { purpose: 'design', surface: null, name: 'Quay walk', alone: true };

describe('what a drawing is', () => {
  it('in no surface as long as nothing of it makes one, whatever was said of it before', () => {
    expect(intoOfDrawing(purposeOfDrawing(LINES, { ...SAID, alone: false }))).toBeUndefined();
    expect(purposeOfDrawing(LINES, { ...SAID, purpose: 'survey', alone: false })).toMatchObject({ purpose: 'survey' });
    expect(intoOfDrawing(purposeOfDrawing(GROUND, SAID))).toMatchObject({ surface: { name: 'Quay walk' } });
    expect(intoOfDrawing(purposeOfDrawing(GROUND, { ...SAID, surface: 'ground' }))).toEqual({ id: 'ground' });
  });

  it('is chosen in words: a drawing, a survey, control; or the surface that it goes into', async () => {
    const onChange = vi.fn();
    const { rerender } = draw(<DrawingPurposePick doc={newDocument()} taken={LINES} chosen={SAID} onChange={onChange} />); // prettier-ignore
    await userEvent.selectOptions(screen.getByLabelText('what the drawing is'), 'survey');
    expect(onChange).toHaveBeenLastCalledWith({ ...SAID, purpose: 'survey', alone: false });
    rerender(<DrawingPurposePick doc={newDocument()} taken={GROUND} chosen={SAID} onChange={onChange} />);
    await userEvent.selectOptions(screen.getByLabelText('surface of the drawing'), '“Ground”');
    expect(onChange).toHaveBeenLastCalledWith({ ...SAID, alone: false, surface: 'ground' });
    expect(screen.getByLabelText('name of the surface')).toHaveProperty('value', 'Quay walk');
  });
});

describe('codes that come along', () => {
  it('are named, and what happens without them is said', async () => {
    const codes = ['A', 'B', 'C', 'D', 'E', 'F', 'G', 'H'].map((code) => ({
      ...newDocument().codeList.codes[0],
      code,
    }));
    const set = vi.fn();
    const { rerender } = draw(<NewCodes codes={codes} on set={set} />);
    await userEvent.click(screen.getByRole('checkbox', { name: /add 8 codes A, B, C, D, E, F and 2 more/ }));
    expect(set).toHaveBeenCalledWith(false);
    rerender(<NewCodes codes={codes.slice(0, 1)} on={false} set={set} />);
    expect(screen.getByText(/its lines are not drawn/)).toBeTruthy();
  });
});

describe('what the button says', () => {
  const opened = (more: Partial<Opened>) => ({ surface: null, lines: { count: 0, taken: false }, ...more }) as Opened;

  it('is what is imported, one and several', () => {
    expect(whatIsImported(opened({ together: { points: 1 }, lines: { count: 2, taken: true } }), 9, false)).toBe('1 point and 2 lines'); // prettier-ignore
    expect(whatIsImported(opened({ together: { points: 3 }, lines: { count: 7, taken: false } }), 9, false)).toBe('3 points'); // prettier-ignore
    expect(whatIsImported(opened({ lines: { count: 1, taken: true } }), 9, false)).toBe('1 line');
    expect(whatIsImported(opened({ surface: 'Pad' }), 9, false)).toBe('the surface');
    expect(whatIsImported(opened({}), 9, true)).toBe('the whole file');
  });

  it('and what is ticked stays when another part of the file is chosen', () => {
    expect(drawingChoices({ taken: LINES, blocks: true, within: [0, 0, 1, 1], surface: 'Pad', unit: 'mm' })).toEqual({ taken: LINES, blocks: true, within: [0, 0, 1, 1] }); // prettier-ignore
  });
});
