import { Box, chakra, Flex } from '@chakra-ui/react';
import { useEffect, useMemo, useState } from 'react';
import { applyMatrix, fitPairs, heldBack, type Fit as FitResult, type FitSettings } from '#core/basis';
import { type Intake, type Placement, type ProjectDocument } from '#core/project';
import type { QueryKind } from '#core/queries';
import type { ReadPoints } from '#core/exchange';
import { formatAngle, formatFixed, formatLength, UNIT_SIGN } from '#core/measure';
import { problemText } from '../../frame/api.ts';
import { Act, Aside, Cut, Leaf, Line, Num } from '../../frame/controls.tsx';
import { Choice, Sentence } from '../../frame/sentence.tsx';
import { useCanChange } from '../../project-state/can.ts';
import { openQueries, useParts, useProject } from '../../project-state/store.ts';
import { Empty } from '../../frame/ledger.tsx';
import {
  commonPairs,
  fitPairsOf,
  hasHeights,
  origins,
  pickedOrigin,
  pickedTarget,
  readsOf,
  targets,
  withTyped,
  type Pairing,
} from './fit-pairs.ts';
import { FitTable, NewPair } from './fit-table.tsx';
import { placesOf, pointAtPair } from './point-at-pair.ts';

/** Files carried onto control as a whole, by points known in both. */
export function Fit() {
  const { state, tables, id } = useParts('state', 'tables', 'id');
  const doc = state!.document;
  const files = doc.intakes.filter((i) => i.purpose !== 'control' && i.on);
  const [chosen, setChosen] = useState<string[]>(() => startingChoice(doc, openBasis(tables!.summary.queries)));
  const [reads, setReads] = useState<Map<string, ReadPoints> | null>(null);
  const [problem, setProblem] = useState('');
  useEffect(() => {
    let here = true;
    setProblem('');
    readsOf(id, tables!, chosen).then(
      (found) => here && setReads(found),
      (error: unknown) => here && setProblem(problemText(error)),
    );
    return () => {
      here = false;
    };
  }, [id, tables, chosen]);
  if (files.length === 0)
    return (
      <Empty>
        Here a survey on a local basis is transformed to the grid as a whole, by points that are known in both. Import
        control and the survey first.
      </Empty>
    );
  return (
    <>
      <Leaf head="Transformed together" mb="10px" pb="6px">
        {files.map((i) => (
          <FileLine
            key={i.id}
            intake={i}
            on={chosen.includes(i.id)}
            onToggle={() => setChosen(chosen.includes(i.id) ? chosen.filter((c) => c !== i.id) : [...chosen, i.id])}
          />
        ))}
      </Leaf>
      {problem ? (
        <Box role="alert" color="pole" mb="8px">
          {problem}
        </Box>
      ) : null}
      {chosen.length === 0 ? (
        <Box px="12px" color="slate">
          Choose the files that belong to one basis.
        </Box>
      ) : reads ? (
        <Fitting key={chosen.join()} chosen={chosen} reads={reads} />
      ) : null}
    </>
  );
}

/** What is asked about files as a whole, by intake. */
const openBasis = (queries: Parameters<typeof openQueries>[0]): Map<string, QueryKind> =>
  new Map(
    openQueries(queries)
      .filter((q) => q.key.startsWith('basis:'))
      .map((q) => [q.key.slice('basis:'.length), q.kind]),
  );

const ASKED: Partial<Record<QueryKind, string>> = {
  'other-unit': 'in another unit',
  'columns-exchanged': 'east and north swapped',
  mirrored: 'mirrored',
};

