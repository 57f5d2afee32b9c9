import { Flex } from '@chakra-ui/react';
import { useState } from 'react';
import { csvTable } from '#core/exchange';
import type { Pair, Run } from '#core/linework';
import { formatLength, UNIT_SIGN } from '#core/measure';
import { Act, Aside, Leaf, Num } from '../../frame/controls.tsx';
import { saveText } from '../../frame/download.ts';
import { SmallTable, type SmallColumn } from '../../frame/small-table.tsx';
import { useLevels } from '../../project-state/levels.ts';
import { useParts } from '../../project-state/store.ts';
import type { Tables } from '../../project-state/tables.ts';
import { sheetHandle } from '../../sheet/handle.ts';
import { Empty } from '../../frame/ledger.tsx';
import { LongSection } from './long-section.tsx';

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
  const figure = <T,>(
    id: string,
    head: string,
    of: (row: T) => number,
    text: (v: number) => string,
  ): SmallColumn<T> => ({
    id,
    head,
    by: of,
    cell: (row) => <Num>{text(of(row))}</Num>,
  });
  const metres = (v: number): string => formatLength(v, unit, 2);
  const ofRuns: SmallColumn<Run>[] = [
    {
      id: 'line',
      head: 'Line',
      by: (r) => r.line,
      cell: (r) => (
        <Act look="quiet" fontFamily="mono" onClick={() => select({ kind: 'line', key: r.line })}>
          {r.line}
        </Act>
      ),
    },
    { id: 'from', head: 'From', by: (r) => name(r.from.upper), cell: (r) => name(r.from.upper) },
    figure('from-invert', `Invert ${sign}`, (r) => r.from.bottom, metres),
    { id: 'to', head: 'To', by: (r) => name(r.to.upper), cell: (r) => name(r.to.upper) },
    figure('to-invert', `Invert ${sign}`, (r) => r.to.bottom, metres),
    figure('length', `Length ${sign}`, (r) => r.length, metres),
    figure('ratio', '1 in', (r) => r.gradient, ratio),
    figure('percent', '%', (r) => r.gradient, percent),
  ];
  const ofPairs: SmallColumn<Pair>[] = [
    {
      id: 'upper',
      head: 'Upper',
      by: (p) => `${p.code} ${name(p.upper)}`,
      cell: (p) => (
        <Act look="quiet" onClick={() => show(p.upper)}>
          {p.code} {name(p.upper)}
        </Act>
      ),
    },
    {
      id: 'lower',
      head: 'Lower',
      cell: (p) => (
        <Act look="quiet" disabled={p.lower < 0} onClick={() => show(p.lower)}>
          {p.lower < 0 ? name(-1) : `${p.lowerCode} ${name(p.lower)}`}
        </Act>
      ),
    },
    figure('top', `Top ${sign}`, (p) => p.top, metres),
    figure('bottom', `Bottom ${sign}`, (p) => p.bottom, metres),
    {
      ...figure<Pair>('depth', `Depth ${sign}`, (p) => p.top - p.bottom, metres),
      style: (p) => (p.bottom > p.top ? { color: 'pole' } : {}),
    },
  ];
  return (
    <Flex direction="column" gap="10px" height="100%" minHeight="0" overflow="auto">
      {runs.length ? (
        <Leaf head="Pipe runs">
          <SmallTable
            label="pipe runs"
            columns={ofRuns}
            rows={runs}
            onRow={(r) => setLine(r.line)}
            rowStyle={(r) => ({ bg: r.line === shown ? 'wash' : undefined })}
          />
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
        <SmallTable label="pairs of levels" columns={ofPairs} rows={pairs} most={500} rowKey={(p) => String(p.upper)} />
      </Leaf>
    </Flex>
  );
}

const ratio = (gradient: number): string =>
  Number.isNaN(gradient) ? '' : Math.abs(gradient) < 1e-6 ? 'level' : (1 / gradient).toFixed(0).replace('-', '−');
const percent = (gradient: number): string =>
  Number.isNaN(gradient) ? '' : (gradient * 100).toFixed(2).replace('-', '−');
