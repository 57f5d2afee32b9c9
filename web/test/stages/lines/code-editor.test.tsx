// @vitest-environment jsdom
import { screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { useState } from 'react';
import { describe, expect, it, vi } from 'vitest';
import { codeSchema, DEFAULT_CODE_LIST, type Code } from '#core/codes';
import { CodeEditor } from '../../../src/stages/lines/code-editor.tsx';
import { draw } from '../../drawn.tsx';

const LINE = DEFAULT_CODE_LIST.codes.find((c) => c.kind === 'line')!;
const POINT: Code = { ...DEFAULT_CODE_LIST.codes.find((c) => c.kind === 'point')!, strokes: undefined };
const remove = vi.fn();
let now: Code;

/** The editor over a code that takes what is set, as the list does. */
function Editing({ from, unit, disabled }: { from: Code; unit: 'm' | 'ft'; disabled: boolean }) {
  const [code, setCode] = useState(from);
  now = code;
  return <CodeEditor code={code} unit={unit} groups={['services']} disabled={disabled} set={(part) => setCode({ ...code, ...part })} remove={remove} />; // prettier-ignore
}
const edit = (from: Code, unit: 'm' | 'ft' = 'm', disabled = false) => draw(<Editing {...{ from, unit, disabled }} />);
const named = (label: string) => screen.getByLabelText<HTMLInputElement>(label);
async function retype(label: string, text: string): Promise<void> {
  await userEvent.clear(named(label));
  if (text) await userEvent.type(named(label), text);
  await userEvent.tab();
}

describe('what a code means', () => {
  it('is typed in place: codes and layers in capitals, emptied parts left to others', async () => {
    edit(LINE);
    const code = LINE.code;
    await retype(`layer of points of ${code}`, 'pts-low');
    await retype(`layer of ${code}`, 'kerb');
    expect(now).toMatchObject({ layer: 'KERB', pointLayer: 'PTS-LOW' });
    await retype(`layer of points of ${code}`, '');
    expect(now.pointLayer).toBeUndefined();
    expect(codeSchema.safeParse(now).success).toBe(true);
  });

  it('asks of a line what a line has, and of a point what a point has', async () => {
    edit(LINE);
    expect(screen.queryByLabelText(`symbol of ${LINE.code}`)).toBeNull();
    expect(named(`style of ${LINE.code}`)).toBeTruthy();
    await userEvent.selectOptions(named(`kind of ${LINE.code}`), 'a point');
    expect(named(`symbol of ${LINE.code}`)).toBeTruthy();
    expect(screen.queryByLabelText(`style of ${LINE.code}`)).toBeNull();
    expect(screen.queryByLabelText('a breakline of the ground')).toBeNull();
  });

  it('turns a symbol in degrees, kept in radians, and sizes it', async () => {
    edit(POINT);
    await retype(`rotation of ${POINT.code}, degrees`, '90');
    await retype(`size of ${POINT.code}`, '2,5');
    expect(now.rotation).toBeCloseTo(Math.PI / 2, 12);
    expect(now.scale).toBe(2.5);
    await retype(`rotation of ${POINT.code}, degrees`, '0');
    await retype(`size of ${POINT.code}`, '1');
    expect([now.rotation, now.scale]).toEqual([undefined, undefined]);
  });

  it('goes back to what stood there where a number cannot be meant', async () => {
    edit(POINT);
    for (const typed of ['big', '0', '21']) await retype(`size of ${POINT.code}`, typed);
    expect([now.scale, named(`size of ${POINT.code}`).value]).toEqual([POINT.scale, String(POINT.scale ?? 1)]);
  });

  it('labels with what is chosen, or as the drawing has it', async () => {
    edit(POINT);
    const labels = named(`labels of ${POINT.code}`);
    await userEvent.selectOptions(labels, 'number and elevation');
    expect(now.label).toEqual(['number', 'elevation']);
    await userEvent.selectOptions(labels, 'none');
    expect(now.label).toEqual([]);
    await userEvent.selectOptions(labels, 'as the drawing has them');
    expect(now.label).toBeUndefined();
  });

  it('has offset lines, in the project’s unit, each changed and deleted on its own', async () => {
    edit({ ...LINE, offsets: [{ code: 'KF', across: 0.3048, height: 0 }] }, 'ft');
    expect(named('offset 1 to the right').value).toBe('1');
    await retype('offset 1 up', '-0,5');
    expect(now.offsets).toEqual([{ code: 'KF', across: 0.3048, height: expect.closeTo(-0.1524, 9) as number }]);
    await userEvent.click(screen.getByRole('button', { name: 'Add a line' }));
    expect(now.offsets).toHaveLength(2);
    await userEvent.click(screen.getByRole('button', { name: 'without offset 2' }));
    await userEvent.click(screen.getByRole('button', { name: 'without offset 1' }));
    expect(now.offsets).toBeUndefined();
  });

  it('has attributes whose names a description can carry', async () => {
    edit({ ...POINT, attributes: undefined });
    await userEvent.click(screen.getByRole('button', { name: 'Add an attribute' }));
    await retype('name of attribute 1', 'Pipe /Size="1"');
    await userEvent.selectOptions(named('type of attribute 1'), 'choice');
    await retype('choices of attribute 1', 'clay, , concrete ');
    await userEvent.click(screen.getByLabelText('required'));
    expect(now.attributes).toEqual([{ name: 'pipesize1', type: 'choice', choices: ['clay', 'concrete'], required: true }]); // prettier-ignore
    expect(screen.getByRole('option', { name: 'attribute pipesize1' })).toBeTruthy();
  });

  it('is deleted by a button that says of what', async () => {
    edit(POINT);
    await userEvent.click(screen.getByRole('button', { name: `Delete ${POINT.code} from the list` }));
    expect(remove).toHaveBeenCalledOnce();
  });

  it('is read and not changed where it may not be', () => {
    edit(POINT, 'm', true);
    for (const field of screen.getAllByRole('textbox')) expect((field as HTMLInputElement).disabled).toBe(true);
    for (const pick of screen.getAllByRole('combobox')) expect((pick as HTMLSelectElement).disabled).toBe(true);
  });
});
