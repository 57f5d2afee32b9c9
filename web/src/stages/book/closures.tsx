import { Box } from '@chakra-ui/react';
import type { Traverse } from '#core/adjustment';
import type { Settings } from '#core/project';
import { angularAllowed, RULE_NAME, stationsByRule, traverseKey, traverseWithin } from '#core/stages';
import type { Levelling, LevelRun } from '#core/reduction';
import { formatAngle, formatFixed, formatLength, UNIT_SIGN } from '#core/measure';
import { Act, Leaf } from '../../frame/controls.tsx';
import { Choice, Sentence } from '../../frame/sentence.tsx';
import { SmallTable, type SmallColumn } from '../../frame/small-table.tsx';
import { useCanChange } from '../../project-state/can.ts';
import { useParts, useProject } from '../../project-state/store.ts';
import { sheetHandle } from '../../sheet/handle.ts';

/** Cells of figures in a narrow leaf. */
export const FIGURES = { height: '26px', whiteSpace: 'nowrap', fontFamily: 'mono', fontSize: '12px' } as const;

interface RowsShape<T> {
  head: string;
  /** Its name for screen readers; the head where none is given. */
  label?: string;
  columns: readonly SmallColumn<T>[];
  rows: readonly T[];
}

/** A small table in a leaf of its own. */
const Rows = <T,>({ head, label = head.toLowerCase(), columns, rows }: RowsShape<T>) => (
  <Leaf head={head} mb="8px" overflowX="auto">
    <SmallTable label={label} columns={columns} rows={rows} cellStyle={FIGURES} />
  </Leaf>
);

/** How stations come to their coordinates, as sentences whose choices are previewed before they are taken. */
export function HowStations() {
  const { state, propose } = useParts('state', 'propose');
  const canChange = useCanChange();
  const s = state!.document.settings;
  const set = (label: string, settings: Partial<Settings>): void =>
    void propose(label, { op: 'settings.set', settings });
  return (
    <fieldset disabled={!canChange} style={{ border: 0, margin: 0, padding: 0, minWidth: 0 }}>
      <Leaf mb="8px" py="4px">
        <Sentence>
          Stations
          <Choice
            name="how stations are found"
            value={s.network ? 'network' : s.traverse}
            options={[
              ['carried', 'as carried forward'],
              ['compass', 'follow their traverse by the compass rule'],
              ['transit', 'follow their traverse by the transit rule'],
              ['network', 'are adjusted together, by least squares'],
            ]}
            onChange={(how) =>
              set('how stations are found', how === 'network' ? { network: true } : { network: false, traverse: how })
            }
          />
        </Sentence>
        <Sentence>
          The network
          <Choice
            name="what holds the network"
            value={s.networkDatum}
            options={[
              ['standing', 'is held by control as it stands'],
              ['free', 'is free in itself, to see how well it fits alone'],
            ]}
            onChange={(networkDatum) => set('what holds the network', { networkDatum })}
          />
          and resections
          <Choice
            name="scale of resections"
            value={s.resectionScale}
            options={[
              ['fixed', 'hold distances as measured'],
              ['free', 'find a scale for their distances'],
            ]}
            onChange={(resectionScale) => set('scale of resections', { resectionScale })}
          />
        </Sentence>
      </Leaf>
    </fieldset>
  );
}

