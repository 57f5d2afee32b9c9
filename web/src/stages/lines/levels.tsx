import { Box, chakra, Flex } from '@chakra-ui/react';
import { useState } from 'react';
import { csvTable } from '#core/exchange';
import { formatLength, UNIT_SIGN } from '#core/measure';
import { Act, Aside, Leaf, Num } from '../../frame/controls.tsx';
import { saveText } from '../../frame/download.ts';
import { BODY_CELL, HeadRow } from '../../frame/table.tsx';
import { useLevels } from '../../project-state/levels.ts';
import { useParts } from '../../project-state/store.ts';
import type { Tables } from '../../project-state/tables.ts';
import { sheetHandle } from '../../sheet/handle.ts';
import { Empty } from '../../frame/ledger.tsx';
import { LongSection } from './long-section.tsx';

const Cell = chakra('td', { base: BODY_CELL });

/** Two levels in one place: pairs with their depths, and pipes from chamber to chamber with inverts and gradients. */
export function Levels({ tables }: { tables: Tables }) {
  const { state, select } = useParts('state', 'select');
  const doc = state!.document;
  const { unit } = doc.settings;
  const sign = UNIT_SIGN[unit];
  const levels = useLevels();
  const { pairs, runs } = levels ?? { pairs: [], runs: [] };
  const [line, setLine] = useState<string | null>(null);
  const { points } = tables;
  const name = (row: number): string =>
    row < 0 ? 'typed depth' : points.number.get(row) || `row ${points.fileRow[row]}`;
  const show = (row: number): void => {
    select({ kind: 'point', row });
    sheetHandle.current?.show(points.x[row], points.y[row]);
  };
  if (!levels) return <Empty>working …</Empty>;
  if (pairs.length === 0)
    return (
      <Empty>
        Places with two levels: a chamber’s cover and its invert, a wall’s top and foot. A pair is a point of a code
        that names another one below it (in the code list: “below it”), and that other point within{' '}
        {formatLength(doc.settings.pairReach, unit, 2)} {sign}; a depth typed on the upper one (depth=1.85) will do too.
      </Empty>
    );
  const shown = line ?? runs[0]?.line ?? null;
  const table = (): string =>
    csvTable([
      ['Line', 'From', `Invert [${unit}]`, 'To', `Invert [${unit}]`, `Length [${unit}]`, 'Gradient 1 in', 'Gradient %'],
      ...runs.map((r) => [r.line, name(r.from.upper), number(r.from.bottom), name(r.to.upper), number(r.to.bottom), number(r.length), ratio(r.gradient), percent(r.gradient)]), // prettier-ignore
    ]);
  const number = (m: number): string => (Number.isNaN(m) ? '' : formatLength(m, unit).replace(/\u2009/g, '').replace(/\u2212/g, '-')); // prettier-ignore
  return (
    <Flex direction="column" gap="10px" height="100%" minHeight="0" overflow="auto">
      {runs.length ? (
        <Leaf head="Pipe runs">
          <chakra.table width="100%" borderCollapse="collapse" aria-label="pipe runs">
            <HeadRow
              names={['Line', 'From', `Invert ${sign}`, 'To', `Invert ${sign}`, `Length ${sign}`, '1 in', '%']}
            />
            <tbody>
              {runs.map((r, i) => (
                <chakra.tr
                  key={i}
                  bg={r.line === shown ? 'wash' : undefined}
                  cursor="pointer"
                  onClick={() => setLine(r.line)}
                >
                  <Cell>
                    <Act look="quiet" fontFamily="mono" onClick={() => select({ kind: 'line', key: r.line })}>
                      {r.line}
                    </Act>
                  </Cell>
                  <Cell>{name(r.from.upper)}</Cell>
                  <Cell>
                    <Num>{formatLength(r.from.bottom, unit, 2)}</Num>
                  </Cell>
                  <Cell>{name(r.to.upper)}</Cell>
                  <Cell>
                    <Num>{formatLength(r.to.bottom, unit, 2)}</Num>
                  </Cell>
                  <Cell>
                    <Num>{formatLength(r.length, unit, 2)}</Num>
                  </Cell>
                  <Cell>
                    <Num>{ratio(r.gradient)}</Num>
                  </Cell>
                  <Cell>
                    <Num>{percent(r.gradient)}</Num>
                  </Cell>
                </chakra.tr>
              ))}
            </tbody>
          </chakra.table>
          <Flex p="6px 12px 8px" gap="8px" align="center">
            <Act look="quiet" onClick={() => saveText(`${state!.project.name}-pipe-runs.csv`, table())}>
              CSV
            </Act>
            <Aside>falling in the direction of the line where the gradient has no minus</Aside>
          </Flex>
        </Leaf>
      ) : null}
      {shown ? <LongSection runs={runs.filter((r) => r.line === shown)} name={name} unit={unit} /> : null}
      <Leaf head="Pairs">
        <chakra.table width="100%" borderCollapse="collapse" aria-label="pairs of levels">
          <HeadRow names={['Upper', 'Lower', `Top ${sign}`, `Bottom ${sign}`, `Depth ${sign}`]} />
          <tbody>
            {pairs.slice(0, 500).map((p) => (
              <tr key={p.upper}>
                <Cell>
                  <Act look="quiet" onClick={() => show(p.upper)}>
                    {p.code} {name(p.upper)}
                  </Act>
                </Cell>
                <Cell>
                  <Act look="quiet" disabled={p.lower < 0} onClick={() => show(p.lower)}>
                    {p.lower < 0 ? name(-1) : `${p.lowerCode} ${name(p.lower)}`}
                  </Act>
                </Cell>
                <Cell>
                  <Num>{formatLength(p.top, unit, 2)}</Num>
                </Cell>
                <Cell>
                  <Num>{formatLength(p.bottom, unit, 2)}</Num>
                </Cell>
                <Cell color={p.bottom > p.top ? 'pole' : undefined}>
                  <Num>{formatLength(p.top - p.bottom, unit, 2)}</Num>
                </Cell>
              </tr>
            ))}
          </tbody>
        </chakra.table>
        {pairs.length > 500 ? <Box p="8px 12px">and {pairs.length - 500} pairs more</Box> : null}
      </Leaf>
    </Flex>
  );
}

const ratio = (gradient: number): string =>
  Number.isNaN(gradient) ? '' : Math.abs(gradient) < 1e-6 ? 'level' : (1 / gradient).toFixed(0).replace('-', '−');
const percent = (gradient: number): string =>
  Number.isNaN(gradient) ? '' : (gradient * 100).toFixed(2).replace('-', '−');
