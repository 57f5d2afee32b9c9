import { withoutTail } from '#core/kernel';
import { Box, Flex } from '@chakra-ui/react';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { isPublished, systemLine, type CoordinateSystem } from '#core/basis';
import type { Basis, Settings } from '#core/project';
import { extentOf, STATE } from '#core/stages';
import { formatAngle, formatFixed, formatLength, UNIT_NAME, UNIT_SIGN } from '#core/measure';
import { api } from '../../frame/api.ts';
import { DisplaySentences } from '../../frame/display-sentences.tsx';
import { SmallTable, type SmallColumn } from '../../frame/small-table.tsx';
import { Act, Aside, Field, Leaf, Num } from '../../frame/controls.tsx';
import { lengthWithin, numberWithin, Sentence, Typed } from '../../frame/sentence.tsx';
import { useCanChange } from '../../project-state/can.ts';
import { pointsNumbered, whyUnclear } from '../../project-state/points-numbered.ts';
import { useParts, useProject } from '../../project-state/store.ts';
import type { Tables } from '../../project-state/tables.ts';
import { GridLeaf } from './grids.tsx';
import { SystemFinder } from '../../intake/system-finder.tsx';

/** What the project's numbers mean, in sentences that are changed in place. */
export function Meaning() {
  const { state, make, propose } = useParts('state', 'make', 'propose');
  const canChange = useCanChange();
  const doc = state!.document;
  const { settings: s, basis } = doc;
  const set = (part: Partial<Settings>): void => void make({ op: 'settings.set', settings: part });
  const setBasis = (label: string, part: Partial<Basis>): void => void propose(label, { op: 'basis.set', basis: part });
  return (
    <fieldset disabled={!canChange} style={{ border: 0, margin: 0, padding: 0, minWidth: 0 }}>
      <Leaf head="Units and display" mb="10px" pb="6px">
        <DisplaySentences settings={s} set={set} />
        <Sentence color="slate">
          Changing these alters no data: what is stored is metres and radians. Files keep the unit that they were taken
          in by.
        </Sentence>
      </Leaf>
      <SystemLeaf basis={basis} setBasis={setBasis} canChange={canChange} />
      <FactorLeaf basis={basis} settings={s} setBasis={setBasis} />
      <GridLeaf basis={basis} setBasis={setBasis} canChange={canChange} />
    </fieldset>
  );
}

function SystemLeaf({
  basis,
  setBasis,
  canChange,
}: {
  basis: Basis;
  setBasis: (label: string, part: Partial<Basis>) => void;
  canChange: boolean;
}) {
  const [choosing, setChoosing] = useState(false);
  const { system } = basis;
  const choose = (next: CoordinateSystem): void => {
    setChoosing(false);
    setBasis(`system: ${systemLine(next)}`, { system: next });
  };
  return (
    <Leaf head="Where on earth" mb="10px" pb="6px">
      <Sentence>
        {isPublished(system) ? (
          <>
            <span>
              Coordinates are on <b>{system.name}</b>
            </span>
            {system.code ? <Num>{system.code}</Num> : <Aside>defined by parameters</Aside>}
            {system.unit !== 'degree' ? <Aside>published in {UNIT_NAME[system.unit]}</Aside> : null}
          </>
        ) : (
          <span>
            Coordinates are <b>local ground</b> at scale 1: not tied to any grid or datum.
          </span>
        )}
      </Sentence>
      {isPublished(system) && system.area ? (
        <Sentence color="slate">
          It is meant for {degrees(system.area.south, 'S', 'N')} to {degrees(system.area.north, 'S', 'N')} and{' '}
          {degrees(system.area.west, 'W', 'E')} to {degrees(system.area.east, 'W', 'E')}; points outside are asked
          about.
        </Sentence>
      ) : null}
      {isPublished(system) && /\+(datum|ellps)=WGS84/.test(system.definition) ? (
        <Sentence>
          Its datum moves with time; coordinates belong to the year
          <Typed
            name="epoch"
            shown={basis.epoch === null ? '' : String(basis.epoch)}
            read={numberWithin(1900, 2200)}
            onSet={(epoch) => setBasis(`epoch ${epoch}`, { epoch })}
            width="80px"
          />
          {basis.epoch === null ? <Aside>nobody has said which</Aside> : null}
        </Sentence>
      ) : null}
      {canChange ? (
        <Flex gap="8px" px="12px" py="4px">
          <Act onClick={() => setChoosing(!choosing)} aria-expanded={choosing}>
            {isPublished(system) ? 'Another system …' : 'Choose a published system …'}
          </Act>
          {isPublished(system) ? <Act onClick={() => choose({ kind: 'local' })}>Local ground</Act> : null}
        </Flex>
      ) : null}
      {choosing ? <SystemFinder onChoose={choose} onLeave={() => setChoosing(false)} /> : null}
      <Sentence color="slate">
        Choosing a system moves no point that was imported as the project’s own: it says what those numbers are. Files
        imported from another system are transformed anew.
      </Sentence>
    </Leaf>
  );
}