/** Traverses from one given end to another: what they miss it by, before anything is distributed. */
export function Traverses({ list }: { list: readonly Traverse[] }) {
  const { state, propose } = useParts('state', 'propose');
  const canChange = useCanChange();
  const s = state!.document.settings;
  const known = useProject((p) => p.tables!.reduction.setups);
  if (list.length === 0) return null;
  const length = (m: number, d = 3): string => (Number.isNaN(m) ? '–' : formatLength(m, s.unit, d));
  const sign = UNIT_SIGN[s.unit];
  const plan: SmallColumn<Traverse>[] = [
    { id: 'east', head: `East ${sign}`, by: (t) => t.dx, cell: (t) => length(t.dx) },
    { id: 'north', head: `North ${sign}`, by: (t) => t.dy, cell: (t) => length(t.dy) },
  ];
  if (s.order === 'NE') plan.reverse();
  const { decisions } = state!.document;
  const distribute = (t: Traverse): void => {
    const on = decisions[traverseKey(t)] === 'used';
    void propose(on ? 'do not distribute the traverse' : 'distribute the traverse all the same', {
      op: 'record.decide',
      key: traverseKey(t),
      decision: on ? null : 'used',
    });
  };
  const named = (t: Traverse) => {
    const within = traverseWithin(t, s);
    return (
      <>
        {within ? '' : '▲ '}
        {t.stations.join(' – ')}
        {t.waits ? (
          <Box color="brass">one of its setups waits to be decided</Box>
        ) : t.suspect && !within ? (
          <Box color="brass">points to {t.suspect}</Box>
        ) : null}
        {within ? null : (
          <Act
            look="quiet"
            disabled={!canChange}
            onClick={(e) => {
              e.stopPropagation();
              distribute(t);
            }}
          >
            {decisions[traverseKey(t)] === 'used' ? 'distributed on purpose: undo' : 'distribute it all the same'}
          </Act>
        )}
      </>
    );
  };
  const columns: SmallColumn<Traverse>[] = [
    {
      id: 'traverse',
      head: 'Traverse',
      cell: named,
      style: (t) => ({ color: traverseWithin(t, s) ? undefined : 'pole', whiteSpace: 'normal', minWidth: '104px' }),
    },
    { id: 'length', head: `Length ${sign}`, by: (t) => t.length, cell: (t) => length(t.length, 1) },
    {
      id: 'angle',
      head: 'Angle',
      by: (t) => t.angular,
      cell: (t) => (Number.isNaN(t.angular) ? 'open' : formatAngle(t.angular, s.angle, s.angleDecimals)),
    },
    {
      id: 'allowed',
      head: 'allowed',
      cell: (t) => (Number.isNaN(t.angular) ? '' : formatAngle(angularAllowed(t, s), s.angle, s.angleDecimals)),
    },
    ...plan,
    { id: 'misclosure', head: `Misclosure ${sign}`, by: (t) => t.linear, cell: (t) => length(t.linear) },
    {
      id: 'ratio',
      head: 'One in',
      by: (t) => t.ratio,
      cell: (t) => (Number.isFinite(t.ratio) ? formatFixed(t.ratio, 0) : 'exact'),
    },
    { id: 'elevation', head: `Elev ${sign}`, by: (t) => t.dz, cell: (t) => length(t.dz) },
  ];
  const show = (t: Traverse): void => {
    const end = known.find((k) => k.number === t.stations.at(-2))?.station;
    if (end) sheetHandle.current?.show(end.x, end.y);
  };
  return (
    <Leaf head="Traverses: computed − known" mb="8px" overflowX="auto" css={NARROW}>
      <SmallTable
        label="traverses"
        columns={columns}
        rows={list}
        rowKey={(t) => t.stations.join()}
        onRow={show}
        cellStyle={FIGURES}
      />
    </Leaf>
  );
}

/** Nine columns stand beside the drawing without scrolling. */
const NARROW = { '& th, & td': { px: '4px' } };

/** Stations of traverses by every rule, side by side; the one that their points stand on is marked. */
export function StationsByRule({ list }: { list: readonly Traverse[] }) {
  const s = useProject((p) => p.state!.document.settings);
  const { network, known } = useProject((p) => p.tables!.reduction);
  const stations = list.flatMap((t) => stationsByRule(t, network, known, s.network ? 'network' : s.traverse));
  if (stations.length === 0) return null;
  const sign = UNIT_SIGN[s.unit];
  const length = (m: number): string => (Number.isNaN(m) ? '–' : formatLength(m, s.unit, s.decimals));
  type ByRule = (typeof rows)[number];
  const rows = stations.flatMap(({ number, rules }) => rules.map((r, i) => ({ ...r, number, first: i === 0 })));
  const plan: SmallColumn<ByRule>[] = [
    { id: 'east', head: `East ${sign}`, cell: (r) => length(r.x) },
    { id: 'north', head: `North ${sign}`, cell: (r) => length(r.y) },
  ];
  if (s.order === 'NE') plan.reverse();
  const bold = (r: ByRule) => ({ fontWeight: r.inForce ? 600 : undefined });
  const columns: SmallColumn<ByRule>[] = [
    { id: 'station', head: 'Station', cell: (r) => (r.first ? r.number : '') },
    { id: 'rule', head: 'Rule', words: true, cell: (r) => RULE_NAME[r.rule] },
    ...plan,
    { id: 'elevation', head: `Elev ${sign}`, cell: (r) => length(r.z) },
    { id: 'force', head: '', cell: (r) => (r.inForce ? '● in force' : '') },
  ];
  return (
    <Rows
      head="Stations of traverses, by rule"
      label="stations by rule"
      columns={columns.map((c) => ({ ...c, style: bold }))}
      rows={rows}
    />
  );
}

