import type { ReactNode } from 'react';
import { Box, chakra } from '@chakra-ui/react';
import type { Traverse } from '#core/adjustment';
import type { Settings } from '#core/project';
import { angularAllowed, RULE_NAME, stationsByRule, traverseKey, traverseWithin } from '#core/stages';
import type { Levelling, LevelRun } from '#core/reduction';
import { formatAngle, formatFixed, formatLength, UNIT_SIGN } from '#core/measure';
import { Act, Leaf } from '../../frame/controls.tsx';
import { Choice, Sentence } from '../../frame/sentence.tsx';
import { BODY_CELL, HeadRow } from '../../frame/table.tsx';
import { useCanChange } from '../../project-state/can.ts';
import { useParts, useProject } from '../../project-state/store.ts';
import { sheetHandle } from '../../sheet/handle.ts';

const Cell = chakra('td', {
  base: { ...BODY_CELL, height: '26px', whiteSpace: 'nowrap', fontFamily: 'mono', fontSize: '12px' },
});

interface RowsShape {
  head: string;
  /** Its name for screen readers; the head where none is given. */
  label?: string;
  names: readonly string[];
  children: ReactNode;
}

/** A small table in a leaf of its own. */
const Rows = ({ head, label = head.toLowerCase(), names, children }: RowsShape) => (
  <Leaf head={head} mb="8px" overflowX="auto">
    <chakra.table width="100%" borderCollapse="collapse" aria-label={label}>
      <HeadRow names={names} />
      <tbody>{children}</tbody>
    </chakra.table>
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
  const plan = [`East ${sign}`, `North ${sign}`];
  if (s.order === 'NE') plan.reverse();
  const heads = ['Traverse', `Length ${sign}`, 'Angle', 'allowed', ...plan, `Misclosure ${sign}`, 'One in', `Elev ${sign}`]; // prettier-ignore
  const { decisions } = state!.document;
  return (
    <Leaf head="Traverses: computed − known" mb="8px" overflowX="auto">
      <chakra.table width="100%" borderCollapse="collapse" aria-label="traverses" css={NARROW}>
        <HeadRow names={heads} />
        <tbody>
          {list.map((t) => {
            const within = traverseWithin(t, s);
            const end = known.find((k) => k.number === t.stations.at(-2))?.station;
            return (
              <chakra.tr
                key={t.stations.join()}
                cursor="pointer"
                onClick={() => end && sheetHandle.current?.show(end.x, end.y)}
              >
                <Cell color={within ? undefined : 'pole'} whiteSpace="normal" minWidth="104px">
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
                        const on = decisions[traverseKey(t)] === 'used';
                        void propose(on ? 'do not distribute the traverse' : 'distribute the traverse all the same', { op: 'record.decide', key: traverseKey(t), decision: on ? null : 'used' }); // prettier-ignore
                      }}
                    >
                      {decisions[traverseKey(t)] === 'used'
                        ? 'distributed on purpose: undo'
                        : 'distribute it all the same'}
                    </Act>
                  )}
                </Cell>
                <Cell>{length(t.length, 1)}</Cell>
                <Cell>{Number.isNaN(t.angular) ? 'open' : formatAngle(t.angular, s.angle, s.angleDecimals)}</Cell>
                <Cell>
                  {Number.isNaN(t.angular) ? '' : formatAngle(angularAllowed(t, s), s.angle, s.angleDecimals)}
                </Cell>
                <Cell>{length(s.order === 'EN' ? t.dx : t.dy)}</Cell>
                <Cell>{length(s.order === 'EN' ? t.dy : t.dx)}</Cell>
                <Cell>{length(t.linear)}</Cell>
                <Cell>{Number.isFinite(t.ratio) ? formatFixed(t.ratio, 0) : 'exact'}</Cell>
                <Cell>{length(t.dz)}</Cell>
              </chakra.tr>
            );
          })}
        </tbody>
      </chakra.table>
    </Leaf>
  );
}

/** Nine columns stand beside the sheet without scrolling. */
const NARROW = { '& th, & td': { px: '4px' } };

