// @vitest-environment jsdom
import { screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it } from 'vitest';
import { MEANING_NAME, WORD_PRESETS } from '#core/codes';
import { LineWordsLeaf } from '../../../src/stages/lines/line-words.tsx';
import { draw } from '../../drawn.tsx';
import { opened } from '../../opened.ts';
import { projectOf, type Project } from '../../tables.ts';

const given = projectOf({ points: [['1', 0, 0, 50, 'KT1 BEG'], ['2', 10, 0, 50, 'KT1'], ['3', 20, 0, 50, 'KT1 END']] }); // prettier-ignore
function words(project: Project = given, role: 'surveyor' | 'checker' = 'surveyor') {
  const page = opened(project, { role });
  draw(<LineWordsLeaf />);
  return page;
}
const sample = async (text: string): Promise<void> => {
  await userEvent.click(screen.getByLabelText('sample of descriptions'));
  await userEvent.paste(text);
};
/** A crew that ends its lines with S, and opens them with a word of its own. */
const CREW = ['KT1 OPN', 'KT1', 'KT1 S', 'KT2 OPN', 'KT2', 'KT2 S', 'KT3 OPN', 'KT3', 'KT3 S'].join('\n');
const show = () => userEvent.click(screen.getByRole('button', { name: 'Show what it changes' }));
const wordsSet = (page: ReturnType<typeof opened>) => {
  const [, change] = page.propose.mock.calls.at(-1)!;
  return change.op === 'codes.set' ? change.codeList.words : change.op === 'intake.words' ? change.words : null;
};

describe('the words of a crew', () => {
  it('are found in a sample, with how often and what they seem to mean', async () => {
    words();
    await sample(CREW);
    expect(screen.getByText('9 descriptions; 9 of 9 codes are in the list')).toBeTruthy();
    const rows = within(screen.getByRole('table', { name: 'unknown words' }))
      .getAllByRole('row')
      .slice(1);
    expect(rows.map((r) => r.textContent.slice(0, 4))).toEqual(['OPN3', 'S3KT']);
    expect(screen.getByLabelText<HTMLSelectElement>('S means').value).toBe('end');
    expect(screen.getByLabelText<HTMLSelectElement>('OPN means').value).toBe('begin');
  });

  it('are used as proposed, all at once, and previewed before they count', async () => {
    const page = words();
    await sample(CREW);
    await userEvent.click(screen.getByRole('button', { name: 'Use every proposed meaning' }));
    expect(screen.queryByRole('table', { name: 'unknown words' })).toBeNull();
    expect(page.propose).not.toHaveBeenCalled();
    await show();
    expect(wordsSet(page)).toMatchObject({ begin: 'OPN', end: 'S' });
  });

  it('are given another meaning than the one proposed', async () => {
    const page = words();
    await sample(CREW);
    await userEvent.selectOptions(screen.getByLabelText('S means'), MEANING_NAME.gap);
    await show();
    expect(wordsSet(page)).toMatchObject({ gap: 'S', end: given.doc.codeList.words.end });
  });

  it('come from the project’s own descriptions by a button', async () => {
    words();
    await userEvent.click(screen.getByRole('button', { name: 'Those of this project' }));
    expect(screen.getByLabelText<HTMLTextAreaElement>('sample of descriptions').value).toBe('KT1 BEG\nKT1\nKT1 END');
    expect(screen.getByRole('table', { name: 'the sample as understood' }).textContent).toContain('KT1 BEG');
  });

  it('are begun from whole words and typed in capitals without signs that would part them', async () => {
    const page = words();
    const whole = WORD_PRESETS.findIndex((p) => p.name.startsWith('whole'));
    await userEvent.selectOptions(screen.getByLabelText('begin with'), String(whole));
    const end = screen.getByLabelText(`word: ${MEANING_NAME.end}`);
    await userEvent.clear(end);
    await userEvent.type(end, 'st op/');
    await show();
    expect(wordsSet(page)).toMatchObject({ ...WORD_PRESETS[whole].words, end: 'STOP' });
  });

  it('that two meanings share are refused with why, and nothing is proposed', async () => {
    const page = words();
    const { begin } = given.doc.codeList.words;
    const end = screen.getByLabelText(`word: ${MEANING_NAME.end}`);
    await userEvent.clear(end);
    await userEvent.type(end, begin!);
    await show();
    expect(screen.getByRole('alert').textContent).toContain(begin!);
    expect(page.propose).not.toHaveBeenCalled();
  });

  it('are discarded by one button', async () => {
    words();
    await userEvent.selectOptions(screen.getByLabelText('place of words'), 'before their code');
    expect(screen.getByText('not used yet')).toBeTruthy();
    await userEvent.click(screen.getByRole('button', { name: 'Discard my changes' }));
    expect(screen.queryByText('not used yet')).toBeNull();
    expect(screen.getByLabelText<HTMLSelectElement>('place of words').value).toBe('after');
  });

  it('are those of one file, where it is chosen, and go back to the project’s', async () => {
    const own = { ...given.doc, intakes: given.doc.intakes.map((i) => ({ ...i, words: { end: 'S' } })) };
    const page = words({ ...given, doc: own });
    await userEvent.selectOptions(screen.getByLabelText('whose words'), 'day');
    expect(screen.getByLabelText<HTMLInputElement>(`word: ${MEANING_NAME.end}`).value).toBe('S');
    await userEvent.click(screen.getByRole('button', { name: 'Back to the project’s words' }));
    expect(page.propose.mock.calls[0][1]).toEqual({ op: 'intake.words', id: 'day', words: null });
  });

  it('keep the draft of each file while one looks at another', async () => {
    const page = words();
    await userEvent.selectOptions(screen.getByLabelText('whose words'), 'day');
    await userEvent.type(screen.getByLabelText('signs that separate codes'), '+a 1');
    await userEvent.selectOptions(screen.getByLabelText('whose words'), '');
    expect(screen.queryByText('not used yet')).toBeNull();
    await userEvent.selectOptions(screen.getByLabelText('whose words'), 'day');
    await show();
    expect(page.propose.mock.calls[0][1]).toMatchObject({ op: 'intake.words', id: 'day' });
    expect(wordsSet(page)!.form!.separators).toMatch(/\+$/);
  });
});

it('the order in which lines are built is previewed', async () => {
  const page = words();
  await userEvent.selectOptions(screen.getByLabelText('order of building'), 'by number');
  expect(page.propose.mock.calls).toEqual([['Build lines in another order', { op: 'settings.set', settings: { lineOrder: 'number' } }]]); // prettier-ignore
});

it('a checker reads the words and changes none', () => {
  words(given, 'checker');
  expect(screen.getByLabelText<HTMLInputElement>(`word: ${MEANING_NAME.end}`).disabled).toBe(true);
  expect(screen.getByLabelText<HTMLSelectElement>('order of building').disabled).toBe(true);
});
