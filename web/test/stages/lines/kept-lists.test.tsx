// @vitest-environment jsdom
import { screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { KeptCodeList, KeptCodeListCard } from '#contract';
import { DEFAULT_CODE_LIST, type CodeList } from '#core/codes';
import { api } from '../../../src/frame/api.ts';
import { KeptLists } from '../../../src/stages/lines/kept-lists.tsx';
import { draw } from '../../drawn.tsx';

const [first, second, third] = DEFAULT_CODE_LIST.codes;
const words = DEFAULT_CODE_LIST.words;
const OURS: CodeList = { codes: [first, second], words };
// Of theirs the second is called otherwise, the first is missing, the third is new, and an end has another word.
const THEIRS = { id: 'k', name: 'Harbour board', client: 'Harbour board', team: null, revision: 4, savedBy: 'Ada Quill', savedAt: '2026-05-01T08:00:00Z', list: { codes: [{ ...second, name: 'another name' }, third], words: { ...words, end: 'S' } } } as unknown as KeptCodeList; // prettier-ignore
const CARD = { ...THEIRS, codes: 2 } as unknown as KeptCodeListCard;
const take = vi.fn<(list: CodeList) => void>();
const close = vi.fn();

beforeEach(() => {
  take.mockClear();
  vi.spyOn(api, 'codeLists').mockResolvedValue([CARD]);
  vi.spyOn(api, 'codeList').mockResolvedValue(THEIRS);
  vi.spyOn(api, 'teams').mockResolvedValue([{ id: 't', name: 'North office' } as never]);
});
afterEach(() => vi.restoreAllMocks());
const lists = (list = OURS) => draw(<KeptLists list={list} take={take} onClose={close} />);
const compare = async (list = OURS): Promise<void> => {
  lists(list);
  await userEvent.click(await screen.findByRole('button', { name: 'Compare' }));
  await screen.findByRole('button', { name: 'Close' });
};

describe('a saved list beside the project’s', () => {
  it('says code by code what using it would do', async () => {
    await compare();
    const rows = within(screen.getByRole('table', { name: 'codes that differ' }))
      .getAllByRole('row')
      .slice(1);
    expect(
      rows.map((r) => [within(r).getAllByRole('cell')[0], within(r).getAllByRole('cell')[2]].map((c) => c.textContent)),
    ).toEqual([
      // prettier-ignore
      [third.code, 'is new'],
      [second.code, 'other name'],
      [first.code, 'goes'],
      ['words', expect.stringMatching(/^other .*end/)],
    ]);
  });

  it('is used as far as it is ticked, and named as where the list comes from', async () => {
    await compare();
    await userEvent.click(screen.getByLabelText(`use ${first.code}`));
    await userEvent.click(screen.getByLabelText('use words'));
    await userEvent.click(screen.getByRole('button', { name: 'Use what is ticked' }));
    expect(take).toHaveBeenCalledWith({
      codes: [first, { ...second, name: 'another name' }, third],
      words,
      from: { id: 'k', name: 'Harbour board', revision: 4 },
    });
    expect(close).toHaveBeenCalled();
  });

  it('that is the same says so', async () => {
    await compare({ codes: THEIRS.list.codes, words: THEIRS.list.words });
    expect(screen.getByText('The two are the same.')).toBeTruthy();
  });

  it('that has been saved anew since is marked as newer', async () => {
    lists({ ...OURS, from: { id: 'k', name: 'Harbour board', revision: 3 } });
    expect(await screen.findByText(/newer/)).toBeTruthy();
    expect(screen.getByText('This project’s list comes from “Harbour board”, revision 3.')).toBeTruthy();
  });
});

describe('saving the project’s list', () => {
  it('under a name, for a team and a client, and the project’s comes from it then', async () => {
    const kept = vi.spyOn(api, 'keepCodeList').mockResolvedValue({ id: 'n', revision: 1 } as never);
    lists();
    await userEvent.type(await screen.findByLabelText('name of the list'), ' Quay work ');
    await userEvent.type(screen.getByLabelText('client'), 'Port');
    await userEvent.selectOptions(await screen.findByLabelText('team'), 'for North office');
    await userEvent.click(screen.getByRole('button', { name: 'Save' }));
    await waitFor(() => expect(kept).toHaveBeenCalledWith({ id: null, base: 0, name: 'Quay work', client: 'Port', team: 't', list: OURS })); // prettier-ignore
    expect(take).toHaveBeenCalledWith({ ...OURS, from: { id: 'n', name: 'Quay work', revision: 1 } });
    expect((await screen.findByRole('status')).textContent).toBe('Kept “Quay work” as revision 1.');
  });

  it('as the next revision of the one that was compared, and says where somebody was faster', async () => {
    const kept = vi.spyOn(api, 'keepCodeList').mockRejectedValue(new Error('Revision 5 was saved meanwhile.'));
    await compare();
    await userEvent.click(screen.getByRole('button', { name: 'Save this project’s as its revision 5' }));
    expect(kept.mock.calls[0][0]).toMatchObject({ id: 'k', base: 4, name: 'Harbour board' });
    expect((await screen.findByRole('status')).textContent).toBe('Revision 5 was saved meanwhile.');
    expect(take).not.toHaveBeenCalled();
  });

  it('needs a name', async () => {
    lists();
    expect((await screen.findByRole<HTMLButtonElement>('button', { name: 'Save' })).disabled).toBe(true);
  });
});
