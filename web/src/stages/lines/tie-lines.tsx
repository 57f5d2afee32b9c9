import { Box, Flex } from '@chakra-ui/react';
import { useEffect, useMemo, useState } from 'react';
import type { Line } from '#core/linework';
import { formatLength, readLength, UNIT_SIGN } from '#core/measure';
import { looseLines, numberedPointsNear, tieLines, type TieDoubt, type TieRules, type Ties } from '#core/stages';
import { Act, Aside, Cut, Field, Num, Pick } from '../../frame/controls.tsx';
import { SmallTable } from '../../frame/small-table.tsx';
import { useParts } from '../../project-state/store.ts';
import type { Tables } from '../../project-state/tables.ts';
import { sheetHandle } from '../../sheet/handle.ts';

/** Lines looked at before the page draws again. */
const AT_ONCE = 500;
/** What one change carries at the most. */
const MOST_VERTICES = 40_000;

const WHY: Record<TieDoubt['why'], string> = {
  'no point': 'no point within reach',
  'several points': 'several points within reach',
  'point taken': 'its point is nearer to another vertex of the line',
  'end of an arc': 'end of an arc: the arc keeps its angle, its radius changes',
};

/** Ties loose lines, those of a drawing above all, to the points that they pass through; shows what that finds before. */
export function TieLines({ tables, lines, close }: { tables: Tables; lines: readonly Line[]; close: () => void }) {
  const { state, propose, select, busy } = useParts('state', 'propose', 'select', 'busy');
  const doc = state!.document;
  const { unit, checkPlan } = doc.settings;
  const [typed, setTyped] = useState(() => formatLength(checkPlan, unit, 3));
  const [elevations, setElevations] = useState<TieRules['elevations']>('points');
  const [several, setSeveral] = useState<TieRules['several']>('none');
  const { points } = tables;
  const numberOf = useMemo(() => (row: number) => points.number.get(row), [points]);
  const loose = useMemo(() => looseLines(doc, lines, numberOf), [doc, lines, numberOf]);
  const near = useMemo(() => numberedPointsNear(points, numberOf), [points, numberOf]);
  const reach = readLength(typed, unit);
  const metres = reach.ok && reach.metres > 0 ? reach.metres : null;
  const ties = useTies();
  const name = (row: number): string => numberOf(row) || `row ${points.fileRow[row]}`;
  const count = ties ? Object.values(ties.set).reduce((n, h) => n + h.vertices.length, 0) : 0;

  function useTies(): Ties | null {
    const [found, setFound] = useState<Ties | null>(null);
    useEffect(() => {
      setFound(null);
      if (metres === null) return;
      let goes = true;
      void (async () => {
        const all: Ties = { set: {}, lines: 0, vertices: 0, tied: 0, farthest: 0, doubts: [] };
        for (let from = 0; from < loose.length && goes; from += AT_ONCE) {
          const part = tieLines(doc, points, numberOf, loose.slice(from, from + AT_ONCE), { reach: metres, elevations, several }, near); // prettier-ignore
          Object.assign(all.set, part.set);
          for (const doubt of part.doubts) all.doubts.push(doubt);
          all.lines += part.lines;
          all.vertices += part.vertices;
          all.tied += part.tied;
          all.farthest = Math.max(all.farthest, part.farthest);
          await new Promise((next) => setTimeout(next));
        }
        if (goes) setFound(all);
      })();
      return () => void (goes = false);
      // eslint-disable-next-line react-hooks/exhaustive-deps -- a document that is the same in its lines is the same here
    }, [loose, metres, elevations, several, near]);
    return found;
  }

  return (
    <Box
      as="section"
      aria-label="tie to points"
      p="8px 10px"
      borderBottom="1px solid"
      borderColor="rule"
      flexShrink="0"
    >
      <Flex gap="10px" align="center" wrap="wrap">
        <Aside>
          <Num>{loose.length}</Num> {loose.length === 1 ? 'loose line' : 'loose lines'}
        </Aside>
        <label>
          <Aside>within {UNIT_SIGN[unit]} </Aside>
          <Field
            width="76px"
            numeric
            aria-label={`how far a vertex may be from its point ${UNIT_SIGN[unit]}`}
            value={typed}
            onChange={(e) => setTyped(e.target.value)}
          />
        </label>
        <label>
          <Aside>elevations </Aside>
          <Pick
            aria-label="elevations of tied vertices"
            width="150px"
            value={elevations}
            onChange={(e) => setElevations(e.target.value as TieRules['elevations'])}
          >
            <option value="points">of the points</option>
            <option value="missing">of the points where the line has none</option>
            <option value="own">of the line</option>
          </Pick>
        </label>
        <label>
          <Aside>several points </Aside>
          <Pick
            aria-label="several points within reach"
            value={several}
            onChange={(e) => setSeveral(e.target.value as TieRules['several'])}
          >
            <option value="none">leave loose</option>
            <option value="nearest">nearest</option>
          </Pick>
        </label>
        <Box flex="1" />
        <Act
          disabled={busy || !ties || ties.tied === 0 || count > MOST_VERTICES}
          onClick={() => {
            const lineCount = Object.keys(ties!.set).length;
            const what = `tie ${ties!.tied} ${ties!.tied === 1 ? 'vertex' : 'vertices'} of ${lineCount === 1 ? `line ${Object.keys(ties!.set)[0]}` : `${lineCount} lines`} to points`;
            void propose(`T${what.slice(1)}`, { op: 'lines.hand', set: ties!.set, what });
            close();
          }}
        >
          Show
        </Act>
        <Act look="quiet" onClick={close}>
          Cancel
        </Act>
      </Flex>
      <Box role="status" fontSize="13px" mt="4px">
        {sentence()}
      </Box>
      {ties?.doubts.length ? (
        <Box maxHeight="150px" overflow="auto" mt="4px" tabIndex={0}>
          <SmallTable
            label="vertices to look at"
            rows={ties.doubts}
            most={300}
            columns={[
              {
                id: 'line',
                head: 'line',
                by: (d) => d.line,
                words: true,
                cell: (d) => (
                  <Act
                    look="quiet"
                    fontFamily="mono"
                    height="22px"
                    px="0"
                    title="show on the drawing"
                    onClick={() => {
                      select({ kind: 'line', key: d.line });
                      sheetHandle.current?.show(d.x, d.y);
                    }}
                  >
                    {d.line}
                  </Act>
                ),
              },
              { id: 'vertex', head: 'vertex', mono: true, by: (d) => d.vertex, cell: (d) => d.vertex + 1 },
              { id: 'why', head: 'what', words: true, by: (d) => d.why, cell: (d) => <Cut maxWidth="330px">{WHY[d.why]}</Cut> }, // prettier-ignore
              { id: 'points', head: 'points', words: true, cell: (d) => <Cut maxWidth="140px">{d.rows.map(name).join(', ')}</Cut> }, // prettier-ignore
              { id: 'tied', head: 'tied', words: true, by: (d) => (d.tied ? 1 : 0), cell: (d) => (d.tied ? 'yes' : 'no') }, // prettier-ignore
            ]}
          />
        </Box>
      ) : null}
    </Box>
  );

  function sentence(): string {
    if (loose.length === 0)
      return 'None of these lines is loose: each follows numbered points. Loose lines come with drawings.';
    if (!reach.ok) return reach.reason;
    if (metres === null) return 'A vertex is tied to a point within a length greater than 0.';
    if (!ties) return 'looking for points …';
    if (count > MOST_VERTICES)
      return `${count} vertices are more than one change carries (${MOST_VERTICES}). Filter the lines, and tie them in parts.`;
    const apart = ties.tied ? `; farthest ${formatLength(ties.farthest, unit, 3)} ${UNIT_SIGN[unit]}` : '';
    return `${ties.tied} of ${ties.vertices} loose vertices lie on a point${apart}. ${ties.doubts.length ? `${ties.doubts.length} to look at:` : ''}`.trim();
  }
}