const degrees = (value: number, negative: string, positive: string): string =>
  `${Math.abs(value).toFixed(1)}° ${value < 0 ? negative : positive}`;

/** The project scale factor as stated, and what the grid does here as computed. */
function FactorLeaf({
  basis,
  settings: s,
  setBasis,
}: {
  basis: Basis;
  settings: Settings;
  setBasis: (label: string, part: Partial<Basis>) => void;
}) {
  const { id, tables, state, make } = useParts('id', 'tables', 'state', 'make');
  const places = sitePlaces(tables!);
  const published = isPublished(basis.system);
  const answer = useQuery({
    queryKey: ['factors', id, state!.revision, places.map((p) => p.at)],
    queryFn: () =>
      api.factors(
        id,
        places.map((p) => p.at),
      ),
    enabled: published && places.length > 0,
    placeholderData: (old) => old,
  });
  const sign = UNIT_SIGN[s.unit];
  const middle = answer.data?.list[0];
  const stated = basis.factor;
  return (
    <Leaf head="Grid and ground" mb="10px" pb="6px">
      <Sentence>
        The project scale factor, length on the grid over length on the ground, is
        <Typed
          name="project scale factor"
          shown={withoutTail(withoutTail(stated.toFixed(8), '0'), '.')}
          read={numberWithin(0.9, 1.1)}
          onSet={(factor) => setBasis(`project scale factor ${factor}`, { factor })}
          width="116px"
        />
        as stated by
        <SourceField basis={basis} onSet={(factorSource) => void make({ op: 'basis.set', basis: { factorSource } })} />
      </Sentence>
      <Sentence>
        {basis.base ? (
          <span>
            Grid is converted to ground about <Num>{placeText(basis.base.x, basis.base.y, s)}</Num>
          </span>
        ) : (
          <span>
            No base point is chosen, so packages in ground coordinates are scaled about the middle of the site.
          </span>
        )}
        <Typed
          name="base point"
          shown=""
          width="190px"
          read={(text) => readPlace(text, s)}
          onSet={(base) => void make({ op: 'basis.set', basis: { base } })}
        />
        <Aside>{s.order === 'EN' ? `east, north in ${sign}` : `north, east in ${sign}`}, or a point’s number</Aside>
      </Sentence>
      {published && middle ? (
        <Box px="12px" pt="6px" overflowX="auto">
          <FactorTable list={answer.data!.list} names={places.map((p) => p.name)} settings={s} />
          {Math.abs(stated - 1) > 1e-12 || Math.abs(middle.factors.combined - 1) > 5e-6 ? (
            <Box pt="6px">
              <Aside>
                The stated factor and the combined factor of the site’s middle differ by{' '}
                <Num>{formatFixed((stated - middle.factors.combined) * 1e6, 1)}</Num> ppm
                {Math.abs(stated - middle.factors.combined) > 2e-5
                  ? `: ${formatFixed(Math.abs(stated - middle.factors.combined) * 1e5, 1)} mm in 100 m. Is it the factor of this grid?`
                  : '.'}
              </Aside>
            </Box>
          ) : null}
        </Box>
      ) : (
        <Sentence color="slate">
          {published
            ? places.length
              ? 'The factors of this place are being computed …'
              : 'Convergence and factors show here once there are points.'
            : 'On local ground there is no convergence and no point scale.'}
        </Sentence>
      )}
    </Leaf>
  );
}

