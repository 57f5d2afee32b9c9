// @vitest-environment jsdom
import { screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { afterEach, describe, expect, it, vi } from 'vitest';
import type { SavedLayout } from '#contract';
import { api } from '../../src/frame/api.ts';
import { KeptLayout, SaveLayout, type KeptChoice } from '../../src/intake/layout.tsx';
import { draw } from '../drawn.tsx';

// Two people of one team called their layouts the same.
const kept = (id: string, team: string | null = null): SavedLayout => ({ id, name: 'Crew north', layout: { roles: ['P'] } as never, signature: '', team }); // prettier-ignore
const LIST = [kept('a', 'Harbour'), kept('b')];
const pick = vi.fn<(kept: SavedLayout | undefined) => void>();
afterEach(() => vi.restoreAllMocks());
const list = (proposed: KeptChoice | null) => draw(<KeptLayout layouts={LIST} proposed={proposed} onPick={pick} />);
const chosen = () => screen.getByLabelText<HTMLSelectElement>('saved layout');

describe('saved layouts', () => {
  it('of one name are told apart: the one that is chosen is taken and shown', async () => {
    list({ id: 'b', name: 'Crew north', alike: true });
    expect(chosen().selectedIndex).toBe(2);
    await userEvent.selectOptions(chosen(), 'Crew north, Harbour');
    expect(pick).toHaveBeenLastCalledWith(LIST[0]);
    await userEvent.selectOptions(chosen(), 'none: as guessed');
    expect(pick).toHaveBeenLastCalledWith(undefined);
  });

  it('have the one that was saved just now among them before they are fetched again', () => {
    list({ id: 'new', name: 'Crew south', alike: false });
    expect(chosen().selectedOptions[0].textContent).toBe('Crew south');
  });

  it('are saved under a name, for oneself or a team, and known by their id from then on', async () => {
    vi.spyOn(api, 'teams').mockResolvedValue([{ id: 't', name: 'Harbour' } as never]);
    const save = vi.spyOn(api, 'saveLayout').mockResolvedValue({ id: 'n' });
    const saved = vi.fn();
    draw(<SaveLayout layout={LIST[0].layout} signature="E;N" onSaved={saved} />);
    await userEvent.click(screen.getByRole('button', { name: 'Save this layout …' }));
    await userEvent.type(screen.getByLabelText('name of the layout'), ' Crew east ');
    await userEvent.selectOptions(screen.getByLabelText('who uses the layout'), await screen.findByRole('option', { name: /Harbour/ })); // prettier-ignore
    await userEvent.click(screen.getByRole('button', { name: 'Keep' }));
    expect(save).toHaveBeenCalledWith('Crew east', LIST[0].layout, 'E;N', 't');
    expect((await screen.findByRole('status')).textContent).toBe('saved as “Crew east”');
    expect(saved).toHaveBeenCalledWith({ id: 'n', name: 'Crew east', alike: false });
  });
});
