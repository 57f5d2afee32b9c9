import { Box, Flex } from '@chakra-ui/react';
import { useState } from 'react';
import { isTakenUnasked, type DrawingTable, type FilePart, type LayerAndKind } from '#core/exchange';
import { UNIT_SIGN } from '#core/measure';
import { Act, Aside, Cut, Field, Tick } from '../frame/controls.tsx';
import { SmallTable } from '../frame/small-table.tsx';
import type { Opened } from '../work/intake.worker.ts';

type Row = DrawingTable['rows'][number];

/** What entities are called, what comes of them, and how; kinds are those of the DXF reference. */
const KINDS: Record<string, readonly [name: string, becomes: string, how?: string]> = {
  POINT: ['points', 'points'],
  LINE: ['lines', 'lines'],
  POLYLINE: ['polylines', 'lines'],
  LWPOLYLINE: ['plan polylines', 'lines', 'all of one elevation'],
  ARC: ['arcs', 'lines', 'as chords to 5 mm'],
  CIRCLE: ['circles', 'lines', 'as chords to 5 mm'],
  ELLIPSE: ['ellipses', 'lines', 'as chords to 5 mm'],
  SPLINE: ['splines', 'lines', 'as chords to 5 mm'],
  '3DFACE': ['faces', 'surface'],
  MESH: ['mesh faces', 'surface'],
  TEXT: ['texts', 'elevations', 'points where the text is a number, which is their elevation'],
  MTEXT: ['long texts', 'elevations', 'points where the text is a number, which is their elevation'],
  INSERT: ['symbols', 'points', 'points where they are put, the name of their block as code'],
  HATCH: ['hatched areas', 'rims', 'the rims of the areas as lines'],
  SOLID: ['filled areas', 'rims', 'the rims of the areas as lines'],
  TRACE: ['filled areas', 'rims', 'the rims of the areas as lines'],
};
const nameOf = (kind: string): string => KINDS[kind]?.[0] ?? kind;
const SHOWN = 200;
const MOST_TAKEN = 2000;

const keyOf = ({ layer, kind }: LayerAndKind): string => `${kind}\u0000${layer}`;

/** What is ticked of a drawing before anybody ticks: nothing of layers that its maker does not see. Null where that is all there is to tick. */
export function tickedFirst({ rows }: DrawingTable): LayerAndKind[] | null {
  const seen = rows.filter((r) => r.read && isTakenUnasked(r.kind) && !r.hidden);
  return rows.some((r) => r.hidden) && seen.length ? seen.map(({ layer, kind }) => ({ layer, kind })) : null;
}

/** Rows that are taken, the chosen ones or those that are unless somebody says otherwise. */
const takenOf = ({ rows }: DrawingTable, { taken }: FilePart): Set<string> =>
  new Set((taken ?? rows.filter((r) => r.read && isTakenUnasked(r.kind))).map(keyOf));

interface DrawingTableProps {
  opened: Opened & { drawing: DrawingTable };
  part: FilePart;
  onChange: (part: FilePart) => void;
}