function FactorTable({
  list,
  names,
  settings: s,
}: {
  list: NonNullable<Awaited<ReturnType<typeof api.factors>>>['list'];
  names: string[];
  settings: Settings;
}) {
  const rows = list.map((factors, i) => ({ at: names[i], factors }));
  const figure = (
    id: string,
    head: string,
    text: (f: NonNullable<(typeof list)[number]>) => string,
  ): SmallColumn<(typeof rows)[number]> => ({
    id,
    head,
    cell: ({ factors }) => <Num>{factors ? text(factors) : ''}</Num>,
  });
  const convergence = figure('convergence', 'convergence', (f) => formatAngle(f.factors.convergence, s.angle, Math.max(1, s.angleDecimals))); // prettier-ignore
  return (
    <SmallTable
      label="grid factors of the site"
      rows={rows}
      rowKey={(r) => r.at}
      cellStyle={{ whiteSpace: 'nowrap' }}
      columns={[
        { id: 'at', head: 'at', cell: (r) => r.at },
        { ...convergence, cell: (r) => (r.factors ? convergence.cell(r) : <Num>outside</Num>) },
        figure('scale', 'point scale', (f) => f.factors.pointScale.toFixed(8)),
        figure('elevation', 'elevation factor', (f) => f.factors.elevationFactor.toFixed(8)),
        figure('combined', 'combined factor', (f) => f.factors.combined.toFixed(8)),
        figure('geoid', `geoid ${UNIT_SIGN[s.unit]}`, (f) =>
          f.geoidHeight === null ? 'none' : formatLength(f.geoidHeight, s.unit, 3),
        ),
      ]}
    />
  );
}

function SourceField({ basis, onSet }: { basis: Basis; onSet: (text: string) => void }) {
  const [typed, setTyped] = useState<string | null>(null);
  const submit = (): void => {
    if (typed !== null && typed.trim() !== basis.factorSource) onSet(typed.trim());
    setTyped(null);
  };
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        submit();
      }}
    >
      <Field
        aria-label="who states the factor"
        placeholder="whom, or where"
        width="170px"
        maxLength={200}
        value={typed ?? basis.factorSource}
        onChange={(e) => setTyped(e.target.value)}
        onBlur={submit}
        onKeyDown={(e) => e.stopPropagation()}
      />
    </form>
  );
}

/** The site's middle first, then its corners, m. */
function sitePlaces(tables: Tables): { name: string; at: [number, number, number | null] }[] {
  const { points } = tables;
  const e = extentOf(points);
  if (!e) return [];
  let [sum, count] = [0, 0];
  for (let row = 0; row < points.z.length; row++)
    if (points.state[row] === STATE.used && !Number.isNaN(points.z[row])) {
      sum += points.z[row];
      count++;
    }
  const z = count ? sum / count : null;
  return [
    { name: 'middle of the site', at: [(e.minX + e.maxX) / 2, (e.minY + e.maxY) / 2, z] },
    { name: 'south-west', at: [e.minX, e.minY, z] },
    { name: 'north-east', at: [e.maxX, e.maxY, z] },
  ];
}

/** Two numbers in the project's order, or the number of a point. */
function readPlace(text: string, s: Settings) {
  const { tables } = useProject.getState();
  const parts = text
    .trim()
    .split(/[,;]\s+|\s+|;/)
    .filter(Boolean);
  const any = lengthWithin(s.unit, -1e8, 1e8);
  if (parts.length === 2) {
    const [a, b] = parts.map((p) => any(p));
    if (a.ok && b.ok) {
      const [x, y] = s.order === 'EN' ? [a.value, b.value] : [b.value, a.value];
      return {
        ok: true as const,
        value: { x, y },
        echo: placeText(x, y, s),
      };
    }
  }
  const number = text.trim();
  const { points } = tables!;
  const rows = number === '' ? [] : pointsNumbered(points, [number]).get(number)!;
  if (rows.length === 1)
    return { ok: true as const, value: { x: points.x[rows[0]], y: points.y[rows[0]] }, echo: `point ${number}` };
  if (rows.length > 1) return { ok: false as const, reason: whyUnclear(number, rows)! };
  return { ok: false as const, reason: `“${text.slice(0, 40)}” is neither two lengths nor the number of a point` };
}

/** A place in the project's unit and coordinate order. */
function placeText(x: number, y: number, s: Settings): string {
  const parts = [`E ${formatLength(x, s.unit, s.decimals)}`, `N ${formatLength(y, s.unit, s.decimals)}`];
  return (s.order === 'EN' ? parts : parts.reverse()).join(', ');
}