/** One basis at a time: the first file that a fit would help, else what was carried over together before. */
const startingChoice = (doc: ProjectDocument, asked: Map<string, QueryKind>): string[] => {
  const wanting = doc.intakes.find(
    (i) => i.on && i.purpose !== 'control' && asked.has(i.id) && !(asked.get(i.id)! in ASKED),
  );
  if (wanting) return [wanting.id];
  const carried = doc.intakes.filter((i) => i.on && i.placement?.pairs.length);
  const matrix = JSON.stringify(carried[0]?.placement?.matrix);
  return carried.filter((i) => JSON.stringify(i.placement!.matrix) === matrix).map((i) => i.id);
};

function FileLine({ intake, on, onToggle }: { intake: Intake; on: boolean; onToggle: () => void }) {
  const { tables, propose } = useParts('tables', 'propose');
  const canChange = useCanChange();
  const asked = openBasis(tables!.summary.queries).get(intake.id);
  const { placement } = intake;
  return (
    <Line minHeight="30px">
      <chakra.label display="flex" gap="8px" alignItems="center" minWidth="0" flex="1">
        <input type="checkbox" checked={on} onChange={onToggle} />
        <Cut>{intake.fileName}</Cut>
      </chakra.label>
      {placement ? (
        <>
          <Aside>
            transformed by{' '}
            {placement.pairs.length ? `${placement.pairs.filter((p) => p.plan).length} points` : placement.kind}
          </Aside>
          {canChange ? (
            <Act
              look="quiet"
              onClick={() =>
                void propose(`${intake.fileName} as received`, {
                  op: 'intake.place',
                  ids: [intake.id],
                  placements: [null],
                })
              }
            >
              as received
            </Act>
          ) : null}
        </>
      ) : asked ? (
        <Aside color="brass">{ASKED[asked] ?? 'on another basis'}</Aside>
      ) : (
        <Aside>as received</Aside>
      )}
    </Line>
  );
}

