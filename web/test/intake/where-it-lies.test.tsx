// @vitest-environment jsdom
import { screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it, vi } from 'vitest';
import type { TextLayout } from '#core/exchange';
import type { PublishedSystem } from '#core/basis';
import type { Extent, FoundThere } from '#core/sources';
import { api } from '../../src/frame/api.ts';
import { extentOfPlaces, shiftPlacement, WhereItLies } from '../../src/intake/where-it-lies.tsx';
import { draw } from '../drawn.tsx';

const PROJECT: Extent = [431_200, 5_212_300, 431_420, 5_212_510];
const LAYOUT: TextLayout = { separator: ',', decimal: '.', skipRows: 0, roles: ['P', 'E', 'N', 'Z'], unit: 'm' };

function shown(near: Extent | null, more: Partial<Parameters<typeof WhereItLies>[0]> = {}) {
  const [setLayout, setShift, onSystem] = [vi.fn(), vi.fn(), vi.fn()];
  const { unmount } = draw(
    <WhereItLies near={near} project={PROJECT} unit="m" layout={LAYOUT} setLayout={setLayout} shift={null} setShift={setShift} own={null} onSystem={onSystem} {...more} />, // prettier-ignore
  );
  return { setLayout, setShift, onSystem, unmount };
}

describe('a file that lies elsewhere', () => {
  it('is read in the unit that brings it to the project', async () => {
    const { setLayout } = shown([431_250_000, 5_212_330_000, 431_350_000, 5_212_400_000]);
    expect(screen.getByRole('status').textContent).toMatch(/^Read in metres it lies \d+ km from the project’s points\. Read in millimetres it lies there, 4\d m/); // prettier-ignore
    await userEvent.click(screen.getByRole('button', { name: 'Read it in millimetres' }));
    expect(setLayout).toHaveBeenCalledWith({ ...LAYOUT, unit: 'mm' });
  });

  it('has east and north swapped', async () => {
    const { setLayout } = shown([5_212_330, 431_250, 5_212_400, 431_350]);
    await userEvent.click(screen.getByRole('button', { name: 'Read it with east and north swapped' }));
    expect(setLayout).toHaveBeenCalledWith({ ...LAYOUT, roles: ['P', 'N', 'E', 'Z'] });
  });

  it('in feet leaves the choice between the two, with how far apart they are', () => {
    const ft = 1 / 0.3048;
    shown([431_250 * ft, 5_212_330 * ft, 431_350 * ft, 5_212_400 * ft]);
    expect(screen.getAllByRole('button').map((b) => b.textContent).sort()).toEqual(['Read it in US survey feet', 'Read it in international feet']); // prettier-ignore
    expect(screen.getByText(/differ by 2 ppm, 34\.20 m here/)).toBeTruthy();
  });

  it('gets the digits back that it lost, and may be put back', async () => {
    const { setShift } = shown([1250, 12_330, 1350, 12_400]);
    await userEvent.click(screen.getByRole('button', { name: /Shift it by 430\D?000 east, 5\D?200\D?000 north/ }));
    expect(setShift).toHaveBeenCalledWith([430_000, 5_200_000]);
    expect(shiftPlacement([430_000, 5_200_000]).matrix).toEqual([1, 0, 0, 430_000, 0, 1, 0, 5_200_000, 0, 0, 1, 0]);
    const again = shown([431_250, 5_212_330, 431_350, 5_212_400], { shift: [430_000, 5_200_000] });
    await userEvent.click(screen.getByRole('button', { name: 'As it is in the file' }));
    expect(again.setShift).toHaveBeenCalledWith(null);
  });

  it('on an origin of its own is left to a fit by points; one that lies there says nothing', () => {
    shown([-40, -30, 60, 40]);
    expect(screen.getByRole('status').textContent).toContain('fit it by points under Basis, Local to grid');
    expect(screen.queryByRole('button')).toBeNull();
  });

  it('is read in the published system that brings it there, and in the unit of it', async () => {
    const systems = [
      { code: 'EPSG:32634', name: 'WGS 84 / UTM zone 34N', unit: 'm', swapped: false, off: 41.2, sameDatum: true },
      { code: 'EPSG:2039', name: 'An older grid', unit: 'ft', swapped: true, off: 143, sameDatum: false },
    ];
    const asked = vi.spyOn(api, 'systemsThere').mockResolvedValue({ systems, more: 3 } as FoundThere);
    const own = { definition: '+proj=utm +zone=33 +datum=WGS84 +units=m' } as PublishedSystem;
    const { onSystem, setLayout } = shown([-25_300, 5_230_100, -25_200, 5_230_200], { own });
    expect(
      await screen.findByText(/In 5 published systems it lies there; ask the sender which one it is/),
    ).toBeTruthy();
    expect(screen.getByText('WGS 84 / UTM zone 34N, 41 m between their middles, on the project’s datum')).toBeTruthy();
    expect(asked).toHaveBeenCalledWith({ file: [-25_300, 5_230_100, -25_200, 5_230_200], unit: 'm', project: [...PROJECT], definition: own.definition }); // prettier-ignore
    await userEvent.click(screen.getByRole('button', { name: 'Read it in EPSG:2039, in international feet, east and north swapped' })); // prettier-ignore
    expect(onSystem).toHaveBeenCalledWith(systems[1]);
    expect(setLayout).toHaveBeenCalledWith({ ...LAYOUT, unit: 'ft', roles: ['P', 'N', 'E', 'Z'] });
  });

  it('says so where no system brings it there, and where the list cannot be asked', async () => {
    const own = { definition: '+proj=utm +zone=33 +datum=WGS84 +units=m' } as PublishedSystem;
    vi.spyOn(api, 'systemsThere').mockResolvedValueOnce({ systems: [], more: 0 });
    const { unmount } = shown([-25_300, 5_230_100, -25_200, 5_230_200], { own });
    expect(
      await screen.findByText(/Nor does any published system that is used in this area: it is on an origin of its own/),
    ).toBeTruthy();
    unmount();
    vi.spyOn(api, 'systemsThere').mockRejectedValueOnce(new Error('The server does not answer.'));
    shown([-25_300, 5_230_100, -25_200, 5_230_250], { own });
    expect((await screen.findByRole('alert')).textContent).toMatch(
      /^Whether another system brings it there is not known/,
    );
  });

  it('says nothing where it lies there, where degrees are still degrees, and in a project without points', () => {
    shown([431_250, 5_212_330, 431_350, 5_212_400]);
    shown([10, 47, 11, 48], { layout: { ...LAYOUT, degrees: true } });
    shown([0, 0, 10, 10], { project: extentOfPlaces([]) });
    expect(screen.queryByRole('status')).toBeNull();
  });
});