/** A drawing before it is imported: its layers by kind, with what each row is, ticked where it is taken. */
export function DrawingTablePick({ opened, part, onChange }: DrawingTableProps) {
  const { drawing, claims } = opened;
  const [wanted, setWanted] = useState('');
  const taken = takenOf(drawing, part);
  const has = (r: Row): boolean => `${r.layer} ${nameOf(r.kind)} ${r.kind}`.toUpperCase().includes(wanted.trim().toUpperCase()); // prettier-ignore
  const shown = drawing.rows.filter(has);
  const take = (rows: readonly Row[], on: boolean): void => {
    const next = new Map(drawing.rows.filter((r) => taken.has(keyOf(r))).map((r) => [keyOf(r), r] as const));
    for (const r of rows.filter((one) => one.read)) {
      if (on) next.set(keyOf(r), r);
      else next.delete(keyOf(r));
    }
    onChange({ ...part, taken: [...next.values()].slice(0, MOST_TAKEN).map(({ layer, kind }) => ({ layer, kind })) });
  };
  const unit = claims.unit ? UNIT_SIGN[claims.unit] : 'drawing units';
  return (
    <Box as="section" aria-label="what the drawing holds" mb="12px">
      <Flex gap="8px" align="center" wrap="wrap" mb="6px">
        <Box fontWeight="600">{drawing.rows.length + drawing.more} layers by kind</Box>
        <Field
          aria-label="layers or kinds that are listed"
          placeholder="layer or kind"
          value={wanted}
          width="150px"
          onChange={(e) => setWanted(e.target.value)}
        />
        <Act onClick={() => take(shown, true)}>Tick {wanted ? 'these' : 'all'}</Act>
        <Act onClick={() => take(shown, false)}>Tick none{wanted ? ' of these' : ''}</Act>
        {drawing.symbols ? (
          <Tick
            label={`with what ${drawing.symbols === 1 ? 'its block draws' : `its ${drawing.symbols} blocks draw`}`}
            on={part.blocks ?? false}
            set={(on) => onChange({ ...part, blocks: on })}
          />
        ) : null}
      </Flex>
      {drawing.problems.slice(0, 5).map((p) => (
        <Box key={p} color="brass" mb="4px">
          {p}
        </Box>
      ))}
      <Box maxHeight="264px" overflow="auto" border="1px solid" borderColor="rule" borderRadius="4px" tabIndex={0}>
        <SmallTable
          label="layers of the drawing by kind"
          rows={shown}
          rowKey={keyOf}
          rowStyle={(r) => (r.read ? {} : { color: 'slate' })}
          most={SHOWN}
          cellStyle={{ whiteSpace: 'nowrap', px: '6px', fontSize: '13px' }}
          columns={[
            {
              id: 'layer',
              head: 'layer',
              by: (r) => r.layer,
              cell: (r) =>
                r.read ? (
                  <Tick label={r.layer} cut on={taken.has(keyOf(r))} set={(on) => take([r], on)} />
                ) : (
                  <Cut display="block" maxWidth="220px" pl="19px" fontSize="13px">
                    {r.layer}
                  </Cut>
                ),
            },
            { id: 'kind', head: 'kind', words: true, by: (r) => nameOf(r.kind), title: 'as the drawing has it', cell: (r) => <span title={r.kind}>{nameOf(r.kind)}</span> }, // prettier-ignore
            { id: 'count', head: 'number', mono: true, by: (r) => r.count, cell: (r) => r.count },
            { id: 'low', head: `lowest [${unit}]`, mono: true, by: (r) => r.lowest ?? undefined, cell: (r) => elevation(r.lowest) }, // prettier-ignore
            { id: 'high', head: `highest [${unit}]`, mono: true, by: (r) => r.highest ?? undefined, cell: (r) => elevation(r.highest) }, // prettier-ignore
            {
              id: 'as',
              head: 'becomes',
              words: true,
              cell: (r) => (r.read ? <span title={KINDS[r.kind]?.[2]}>{KINDS[r.kind]?.[1]}</span> : 'is not read'),
            },
            { id: 'note', head: 'to look at', words: true, by: (r) => r.far + (r.hidden ? 1 : 0) || undefined, cell: noteOf }, // prettier-ignore
          ]}
        />
      </Box>
      {drawing.more ? <Aside>{drawing.more} more are not listed and not imported</Aside> : null}
    </Box>
  );
}

const elevation = (v: number | null): string => (v === null ? '' : v.toFixed(3));

/** Of these nobody expects an elevation. */
const IN_PLAN = new Set('TEXT MTEXT HATCH SOLID TRACE'.split(' '));

/** What of a row needs an eye. */
function noteOf(r: Row): string {
  const some = (n: number, what: string): string => (n === 0 ? '' : n === r.count ? what : `${n} ${what}`);
  const flat = r.read && !IN_PLAN.has(r.kind) ? r.flat : 0;
  return [some(r.far, 'far away'), some(flat, 'no elevation'), r.hidden ? 'layer hidden' : '']
    .filter(Boolean)
    .join(', ');
}