function Fitting({ chosen, reads }: { chosen: string[]; reads: Map<string, ReadPoints> }) {
  const { state, tables, propose } = useParts('state', 'tables', 'propose');
  const canChange = useCanChange();
  const doc = state!.document;
  const kept = doc.intakes.find((i) => chosen.includes(i.id) && i.placement)?.placement;
  const [how, setHow] = useState<FitSettings>({
    kind: kept?.kind === 'space' ? 'space' : 'plan',
    scale: kept?.scale ?? 'free',
    height: kept?.height ?? 'shift',
  });
  const named = useMemo(() => origins(doc, reads), [doc, reads]);
  const from = useMemo(() => withTyped(named, doc.settings), [named, doc.settings]);
  const there = useMemo(() => targets(doc, tables!, chosen), [doc, tables, chosen]);
  const to = useMemo(() => withTyped(there, doc.settings), [there, doc.settings]);
  const [pairs, setPairs] = useState<Pairing[]>([]);
  useEffect(() => {
    setPairs(kept?.pairs.length ? kept.pairs : commonPairs(doc, tables!, named));
    // eslint-disable-next-line react-hooks/exhaustive-deps -- proposed anew for another file; what was typed since stays
  }, [named]);
  const fitted = useMemo(() => {
    const list = fitPairsOf(pairs, from, to);
    return { list, result: list.length ? fitPairs(list, how) : null };
  }, [pairs, from, to, how]);
  const result = fitted.result?.ok ? fitted.result.fit : null;
  const held = useMemo(
    () => (result ? heldBack(fitted.list, how, doc.settings.fitOutlier) : null),
    [result, fitted.list, how, doc.settings.fitOutlier],
  );
  useSketch(result, fitted.list, reads);
  const names = doc.intakes.filter((i) => chosen.includes(i.id)).map((i) => i.fileName);
  const add = (pair: Pairing): void => setPairs((all) => [...all, { ...pair, height: hasHeights(pair, from, to) }]);
  const point = (): void =>
    pointAtPair(
      { name: `a place of ${names.length === 1 ? names[0] : 'the files'}`, at: placesOf(tables!.points, doc, (i) => chosen.includes(i)), is: (place) => pickedOrigin(place, doc, tables!, { chosen, reads, named }) }, // prettier-ignore
      { at: [...there.values()], is: (place) => pickedTarget(place, doc, tables!, there) },
      (one, other) => add({ from: one, to: other, plan: true, height: true }),
    );
  const apply = (): void => {
    if (!result) return;
    const placement: Placement = {
      ...how,
      matrix: result.matrix,
      pairs,
      sigmaPlan: Number.isNaN(result.sigmaPlan) ? null : result.sigmaPlan,
      sigmaHeight: Number.isNaN(result.sigmaHeight) ? null : result.sigmaHeight,
    };
    void propose(`fit ${names.length === 1 ? names[0] : `${names.length} files`} onto control`, {
      op: 'intake.place',
      ids: chosen,
      placements: chosen.map(() => placement),
    });
  };
  return (
    <>
      <Leaf mb="10px" py="4px">
        <Sentence>
          By
          <Choice
            name="kind of fit"
            value={how.kind}
            options={[
              ['plan', 'four parameters in plan (shift, rotation, scale)'],
              ['space', 'seven parameters in space'],
            ]}
            onChange={(kind) => setHow({ ...how, kind })}
          />
          with the scale
          <Choice
            name="scale"
            value={how.scale}
            options={[
              ['free', 'solved for'],
              ['fixed', 'held at 1'],
            ]}
            onChange={(scale) => setHow({ ...how, scale })}
          />
          {how.kind === 'plan' ? (
            <>
              and, in height,
              <Choice
                name="height"
                value={how.height}
                options={[
                  ['shift', 'a shift'],
                  ['plane', 'a tilted plane'],
                  ['none', 'nothing'],
                ]}
                onChange={(height) => setHow({ ...how, height })}
              />
            </>
          ) : null}
        </Sentence>
      </Leaf>
      {held ? (
        <HeldBackLine
          held={held}
          names={names}
          onOff={() =>
            setPairs(
              pairs.map((p) => (p.from === held.name.split(' → ')[0] ? { ...p, plan: false, height: false } : p)),
            )
          }
        />
      ) : null}
      <FitTable
        pairs={pairs}
        residuals={result?.residuals ?? null}
        known={(p) => from.has(p.from) && to.has(p.to)}
        settings={doc.settings}
        onChange={setPairs}
      />
      <NewPair from={from} to={to} order={doc.settings.order} onAdd={add} onPoint={point} />
      {fitted.result && !fitted.result.ok ? (
        <Box role="alert" color="pole" px="12px" py="6px">
          {fitted.result.reason}
        </Box>
      ) : null}
      {pairs.length === 0 ? (
        <Box px="12px" py="6px" color="slate">
          No number of these files is in control. Name the common points above, by their numbers or by their
          coordinates.
        </Box>
      ) : null}
      {result ? <Outcome fit={result} /> : null}
      <DrawnAs />
      <StayBehind chosen={chosen} />
      {canChange ? (
        <Flex gap="8px" mt="8px">
          <Act look="solid" size="tall" disabled={!result} onClick={apply}>
            Transform {names.length === 1 ? 'it' : 'them'} …
          </Act>
        </Flex>
      ) : null}
    </>
  );
}

function HeldBackLine({
  held,
  names,
  onOff,
}: {
  held: { name: string; away: number; sigma: number };
  names: string[];
  onOff: () => void;
}) {
  const { unit } = useProject((p) => p.state!.document.settings);
  return (
    <Flex role="status" gap="10px" align="center" px="12px" py="6px" mb="8px" bg="mark" borderRadius="4px" wrap="wrap">
      <Box flex="1" minWidth="220px">
        <b>{held.name}</b> does not fit the others: without it they agree to {formatLength(held.sigma, unit, 3)}{' '}
        {UNIT_SIGN[unit]}, and it is {formatLength(held.away, unit, 3)} {UNIT_SIGN[unit]} off. Its coordinates in{' '}
        {names.join(', ')} or on the control sheet are wrong.
      </Box>
      <Act onClick={onOff}>Switch it off</Act>
    </Flex>
  );
}

