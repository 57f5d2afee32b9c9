import { Box, chakra, Flex } from '@chakra-ui/react';
import { useState } from 'react';
import type { NumberDecision } from '#core/project';
import { layoutProblem, type TextLayout } from '#core/exchange';
import { formatLength, UNIT_SIGN } from '#core/measure';
import { Act, Aside, Leaf, Num, Pick } from '../frame/controls.tsx';
import { Progress } from '../frame/progress.tsx';
import { useProject } from '../project-state/store.ts';
import type { Tried } from '../work/intake.worker.ts';

/** Rows of a trial on a part. */
export const PART = 2000;
const DECISIONS: [NumberDecision, string][] = [
  ['both', 'keep both, and ask me'],
  ['merge', 'same point: keep the earlier'],
  ['renumber', 'give the later new numbers'],
  ['leave-out', 'exclude the later'],
];

/** What would come in and what would be left out, and why. */
export function Result({
  tried,
  trying,
  part,
  setPart,
  layout,
  setLayout,
}: {
  tried: Tried | null;
  trying: number | null;
  part: boolean;
  setPart: (part: boolean) => void;
  layout: TextLayout;
  setLayout: (layout: TextLayout) => void;
}) {
  const settings = useProject((p) => p.state!.document.settings);
  const { unit } = settings;
  const problem = layoutProblem(layout);
  return (
    <Leaf mt="10px" p="10px 12px">
      <Flex gap="12px" align="center" wrap="wrap">
        <chakra.label display="flex" gap="6px">
          <input type="checkbox" checked={part} onChange={(e) => setPart(e.target.checked)} /> try the first {PART} rows
          only
        </chakra.label>
        {trying !== null ? (
          <Flex gap="8px" align="center">
            <Progress share={trying} /> <Aside>reading …</Aside>
          </Flex>
        ) : null}
      </Flex>
      {problem ? (
        <Box role="alert" color="pole" mt="4px">
          {problem}
        </Box>
      ) : tried ? (
        <>
          <Box mt="4px">
            <Num>{tried.read}</Num> {tried.read === 1 ? 'point' : 'points'} read, <Num>{tried.refusedCount}</Num>{' '}
            {tried.refusedCount === 1 ? 'row' : 'rows'} not read
            {tried.withoutElevation ? `, ${tried.withoutElevation} without elevation` : ''}
            {tried.underlay
              ? `; ${tried.underlay} ${tried.underlay === 1 ? 'entity' : 'entities'} under the drawing`
              : ''}
            {tried.extent ? (
              <Aside display="block">
                {tried.placed ? (
                  <>
                    E {formatLength(tried.extent[0], unit, 1)} … {formatLength(tried.extent[2], unit, 1)}, N{' '}
                    {formatLength(tried.extent[1], unit, 1)} … {formatLength(tried.extent[3], unit, 1)}
                  </>
                ) : layout.degrees ? (
                  <>
                    longitude {tried.extent[0].toFixed(5)}° … {tried.extent[2].toFixed(5)}°, latitude{' '}
                    {tried.extent[1].toFixed(5)}° … {tried.extent[3].toFixed(5)}°
                  </>
                ) : (
                  'the points are shown once they are transformed'
                )}
                {Number.isFinite(tried.lowest)
                  ? `, elevation ${formatLength(tried.lowest, unit, 2)} … ${formatLength(tried.highest, unit, 2)}`
                  : ''}{' '}
                {UNIT_SIGN[unit]}
              </Aside>
            ) : null}
          </Box>
          {tried.exchanged ? (
            <Box color="pole" role="alert">
              Latitude and longitude are swapped: only the other way round are the points where the project’s system is
              meant for.{' '}
              <Act
                onClick={() =>
                  setLayout({
                    ...layout,
                    roles: layout.roles.map((r) => (r === 'E' ? 'N' : r === 'N' ? 'E' : r)),
                  })
                }
              >
                Swap them
              </Act>
            </Box>
          ) : null}
          {tried.far && tried.read > 0 && !tried.exchanged ? (
            <Box color="brass">
              {tried.far === 1 ? '1 point lies' : `${tried.far} points lie`} far from all others and{' '}
              {tried.far === 1 ? 'is' : 'are'} outside the drawing; {tried.far === 1 ? 'it' : 'they'} will be asked
              about.
            </Box>
          ) : null}
          {tried.refused.length ? (
            <Box mt="6px" maxHeight="120px" overflow="auto" fontSize="13px">
              {tried.refused.slice(0, 50).map((r) => (
                <Box key={`${r.row} ${r.reason}`}>
                  {r.row ? `row ${r.row}: ` : ''}
                  {r.reason}{' '}
                  <Num color="slate" fontSize="12px">
                    {r.text.slice(0, 100)}
                  </Num>
                </Box>
              ))}
            </Box>
          ) : null}
        </>
      ) : null}
    </Leaf>
  );
}

