import { Box } from '@chakra-ui/react';
import { useEffect } from 'react';
import type { Adjusted, AdjustedObservation, AdjustedPoint, NetworkOutlier } from '#core/adjustment';
import { cos, sin } from '#core/kernel';
import { formatAngle, formatFixed, formatLength, UNIT_SIGN } from '#core/measure';
import { Aside, Leaf, Line, Num } from '../../frame/controls.tsx';
import { SmallTable, type SmallColumn } from '../../frame/small-table.tsx';
import { useProject } from '../../project-state/store.ts';
import { sheetHandle } from '../../sheet/handle.ts';
import { Empty } from '../../frame/ledger.tsx';
import { FIGURES, HowStations, LevelRuns, StationsByRule, Traverses } from './closures.tsx';

/** How stations are found: traverses, level runs, and all of it adjusted together. */
export function Network() {
  const { network, outliers, traverses, levelling, setups } = useProject((p) => p.tables!.reduction);
  useEllipses(network?.ok ? network : null);
  if (setups.length === 0 && !levelling)
    return (
      <Empty>
        Traverses and level runs with their misclosures, and everything that the books say of stations and known points
        adjusted together: weights from the instruments, ellipses, the most doubtful observation. No book has a setup
        yet.
      </Empty>
    );
  return (
    <Box overflow="auto" flex="1" minHeight="0">
      <HowStations />
      <Traverses list={traverses} />
      <StationsByRule list={traverses} />
      <LevelRuns levelling={levelling} />
      {network?.ok ? (
        <>
          <Leaf head="Network" mb="8px" pb="4px">
            <Statistics network={network} />
          </Leaf>
          <Outliers network={network} list={outliers} />
          <Stations network={network} />
          <Observations network={network} />
        </>
      ) : network ? (
        <Box role="alert" color="pole" p="10px">
          The network cannot be adjusted: {network.reason}
        </Box>
      ) : null}
    </Box>
  );
}

function Statistics({ network: n }: { network: Adjusted }) {
  const [low, high] = n.bounds;
  const f = n.varianceFactor;
  const fits = f >= low && f <= high;
  return (
    <>
      <Line minHeight="24px">
        <Aside>observations, unknowns, degrees of freedom</Aside>
        <Num>
          {n.observations.length}, {n.unknowns}, {n.freedom}
        </Num>
      </Line>
      <Line minHeight="24px">
        <Aside>variance factor, and its bounds at 95 %</Aside>
        {n.freedom > 0 ? (
          <Num color={fits ? 'pine' : 'brass'}>
            {fits ? '' : '▲ '}
            {formatFixed(f, 2)}, {formatFixed(low, 2)} … {formatFixed(high, 2)}
          </Num>
        ) : (
          <Aside>no redundancy</Aside>
        )}
      </Line>
      {n.freedom > 0 && !fits ? (
        <Line minHeight="24px" color="brass">
          {f > high
            ? 'The readings scatter more than the stated accuracies, or one of them is wrong: look at the first below.'
            : 'The readings scatter less than stated: the stated accuracies are cautious.'}
        </Line>
      ) : null}
    </>
  );
}

function Stations({ network: n }: { network: Adjusted }) {
  const { unit, angle, order } = useProject((p) => p.state!.document.settings);
  const length = (m: number, d = 3): string => formatLength(m, unit, d);
  const sign = UNIT_SIGN[unit];
  const of = (
    id: string,
    head: string,
    by: (p: AdjustedPoint) => number,
    cell: (p: AdjustedPoint) => string,
  ): SmallColumn<AdjustedPoint> => ({ id, head, by, cell });
  const plan = [
    of('east', `East ${sign}`, (p) => p.x, (p) => length(p.x)),
    of('north', `North ${sign}`, (p) => p.y, (p) => length(p.y)),
  ]; // prettier-ignore
  if (order === 'NE') plan.reverse();
  const columns: SmallColumn<AdjustedPoint>[] = [
    { id: 'point', head: 'Point', by: (p) => p.number, cell: (p) => p.number },
    ...plan,
    of('elevation', `Elev ${sign}`, (p) => p.z, (p) => length(p.z)),
    of('a', `a ${sign}`, (p) => p.ellipse.major, (p) => (p.ellipse.major ? length(p.ellipse.major, 4) : 'held')),
    of('b', `b ${sign}`, (p) => p.ellipse.minor, (p) => (p.ellipse.major ? length(p.ellipse.minor, 4) : '')),
    of('bearing', 'bearing', (p) => p.ellipse.bearing, (p) => (p.ellipse.major ? formatAngle(p.ellipse.bearing, angle, 0) : '')),
    of('height', `± h ${sign}`, (p) => p.sdZ, (p) => (p.sdZ ? length(p.sdZ, 4) : '')),
    of('moved', `moved ${sign}`, (p) => p.moved, (p) => (p.moved > 5e-5 ? length(p.moved, 4) : '')),
  ]; // prettier-ignore
  return (
    <Leaf head="Stations adjusted together" mb="8px" overflowX="auto">
      <SmallTable
        label="adjusted stations"
        columns={columns}
        rows={n.points}
        rowKey={(p) => p.number}
        onRow={(p) => sheetHandle.current?.show(p.x, p.y)}
        cellStyle={FIGURES}
      />
    </Leaf>
  );
}