function Outcome({ fit }: { fit: FitResult }) {
  const s = useProject((p) => p.state!.document.settings);
  const sign = UNIT_SIGN[s.unit];
  const sigma = (m: number): string => (Number.isNaN(m) ? 'no redundancy' : `${formatLength(m, s.unit, 4)} ${sign}`);
  const rows: [string, string][] = [
    ['scale', `${fit.scale.toFixed(8)}, ${formatFixed((fit.scale - 1) * 1e6, 1)} ppm`],
    ['rotation, counter-clockwise', formatAngle(fit.rotation, s.angle, Math.max(1, s.angleDecimals))],
    ['standard deviation in plan', `${sigma(fit.sigmaPlan)}, ${fit.redundancyPlan} redundant`],
    ['standard deviation in height', `${sigma(fit.sigmaHeight)}, ${fit.redundancyHeight} redundant`],
  ];
  if (fit.tilt.east !== 0 || fit.tilt.north !== 0)
    rows.push([
      'tilt, rise per thousand',
      `${formatFixed(fit.tilt.east * 1000, 3)} east, ${formatFixed(fit.tilt.north * 1000, 3)} north`,
    ]);
  return (
    <Leaf mt="10px" py="4px">
      {rows.map(([name, value]) => (
        <Line key={name} minHeight="24px">
          <Aside>{name}</Aside>
          <Num>{value}</Num>
        </Line>
      ))}
    </Leaf>
  );
}

const DrawnAs = () => {
  const about = useProject((p) => p.sketch?.about);
  return about ? (
    <Box px="12px" pt="4px">
      <Aside>On the drawing: the points where this puts them, and the {about}.</Aside>
    </Box>
  ) : null;
};

/** Files that stand on another basis and are not carried over with these. */
function StayBehind({ chosen }: { chosen: string[] }) {
  const { state, tables } = useParts('state', 'tables');
  const asked = openBasis(tables!.summary.queries);
  const behind = state!.document.intakes.filter((i) => i.on && asked.has(i.id) && !chosen.includes(i.id));
  if (behind.length === 0) return null;
  return (
    <Box px="12px" pt="8px" color="brass">
      {behind.length === 1 ? 'Stays on another basis' : 'Stay on other bases'}:{' '}
      {behind.map((i) => i.fileName).join(', ')}.
    </Box>
  );
}

const MOST_SKETCHED = 20_000;

/** The result in view: where the files' points would lie, and the residuals drawn larger. */
function useSketch(fit: FitResult | null, list: ReturnType<typeof fitPairsOf>, reads: Map<string, ReadPoints>): void {
  useEffect(() => {
    if (!fit) return useProject.setState({ sketch: null });
    const places: number[] = [];
    for (const read of reads.values()) {
      const step = Math.max(1, Math.ceil(read.x.length / MOST_SKETCHED));
      for (let i = 0; i < read.x.length; i += step) {
        const at = applyMatrix(fit.matrix, read.x[i], read.y[i], Number.isNaN(read.z[i]) ? 0 : read.z[i]);
        places.push(at.x, at.y);
      }
    }
    const largest = Math.max(...fit.residuals.map((r) => Math.max(Math.abs(r.x), Math.abs(r.y))), 1e-6);
    const times = 10 ** Math.floor(Math.log10(20 / largest));
    useProject.setState({
      sketch: {
        places: Float64Array.from(places),
        arrows: fit.residuals.map((r, i) => [
          list[i].to.x,
          list[i].to.y,
          list[i].to.x + r.x * times,
          list[i].to.y + r.y * times,
        ]),
        about: `residuals ${times >= 1 ? times : `1/${1 / times}`} times as long`,
      },
    });
  }, [fit, list, reads]);
  useEffect(() => () => useProject.setState({ sketch: null }), []);
}
