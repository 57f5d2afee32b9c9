// @vitest-environment jsdom
import { screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { MemoryRouter } from 'react-router';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import type { CodeList } from '#core/codes';
import { writeCodeTable } from '#core/exchange';
import { saveText } from '../../../src/frame/download.ts';
import { CodeListEditor } from '../../../src/stages/lines/code-list.tsx';
import { draw } from '../../drawn.tsx';
import { opened } from '../../opened.ts';
import { projectOf } from '../../tables.ts';

vi.mock('../../../src/frame/download.ts', () => ({ saveText: vi.fn(), saveFile: vi.fn() }));

const given = projectOf({ points: [['1', 0, 0, 50, 'KT1 BEG'], ['2', 9, 0, 50, 'KT1 END'], ['3', 0, 9, 50, 'KTT'], ['4', 5, 5, 50, 'KTT']] }); // prettier-ignore
const { codeList } = given.doc;
beforeEach(() => sessionStorage.clear());
function editor(role: 'surveyor' | 'viewer' = 'surveyor') {
  const page = opened(given, { role });
  draw(<MemoryRouter><CodeListEditor /></MemoryRouter>); // prettier-ignore
  return page;
}
const show = () => userEvent.click(screen.getByRole('button', { name: 'Show what it changes' }));
const listOf = (page: ReturnType<typeof opened>): CodeList | null => {
  const [, change] = page.propose.mock.calls.at(-1)!;
  return change.op === 'codes.set' ? change.codeList : null;
};
/** A file as the page gets it; jsdom’s own cannot be read as text. */
async function drop(name: string, text: string, size?: number): Promise<void> {
  const file = Object.assign(new File([text], name), { text: () => Promise.resolve(text) });
  if (size) Object.defineProperty(file, 'size', { value: size });
  await userEvent.upload(screen.getByTestId('code-file'), file);
}
const alert = async (): Promise<string> => (await screen.findByRole('alert')).textContent;

describe('the code list', () => {
  it('is found in by any word of a code', async () => {
    editor();
    const count = (): number => Number(screen.getByRole('grid', { name: 'codes' }).getAttribute('aria-rowcount'));
    expect(count()).toBe(codeList.codes.length);
    await userEvent.type(screen.getByLabelText('filter the codes'), codeList.codes[0].name);
    expect(count()).toBeLessThan(codeList.codes.length);
    expect(count()).toBeGreaterThan(0);
  });

  it('gets a new code, which is not used before it was shown', async () => {
    const page = editor();
    await userEvent.click(screen.getByRole('button', { name: 'Add a code' }));
    await userEvent.type(screen.getByRole('textbox', { name: 'code' }), 'hy');
    await userEvent.type(screen.getByLabelText('what HY is'), 'hydrant');
    expect(screen.getByText(/^not used yet/)).toBeTruthy();
    expect(page.propose).not.toHaveBeenCalled();
    await show();
    expect(listOf(page)!.codes[0]).toMatchObject({ code: 'HY', name: 'hydrant' });
    expect(listOf(page)!.codes).toHaveLength(codeList.codes.length + 1);
  });

  it('does not take a code twice or without a name, and says which', async () => {
    const page = editor();
    await userEvent.click(screen.getByRole('button', { name: 'Add a code' }));
    await show();
    expect(await alert()).toBe('the new code: it is empty');
    await userEvent.type(screen.getByRole('textbox', { name: 'code' }), codeList.codes[0].code);
    await show();
    expect((await alert()).length).toBeGreaterThan(10);
    expect(page.propose).not.toHaveBeenCalled();
  });

  it('keeps what was begun when one leaves, until it is discarded', async () => {
    editor();
    await userEvent.click(screen.getByRole('button', { name: 'Add a code' }));
    await userEvent.type(screen.getByRole('textbox', { name: 'code' }), 'HY');
    expect(sessionStorage.getItem('dunrik-draft:p:codes')).toContain('"HY"');
    await userEvent.click(screen.getByRole('button', { name: 'Discard my changes' }));
    expect(sessionStorage.getItem('dunrik-draft:p:codes')).toBeNull();
    expect(screen.queryByText(/^not used yet/)).toBeNull();
  });

  it('is read by a viewer', () => {
    editor('viewer');
    for (const name of ['Add a code', 'From a file …'])
      expect(screen.getByRole<HTMLButtonElement>('button', { name }).disabled).toBe(true);
  });

  it('goes out as it stands', async () => {
    editor();
    await userEvent.selectOptions(screen.getByLabelText('export the code list'), 'CSV, codes');
    expect(vi.mocked(saveText).mock.calls[0]).toEqual(['Test site-codes.csv', writeCodeTable(codeList.codes)]);
  });
});

describe('codes that the list does not know', () => {
  it('are added from the shots, or taken for the nearest on all of them', async () => {
    const page = editor();
    const unknown = within(screen.getByRole('group', { name: 'unknown codes' }));
    expect(unknown.getByText('on 2 shots: unknown, on layer UNKNOWN')).toBeTruthy();
    expect(unknown.getByLabelText<HTMLSelectElement>('KTT is meant as').value).toBe('KT');
    await userEvent.click(unknown.getByRole('button', { name: 'Replace by' }));
    const [title, change, query] = page.propose.mock.calls[0];
    expect([title, query]).toEqual(['Take KTT for KT on all 2 shots', 'unknown-code:KTT']);
    expect(change).toMatchObject({ op: 'points.edit', edits: { 'day:3': { set: { description: 'KT' } }, 'day:4': { set: { description: 'KT' } } } }); // prettier-ignore
    await userEvent.click(unknown.getByRole('button', { name: 'Add KTT' }));
    await show();
    expect(listOf(page)!.codes[0].code).toBe('KTT');
  });
});

describe('a list from a file', () => {
  it('says which codes it leaves out, those on shots first, and keeps them where wanted', async () => {
    const page = editor();
    const kept = codeList.codes.filter((c) => c.code !== 'KT').slice(0, 3);
    await drop('office.csv', writeCodeTable(kept));
    const status = (await screen.findByText(/of the list are not in office\.csv:/)).textContent;
    expect(status).toMatch(/office\.csv: KT, .*One of them is on 2 shots, which would be unknown\./);
    await userEvent.click(screen.getByRole('button', { name: 'Keep them in the list' }));
    await show();
    expect(new Set(listOf(page)!.codes.map((c) => c.code))).toEqual(new Set(codeList.codes.map((c) => c.code)));
  });

  it('takes the rows that hold and names those that do not', async () => {
    const page = editor();
    const rows = writeCodeTable(codeList.codes.slice(0, 2)).trim().split(/\r?\n/); // prettier-ignore
    await drop('office.csv', [...rows, rows[1].replace(/^[^,;\t]+/, '')].join('\n'));
    expect(await alert()).toMatch(/^office\.csv: 2 codes read; 1 not: row 4, /);
    await show();
    expect(listOf(page)!.codes).toHaveLength(2);
  });

  it.each([
    ['too large', 'big.csv', 'x', 5_000_000, /has 5 MB; a code list has less than 4/],
    ['no table', 'letter.txt', 'Dear all,\nplease', undefined, /^letter\.txt, row 1: /],
    ['broken', 'list.json', '{"codes": [', undefined, /^list\.json is not JSON: /],
    ['another thing', 'list.json', '{"codes": 7}', undefined, /^list\.json: codes: /],
  ])('that is %s is refused in a sentence, and nothing changes', async (_, name, text, size, said) => {
    editor();
    await drop(name, text, size);
    expect(await alert()).toMatch(said);
    expect(screen.queryByRole('button', { name: 'Show what it changes' })).toBeNull();
  });
});
