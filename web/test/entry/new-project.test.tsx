// @vitest-environment jsdom
import { screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { MemoryRouter, Route, Routes, useLocation } from 'react-router';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { Account, ProjectCard, TeamCard } from '#contract';
import { newStart } from '#core/project';
import { NewProject } from '../../src/entry/new-project.tsx';
import { api } from '../../src/frame/api.ts';
import { draw } from '../drawn.tsx';
import { stateOf } from '../opened.ts';
import { projectOf } from '../tables.ts';

const ME = { id: 'me', name: 'Ada Quill', email: 'ada@example.org', isAdmin: false, isDemo: false } as Account;
const feet = newStart();
const TEAM = { id: 't', name: 'Harbour crew', role: 'owner', start: { ...feet, settings: { ...feet.settings, unit: 'ft' } }, members: [], invitations: [] } as TeamCard; // prettier-ignore
const given = projectOf({ points: [['1', 0, 0, 1]] }); // prettier-ignore
const OTHER = { id: 'o', name: 'Old yard', role: 'owner' } as ProjectCard;

beforeEach(() => {
  vi.spyOn(api, 'teams').mockResolvedValue([TEAM]);
  vi.spyOn(api, 'projects').mockResolvedValue([OTHER, { ...OTHER, id: 'c', name: 'Only as crew', role: 'crew' }]);
  vi.spyOn(api, 'layouts').mockResolvedValue([]);
  vi.spyOn(api, 'state').mockResolvedValue({ ...stateOf({ ...given.doc, settings: { ...given.doc.settings, unit: 'usft' } }), revision: 7 }); // prettier-ignore
  vi.spyOn(api, 'createProject').mockResolvedValue({ id: 'new' });
});
afterEach(() => vi.restoreAllMocks());

const Where = () => <p>at {useLocation().pathname}</p>;
async function page(at = '/new'): Promise<void> {
  draw(
    <MemoryRouter initialEntries={[at]}>
      <Routes>
        <Route path="/new" element={<NewProject account={ME} />} />
        <Route path="*" element={<Where />} />
      </Routes>
    </MemoryRouter>,
  );
  await screen.findByRole('option', { name: 'Harbour crew' });
}
const create = () => screen.getByRole<HTMLButtonElement>('button', { name: 'Create' });
const asked = () => vi.mocked(api.createProject).mock.calls.map(([body]) => body);

describe('a new project', () => {
  it('begins with what its team begins with, and opens at the book', async () => {
    await page('/new?name=Quay%205');
    expect(screen.getByLabelText<HTMLSelectElement>('team').value).toBe('t');
    await userEvent.click(create());
    expect(await screen.findByText('at /p/new/book')).toBeTruthy();
    expect(asked()).toEqual([{ name: 'Quay 5', description: '', team: 't', start: null, copy: null, whole: false }]);
  });

  it('needs a name', async () => {
    await page();
    expect(create().disabled).toBe(true);
    await userEvent.type(screen.getByLabelText('name of the project'), '   ');
    expect(create().disabled).toBe(true);
  });

  it('may belong to nobody else, and begins with default settings then', async () => {
    await page('/new?name=A');
    await userEvent.selectOptions(screen.getByLabelText('team'), 'nobody but me');
    expect(screen.getByRole('option', { name: 'default settings' })).toBeTruthy();
    await userEvent.click(create());
    expect(asked()).toMatchObject([{ team: null, start: null }]);
  });

  it('has settings changed for itself alone, and puts them back', async () => {
    await page('/new?name=A');
    await userEvent.selectOptions(screen.getByLabelText('rule for backsights'), 'always waits for a decision');
    expect(screen.getByText('changed for this project')).toBeTruthy();
    await userEvent.click(create());
    expect(asked()[0].start?.settings).toMatchObject({ unit: 'ft', backsightRule: 'ask' });
  });

  it('forgets what was changed where it is to begin with something else', async () => {
    await page('/new?name=A');
    await userEvent.selectOptions(screen.getByLabelText('rule for backsights'), 'always waits for a decision');
    await userEvent.selectOptions(screen.getByLabelText('what it begins with'), 'a copy of the project Old yard');
    await waitFor(() => expect(create().disabled).toBe(false));
    await userEvent.click(create());
    expect(asked()).toMatchObject([{ copy: 'o', whole: false, start: null }]);
  });

  it('is copied whole, at a revision that is said, without settings to change', async () => {
    await page('/new?name=A&copy=o');
    await userEvent.selectOptions(await screen.findByLabelText('what is copied'), 'whole');
    expect(screen.getByRole('option', { name: 'everything: files, edits and decisions at revision 7' })).toBeTruthy();
    expect(screen.getByText('not its history, its packages or its people')).toBeTruthy();
    expect(screen.queryByText(/^reading/)).toBeNull();
    expect(screen.queryByLabelText('rule for backsights')).toBeNull();
    await userEvent.click(create());
    expect(asked()).toMatchObject([{ copy: 'o', whole: true, start: null }]);
  });

  it('is not copied from one where somebody only fetches packages', async () => {
    await page();
    await screen.findByRole('option', { name: 'a copy of the project Old yard' });
    expect(screen.queryByRole('option', { name: /Only as crew/ })).toBeNull();
  });

  it('that could not be made says why, and loses nothing', async () => {
    vi.mocked(api.createProject).mockRejectedValueOnce(new Error('A project of this name exists.'));
    await page('/new?name=Quay');
    await userEvent.type(screen.getByLabelText('description'), 'for the harbour board');
    await userEvent.click(create());
    expect((await screen.findByRole('alert')).textContent).toBe('A project of this name exists.');
    expect(screen.getByLabelText<HTMLTextAreaElement>('description').value).toBe('for the harbour board');
  });
});