/** What the others contradict, and what is not in the adjustment for it. */
function Outliers({ network: n, list }: { network: Adjusted; list: readonly NetworkOutlier[] }) {
  const { unit, angle } = useProject((p) => p.state!.document.settings);
  if (list.length === 0) return null;
  const columns: SmallColumn<NetworkOutlier>[] = [
    {
      id: 'from',
      head: 'From, to',
      by: (o) => between(n, o.observation),
      cell: (o) => `▲ ${between(n, o.observation)}`,
      style: { color: 'pole' },
    },
    { id: 'what', head: 'What', by: (o) => o.observation.kind, cell: (o) => o.observation.kind },
    {
      id: 'off',
      head: 'Off by',
      cell: ({ observation: o, slip }) =>
        o.kind === 'direction' ? formatAngle(slip, angle, 1) : `${formatLength(slip, unit, 4)} ${UNIT_SIGN[unit]}`,
    },
    { id: 'standardised', head: 'v / s', by: (o) => o.standardised, cell: (o) => o.standardised.toFixed(1) },
    {
      id: 'alike',
      head: 'As well explained by',
      cell: ({ alike }) => alike.map((a) => `${a.kind} ${between(n, a)}`).join(', '),
    },
  ];
  return (
    <Leaf head="Excluded by the test: the others contradict them" mb="8px" overflowX="auto">
      <SmallTable label="observations excluded by the test" columns={columns} rows={list} cellStyle={FIGURES} />
    </Leaf>
  );
}

/** From which point to which an observation goes. */
const between = (n: Adjusted, { from, to }: { from: number; to: number }): string =>
  `${n.points[from].number}${to >= 0 ? ` → ${n.points[to].number}` : ''}`;

const SHOWN = 60;

function Observations({ network: n }: { network: Adjusted }) {
  const { unit, angle, fitOutlier } = useProject((p) => p.state!.document.settings);
  const isMarked = (o: AdjustedObservation): boolean => o.standardised >= fitOutlier;
  const columns: SmallColumn<AdjustedObservation>[] = [
    { id: 'from', head: 'From, to', by: (o) => between(n, o.observation), cell: (o) => between(n, o.observation) },
    { id: 'what', head: 'What', by: (o) => o.observation.kind, cell: (o) => o.observation.kind },
    {
      id: 'residual',
      head: 'Residual',
      cell: (o) =>
        o.observation.kind === 'direction'
          ? formatAngle(o.residual, angle, 1)
          : `${formatLength(o.residual, unit, 4)} ${UNIT_SIGN[unit]}`,
    },
    {
      id: 'redundancy',
      head: 'Redundancy',
      title: '0 not controlled, 1 fully',
      by: (o) => o.redundancy,
      cell: (o) => o.redundancy.toFixed(2),
    },
    {
      id: 'standardised',
      head: 'v / s',
      title: 'residual over its own standard deviation',
      by: (o) => o.standardised,
      cell: (o) => (Number.isNaN(o.standardised) ? '–' : `${isMarked(o) ? '▲ ' : ''}${o.standardised.toFixed(1)}`),
      style: (o) => (isMarked(o) ? { color: 'pole', fontWeight: 600 } : {}),
    },
  ];
  return (
    <Leaf head="Observations, the most doubtful first" overflowX="auto">
      <SmallTable
        label="adjusted observations"
        columns={columns}
        rows={n.observations}
        most={SHOWN}
        cellStyle={FIGURES}
      />
    </Leaf>
  );
}

/** Standard ellipses on the drawing, so many times as large that they can be seen. */
function useEllipses(network: Adjusted | null): void {
  useEffect(() => {
    if (!network) return;
    const largest = Math.max(...network.points.map((p) => p.ellipse.major), 1e-6);
    const times = 10 ** Math.floor(Math.log10(8 / largest));
    const courses = network.points
      .filter((p) => p.ellipse.major > 0)
      .map((p) => {
        const course: number[] = [];
        const { major, minor, bearing } = p.ellipse;
        for (let i = 0; i <= 36; i++) {
          const t = (i / 36) * 2 * Math.PI;
          const [a, b] = [major * times * cos(t), minor * times * sin(t)];
          course.push(p.x + a * sin(bearing) + b * cos(bearing), p.y + a * cos(bearing) - b * sin(bearing));
        }
        return course;
      });
    useProject.setState({
      sketch: { places: new Float64Array(), arrows: [], courses, about: `ellipses ${times} times as large` },
    });
    return () => useProject.setState({ sketch: null });
  }, [network]);
}