/** Control in a file against control that the project has. */
export function Compared({ tried }: { tried: Tried }) {
  const { unit } = useProject((p) => p.state!.document.settings);
  const c = tried.compared;
  if (!c || c.same + c.differ.length === 0) return null;
  return (
    <Box mb="8px" role="status">
      Against control that the project has: {c.same} the same, {c.fresh} new
      {c.differ.length ? (
        <>
          ,{' '}
          <chakra.span color="brass">
            {c.differ.length} with other coordinates:{' '}
            {c.differ
              .slice(0, 5)
              .map(
                (d) =>
                  `${d.number} by ${formatLength(d.plan, unit, 3)} ${UNIT_SIGN[unit]}${
                    Number.isNaN(d.height) ? '' : ` and ${formatLength(d.height, unit, 3)} in height`
                  }`,
              )
              .join('; ')}
            {c.differ.length > 5 ? ' …' : ''}
          </chakra.span>
        </>
      ) : null}
      .
    </Box>
  );
}

/** Numbers that exist already: decided for all, or one by one. */
export function Coincident({
  known,
  twice,
  decision,
  setDecision,
  each,
  setEach,
}: {
  known: string[];
  twice: string[];
  decision: NumberDecision;
  setDecision: (d: NumberDecision) => void;
  each: Record<string, NumberDecision>;
  setEach: (each: Record<string, NumberDecision>) => void;
}) {
  const [open, setOpen] = useState(false);
  const all = [...new Set([...known, ...twice])];
  const shown = all.slice(0, 200);
  return (
    <Box mb="10px">
      <Flex gap="8px" align="center" wrap="wrap">
        <Box color="brass">
          {known.length === 1
            ? `number ${known[0]} exists in the project already`
            : known.length
              ? `${known.length} numbers exist in the project already`
              : ''}
          {known.length && twice.length ? ', ' : ''}
          {twice.length === 1
            ? `${twice[0]} occurs twice in the file`
            : twice.length
              ? `${twice.length} occur twice in the file`
              : ''}
        </Box>
        <Pick
          aria-label="what to do with numbers that exist already"
          value={decision}
          onChange={(e) => setDecision(e.target.value as NumberDecision)}
        >
          {DECISIONS.map(([k, v]) => (
            <option key={k} value={k}>
              {v}
            </option>
          ))}
        </Pick>
        <Act look="quiet" aria-expanded={open} onClick={() => setOpen(!open)}>
          one by one
        </Act>
      </Flex>
      {open ? (
        <Box maxHeight="150px" overflow="auto" mt="4px">
          {shown.map((n) => (
            <Flex key={n} gap="8px" align="center" minHeight="28px">
              <Num width="80px">{n}</Num>
              <Pick
                aria-label={`number ${n}`}
                value={each[n] ?? ''}
                onChange={(e) => {
                  const { [n]: _, ...rest } = each;
                  setEach(e.target.value ? { ...rest, [n]: e.target.value as NumberDecision } : rest);
                }}
              >
                <option value="">as all</option>
                {DECISIONS.map(([k, v]) => (
                  <option key={k} value={k}>
                    {v}
                  </option>
                ))}
              </Pick>
            </Flex>
          ))}
          {all.length > shown.length ? <Aside>and {all.length - shown.length} more, as all</Aside> : null}
        </Box>
      ) : null}
    </Box>
  );
}