/** Stations of traverses by every rule, side by side; the one that their points stand on is marked. */
export function StationsByRule({ list }: { list: readonly Traverse[] }) {
  const s = useProject((p) => p.state!.document.settings);
  const { network, known } = useProject((p) => p.tables!.reduction);
  const stations = list.flatMap((t) => stationsByRule(t, network, known, s.network ? 'network' : s.traverse));
  if (stations.length === 0) return null;
  const sign = UNIT_SIGN[s.unit];
  const plan = [`East ${sign}`, `North ${sign}`];
  if (s.order === 'NE') plan.reverse();
  const length = (m: number): string => (Number.isNaN(m) ? '–' : formatLength(m, s.unit, s.decimals));
  return (
    <Rows
      head="Stations of traverses, by rule"
      label="stations by rule"
      names={['Station', 'Rule', ...plan, `Elev ${sign}`, '']}
    >
      {stations.flatMap(({ number, rules }) =>
        rules.map((r, i) => (
          <chakra.tr key={`${number} ${r.rule}`} fontWeight={r.inForce ? 600 : undefined}>
            <Cell>{i === 0 ? number : ''}</Cell>
            <Cell textAlign="left">{RULE_NAME[r.rule]}</Cell>
            <Cell>{length(s.order === 'EN' ? r.x : r.y)}</Cell>
            <Cell>{length(s.order === 'EN' ? r.y : r.x)}</Cell>
            <Cell>{length(r.z)}</Cell>
            <Cell>{r.inForce ? '● in force' : ''}</Cell>
          </chakra.tr>
        )),
      )}
    </Rows>
  );
}

/** Level runs with their misclosures, and the heights that they give. */
export function LevelRuns({ levelling }: { levelling: Levelling | null }) {
  const s = useProject((p) => p.state!.document.settings);
  if (!levelling) return null;
  const sign = UNIT_SIGN[s.unit];
  const length = (m: number, d = 4): string => (Number.isNaN(m) ? '–' : formatLength(m, s.unit, d));
  const row = (run: LevelRun, i: number) => (
    <tr key={i}>
      <Cell color={run.within ? undefined : 'pole'}>
        {run.within ? '' : '▲ '}
        {run.from} → {run.to}
      </Cell>
      <Cell>{run.differences.length}</Cell>
      <Cell>{length(run.length, 1)}</Cell>
      <Cell>{length(run.difference)}</Cell>
      <Cell color={run.within ? undefined : 'pole'}>
        {Number.isNaN(run.misclosure) ? 'open' : length(run.misclosure)}
      </Cell>
      <Cell>{Number.isNaN(run.misclosure) ? '' : length(run.allowed)}</Cell>
    </tr>
  );
  return (
    <>
      <Rows
        head="Level runs"
        names={['Run', 'Setups', `Length ${sign}`, `Difference ${sign}`, `Misclosure ${sign}`, `allowed ${sign}`]}
      >
        {levelling.runs.map(row)}
      </Rows>
      {levelling.loops.length ? (
        <Rows head="Level loops" names={['Loop', `Length ${sign}`, `Misclosure ${sign}`, `allowed ${sign}`]}>
          {levelling.loops.map((l) => (
            <tr key={l.points.join()}>
              <Cell color={l.within ? undefined : 'pole'} whiteSpace="normal">
                {l.within ? '' : '▲ '}
                {l.points.join(' – ')}
              </Cell>
              <Cell>{length(l.length, 1)}</Cell>
              <Cell>{length(l.misclosure)}</Cell>
              <Cell>{length(l.allowed)}</Cell>
            </tr>
          ))}
        </Rows>
      ) : null}
      {levelling.tests.length ? (
        <Rows head="Two-peg tests" names={['Between', 'Rows', 'Line of sight', `in 30 m ${sign}`]}>
          {levelling.tests.map((t) => (
            <tr key={t.rows.join()}>
              <Cell>
                {t.from} – {t.to}
              </Cell>
              <Cell>{t.rows.join(', ')}</Cell>
              <Cell>{t.collimation >= 0 ? 'rises' : 'falls'}</Cell>
              <Cell>{length(Math.abs(t.collimation) * 30)}</Cell>
            </tr>
          ))}
        </Rows>
      ) : null}
      {levelling.heights.length ? (
        <Rows head="Heights by level" names={['Point', `Elev ${sign}`, `± ${sign}`, 'Rows']}>
          {levelling.heights.map((h) => (
            <tr key={h.number}>
              <Cell>{h.number}</Cell>
              <Cell>{length(h.z)}</Cell>
              <Cell>{length(h.sd)}</Cell>
              <Cell>{h.rows.join(', ')}</Cell>
            </tr>
          ))}
        </Rows>
      ) : null}
    </>
  );
}
