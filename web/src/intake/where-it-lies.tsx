import { Box, Flex } from '@chakra-ui/react';
import type { ReactNode } from 'react';
import type { PublishedSystem } from '#core/basis';
import type { TextLayout } from '#core/exchange';
import { formatLength, UNIT_NAME, UNIT_SIGN, type LengthUnit } from '#core/measure';
import type { Placement } from '#core/project';
import { whereItLies, type Extent, type SystemThere, type WayThere } from '#core/sources';
import { Act } from '../frame/controls.tsx';
import { OtherSystems } from './other-systems.tsx';

/** East and north that are added to all of a file, m. */
export type Shift = readonly [east: number, north: number];

/** A shift as it is kept with the file, and undone like any other placement. */
export const shiftPlacement = ([east, north]: Shift): Placement => ({
  kind: 'shift',
  scale: 'fixed',
  height: 'none',
  matrix: [1, 0, 0, east, 0, 1, 0, north, 0, 0, 1, 0],
  pairs: [],
  sigmaPlan: null,
  sigmaHeight: null,
});

export function extentOfPlaces(places: readonly { x: number; y: number }[]): Extent | null {
  if (places.length === 0) return null;
  const [x, y] = [places.map((p) => p.x), places.map((p) => p.y)];
  return [Math.min(...x), Math.min(...y), Math.max(...x), Math.max(...y)];
}

/** A file that lies nowhere near the project: how far off, and what would bring it there. */
export function WhereItLies({
  near,
  project,
  unit,
  layout,
  setLayout,
  shift,
  setShift,
  own,
  onSystem,
}: {
  /** The file without what is far from it, m, as it is read. */
  near: Extent | null;
  project: Extent | null;
  unit: LengthUnit;
  layout: TextLayout;
  setLayout: (layout: TextLayout) => void;
  shift: Shift | null;
  setShift: (shift: Shift | null) => void;
  /** The project's published system; null where it has none, and nothing can be said of others. */
  own: PublishedSystem | null;
  onSystem: (there: SystemThere) => void;
}) {
  const far = (m: number): string =>
    m >= 10_000 ? `${Math.round(m / 1000)} km` : `${formatLength(m, unit, 0)} ${UNIT_SIGN[unit]}`;
  const long = (m: number): string => formatLength(m, unit, 0);
  if (shift)
    return (
      <Flex role="status" gap="8px" align="center" wrap="wrap" mb="10px" color="pine">
        Shifted by {long(shift[0])} east and {long(shift[1])} north, {UNIT_SIGN[unit]}.
        <Act onClick={() => setShift(null)}>As it is in the file</Act>
      </Flex>
    );
  const lying = near && !layout.degrees ? whereItLies(near, layout.unit, project) : null;
  if (!lying) return null;
  const readAs = (w: Pick<WayThere, 'unit' | 'swapped'>): void => {
    const roles = w.swapped ? layout.roles.map((r) => (r === 'E' ? 'N' : r === 'N' ? 'E' : r)) : layout.roles;
    setLayout({ ...layout, unit: w.unit, roles });
  };
  const read = (w: WayThere): void => (w.shift ? setShift(w.shift) : readAs(w));
  const name = (w: WayThere): string => {
    if (w.shift) return `Shift it by ${long(w.shift[0])} east, ${long(w.shift[1])} north`;
    const inUnit = w.unit === layout.unit ? '' : ` in ${UNIT_NAME[w.unit]}`;
    return `Read it${inUnit}${w.swapped ? `${inUnit ? ' and' : ''} with east and north swapped` : ''}`;
  };
  const [best] = lying.ways;
  if (!best)
    return (
      <Found>
        Read in {UNIT_NAME[layout.unit]} it lies {far(lying.off)} from the project’s points. No unit, no swap of east
        and north and no missing digits would bring it there.{' '}
        <OtherSystems
          near={near!}
          project={project!}
          layout={layout}
          own={own}
          far={far}
          onSystem={(there) => {
            onSystem(there);
            readAs(there);
          }}
        />
      </Found>
    );
  const why = best.shift
      ? `With its leading digits missing it lies there, ${far(best.off)} between their middles.`
      : `Read ${best.unit === layout.unit ? '' : `in ${UNIT_NAME[best.unit]}`}${best.swapped ? ' with east and north swapped' : ''} it lies there, ${far(best.off)} between their middles.`; // prettier-ignore
  return (
    <Found>
      Read in {UNIT_NAME[layout.unit]} it lies {far(lying.off)} from the project’s points. {why.replace(/ {2,}/g, ' ')}
      {lying.ways.length ? (
        <Flex gap="8px" wrap="wrap" mt="4px">
          {lying.ways.slice(0, 4).map((w) => (
            <Act key={name(w)} onClick={() => read(w)}>
              {name(w)}
            </Act>
          ))}
        </Flex>
      ) : null}
      {lying.ways.some((w) => w.unit === 'ft') && lying.ways.some((w) => w.unit === 'usft') ? (
        <Box mt="4px">
          The two feet differ by 2 ppm, {formatLength(2e-6 * (near ? Math.max(...near.map(Math.abs)) : 0), unit, 2)}{' '}
          {UNIT_SIGN[unit]} here: ask the sender which one it is.
        </Box>
      ) : null}
    </Found>
  );
}

const Found = ({ children }: { children: ReactNode }) => (
  <Box role="status" mb="10px" px="12px" py="5px" bg="mark" border="1px solid" borderColor="brass" borderRadius="4px">
    {children}
  </Box>
);
