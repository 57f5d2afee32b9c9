import { Box, chakra } from '@chakra-ui/react';
import { useEffect } from 'react';
import type { Adjusted, AdjustedObservation, NetworkOutlier } from '#core/adjustment';
import { cos, sin } from '#core/kernel';
import { formatAngle, formatFixed, formatLength, UNIT_SIGN } from '#core/measure';
import { Aside, Leaf, Line, Num } from '../../frame/controls.tsx';
import { BODY_CELL, HeadCell, HeadRow } from '../../frame/table.tsx';
import { useProject } from '../../project-state/store.ts';
import { sheetHandle } from '../../sheet/handle.ts';
import { Empty } from '../../frame/ledger.tsx';
import { HowStations, LevelRuns, StationsByRule, Traverses } from './closures.tsx';

const Cell = chakra('td', {
  base: { ...BODY_CELL, height: '26px', whiteSpace: 'nowrap', fontFamily: 'mono', fontSize: '12px' },
});

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
  const heads = ['East', 'North'];
  if (order === 'NE') heads.reverse();
  return (
    <Leaf head="Stations adjusted together" mb="8px" overflowX="auto">
      <chakra.table width="100%" borderCollapse="collapse" aria-label="adjusted stations">
        <thead>
          <tr>
            {['Point', ...heads, 'Elev', 'a', 'b', 'bearing', '± h', 'moved'].map((h, i) => (
              <HeadCell key={h} scope="col">
                {h}
                {i === 0 || h === 'bearing' ? '' : ` ${UNIT_SIGN[unit]}`}
              </HeadCell>
            ))}
          </tr>
        </thead>
        <tbody>
          {n.points.map((p) => (
            <chakra.tr key={p.number} cursor="pointer" onClick={() => sheetHandle.current?.show(p.x, p.y)}>
              <Cell>{p.number}</Cell>
              <Cell>{length(order === 'EN' ? p.x : p.y)}</Cell>
              <Cell>{length(order === 'EN' ? p.y : p.x)}</Cell>
              <Cell>{length(p.z)}</Cell>
              <Cell>{p.ellipse.major ? length(p.ellipse.major, 4) : 'held'}</Cell>
              <Cell>{p.ellipse.major ? length(p.ellipse.minor, 4) : ''}</Cell>
              <Cell>{p.ellipse.major ? formatAngle(p.ellipse.bearing, angle, 0) : ''}</Cell>
              <Cell>{p.sdZ ? length(p.sdZ, 4) : ''}</Cell>
              <Cell>{p.moved > 5e-5 ? length(p.moved, 4) : ''}</Cell>
            </chakra.tr>
          ))}
        </tbody>
      </chakra.table>
    </Leaf>
  );
}

/** What the others contradict, and what is not in the adjustment for it. */
function Outliers({ network: n, list }: { network: Adjusted; list: readonly NetworkOutlier[] }) {
  const { unit, angle } = useProject((p) => p.state!.document.settings);
  if (list.length === 0) return null;
  return (
    <Leaf head="Excluded by the test: the others contradict them" mb="8px" overflowX="auto">
      <chakra.table width="100%" borderCollapse="collapse" aria-label="observations excluded by the test">
        <HeadRow names={['From, to', 'What', 'Off by', 'v / s', 'As well explained by']} />
        <tbody>
          {list.map(({ observation: o, slip, standardised, alike }, i) => (
            <tr key={i}>
              <Cell color="pole">
                ▲ {n.points[o.from].number}
                {o.to >= 0 ? ` → ${n.points[o.to].number}` : ''}
              </Cell>
              <Cell>{o.kind}</Cell>
              <Cell>
                {o.kind === 'direction'
                  ? formatAngle(slip, angle, 1)
                  : `${formatLength(slip, unit, 4)} ${UNIT_SIGN[unit]}`}
              </Cell>
              <Cell>{standardised.toFixed(1)}</Cell>
              <Cell>
                {alike.map((a) => `${a.kind} ${n.points[a.from].number} → ${n.points[a.to].number}`).join(', ')}
              </Cell>
            </tr>
          ))}
        </tbody>
      </chakra.table>
    </Leaf>
  );
}

const SHOWN = 60;

function Observations({ network: n }: { network: Adjusted }) {
  const { unit, angle, fitOutlier } = useProject((p) => p.state!.document.settings);
  const residual = (o: AdjustedObservation): string =>
    o.observation.kind === 'direction'
      ? formatAngle(o.residual, angle, 1)
      : `${formatLength(o.residual, unit, 4)} ${UNIT_SIGN[unit]}`;
  return (
    <Leaf head="Observations, the most doubtful first" overflowX="auto">
      <chakra.table width="100%" borderCollapse="collapse" aria-label="adjusted observations">
        <thead>
          <tr>
            <HeadCell scope="col">From, to</HeadCell>
            <HeadCell scope="col">What</HeadCell>
            <HeadCell scope="col">Residual</HeadCell>
            <HeadCell scope="col" title="0 not controlled, 1 fully">
              Redundancy
            </HeadCell>
            <HeadCell scope="col" title="residual over its own standard deviation">
              v / s
            </HeadCell>
          </tr>
        </thead>
        <tbody>
          {n.observations.slice(0, SHOWN).map((o, i) => {
            const { from, to, kind } = o.observation;
            const marked = o.standardised >= fitOutlier;
            return (
              <tr key={i}>
                <Cell>
                  {n.points[from].number}
                  {to >= 0 ? ` → ${n.points[to].number}` : ''}
                </Cell>
                <Cell>{kind}</Cell>
                <Cell>{residual(o)}</Cell>
                <Cell>{o.redundancy.toFixed(2)}</Cell>
                <Cell color={marked ? 'pole' : undefined} fontWeight={marked ? 600 : undefined}>
                  {Number.isNaN(o.standardised) ? '–' : `${marked ? '▲ ' : ''}${o.standardised.toFixed(1)}`}
                </Cell>
              </tr>
            );
          })}
        </tbody>
      </chakra.table>
      {n.observations.length > SHOWN ? (
        <Line color="slate">and {n.observations.length - SHOWN} less doubtful</Line>
      ) : null}
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