/** Level runs with their misclosures, and the heights that they give. */
export function LevelRuns({ levelling }: { levelling: Levelling | null }) {
  const s = useProject((p) => p.state!.document.settings);
  if (!levelling) return null;
  const sign = UNIT_SIGN[s.unit];
  const length = (m: number, d = 4): string => (Number.isNaN(m) ? '–' : formatLength(m, s.unit, d));
  const pole = (within: boolean) => (within ? {} : { color: 'pole' });
  const runs: SmallColumn<LevelRun>[] = [
    {
      id: 'run',
      head: 'Run',
      by: (r) => `${r.from} ${r.to}`,
      cell: (r) => `${r.within ? '' : '▲ '}${r.from} → ${r.to}`,
      style: (r) => pole(r.within),
    },
    { id: 'setups', head: 'Setups', by: (r) => r.differences.length, cell: (r) => r.differences.length },
    { id: 'length', head: `Length ${sign}`, by: (r) => r.length, cell: (r) => length(r.length, 1) },
    { id: 'difference', head: `Difference ${sign}`, by: (r) => r.difference, cell: (r) => length(r.difference) },
    {
      id: 'misclosure',
      head: `Misclosure ${sign}`,
      by: (r) => r.misclosure,
      cell: (r) => (Number.isNaN(r.misclosure) ? 'open' : length(r.misclosure)),
      style: (r) => pole(r.within),
    },
    { id: 'allowed', head: `allowed ${sign}`, cell: (r) => (Number.isNaN(r.misclosure) ? '' : length(r.allowed)) },
  ];
  const loops: SmallColumn<Levelling['loops'][number]>[] = [
    {
      id: 'loop',
      head: 'Loop',
      cell: (l) => `${l.within ? '' : '▲ '}${l.points.join(' – ')}`,
      style: (l) => ({ ...pole(l.within), whiteSpace: 'normal' }),
    },
    { id: 'length', head: `Length ${sign}`, by: (l) => l.length, cell: (l) => length(l.length, 1) },
    { id: 'misclosure', head: `Misclosure ${sign}`, by: (l) => l.misclosure, cell: (l) => length(l.misclosure) },
    { id: 'allowed', head: `allowed ${sign}`, cell: (l) => length(l.allowed) },
  ];
  const tests: SmallColumn<Levelling['tests'][number]>[] = [
    { id: 'between', head: 'Between', cell: (t) => `${t.from} – ${t.to}` },
    { id: 'rows', head: 'Rows', cell: (t) => t.rows.join(', ') },
    { id: 'sight', head: 'Line of sight', cell: (t) => (t.collimation >= 0 ? 'rises' : 'falls') },
    { id: 'in30', head: `in 30 m ${sign}`, cell: (t) => length(Math.abs(t.collimation) * 30) },
  ];
  const heights: SmallColumn<Levelling['heights'][number]>[] = [
    { id: 'point', head: 'Point', by: (h) => h.number, cell: (h) => h.number },
    { id: 'elevation', head: `Elev ${sign}`, by: (h) => h.z, cell: (h) => length(h.z) },
    { id: 'sd', head: `± ${sign}`, by: (h) => h.sd, cell: (h) => length(h.sd) },
    { id: 'rows', head: 'Rows', cell: (h) => h.rows.join(', ') },
  ];
  return (
    <>
      <Rows head="Level runs" columns={runs} rows={levelling.runs} />
      {levelling.loops.length ? <Rows head="Level loops" columns={loops} rows={levelling.loops} /> : null}
      {levelling.tests.length ? <Rows head="Two-peg tests" columns={tests} rows={levelling.tests} /> : null}
      {levelling.heights.length ? <Rows head="Heights by level" columns={heights} rows={levelling.heights} /> : null}
    </>
  );
}
