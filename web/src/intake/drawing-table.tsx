import { Box, Flex } from '@chakra-ui/react';
import { useState } from 'react';
import {
  BY_LAYER,
  canBeTaken,
  choicesFor,
  codeOfTaken,
  comesAsPoints,
  keyOfTaken,
  mixedCodes,
  MOST_TAKEN,
  takenRow,
  TRUE_COLOUR,
  type Box as Extent,
  type DrawingTable,
  type FilePart,
  type ListedCode,
  type TakenAs,
  type TakenRow,
} from '#core/exchange';
import { UNIT_SIGN, type FileUnit, type LengthUnit } from '#core/measure';
import { Act, Aside, Cut, Field, Pick, Tick } from '../frame/controls.tsx';
import { useLatest } from '../frame/latest.ts';
import { TypedLength } from '../frame/typed-length.tsx';
import { SmallTable, type SmallColumn } from '../frame/small-table.tsx';
import { CleanLines } from './clean-lines.tsx';
import { EmptyLayersSaid, Extents } from './drawing-extents.tsx';
import { ContourElevations } from './contour-elevations.tsx';
import { FootprintsSaid } from './footprints-said.tsx';
import type { Opened } from '../work/intake.worker.ts';

type Row = DrawingTable['rows'][number];

/** What entities are called, and how they become what they become; kinds are those of the DXF reference, of LandXML's schema and of GeoJSON. */
const KINDS: Record<string, readonly [name: string, how?: string]> = {
  POINT: ['points'],
  LINE: ['lines'],
  POLYLINE: ['polylines'],
  LWPOLYLINE: ['plan polylines', 'all of one elevation'],
  ARC: ['arcs', 'kept as arcs'],
  CIRCLE: ['circles', 'kept as arcs'],
  ELLIPSE: ['ellipses', 'as chords to 5 mm'],
  SPLINE: ['splines', 'as chords to 5 mm'],
  '3DFACE': ['faces'],
  MESH: ['mesh faces'],
  TEXT: [
    'texts',
    'points where the text is a number, which is their elevation; in metres where the drawing is in millimetres',
  ],
  MTEXT: [
    'long texts',
    'points where the text is a number, which is their elevation; in metres where the drawing is in millimetres',
  ],
  INSERT: ['symbols', 'points where they are put, the name of their block as code'],
  HATCH: ['hatched areas', 'the rims of the areas'],
  SOLID: ['filled areas', 'the rims of the areas'],
  TRACE: ['filled areas', 'the rims of the areas'],
  CgPoint: ['points', 'with the codes that they have'],
  DataPoint: ['data points'],
  Breakline: ['breaklines'],
  Contour: ['contours'],
  Boundary: ['boundary lines'],
  PlanFeature: ['plan features', 'arcs kept as arcs'],
  Parcel: ['parcel lines', 'arcs kept as arcs'],
  Alignment: ['alignments in plan', 'arcs kept as arcs, transitions as chords to 5 mm'],
  Profile: ['alignments in space', 'at the elevations of their profile; vertical curves as chords to 5 mm'],
  CrossSect: ['cross sections', 'square across their alignment, in space'],
  Struct: ['chambers', 'points at their cover level'],
  Sump: ['chamber bottoms', 'points at the lowest level of each chamber'],
  Pipe: ['pipes', 'at their inverts, from chamber to chamber'],
  Point: ['points', 'with the descriptions that they have'],
  LineString: ['lines'],
  Polygon: ['areas', 'their rims'],
};
const nameOf = (kind: string): string => KINDS[kind]?.[0] ?? kind;
/** What a row is called where it is spoken of. */
const calledOf = (r: Row): string => `${r.layer}, ${nameOf(r.kind)}${partOf(r)}`;
/** Which part of a layer’s it is: symbols of one block, anything else in one colour. */
const partOf = ({ block, drawnIn }: Row): string =>
  block !== undefined ? ` ${block}` : drawnIn === undefined ? '' : ` ${colourName(drawnIn)}`;
const isPart = ({ block, drawnIn }: Row): boolean => block !== undefined || drawnIn !== undefined;

/** The first colours, as the DXF reference names them. */
const COLOURS = ['by block', 'red', 'yellow', 'green', 'cyan', 'blue', 'magenta', 'black or white'];

function colourName(drawnIn: number): string {
  if (drawnIn === BY_LAYER) return 'by layer';
  if (drawnIn >= TRUE_COLOUR) return `#${(drawnIn - TRUE_COLOUR).toString(16).padStart(6, '0')}`;
  return COLOURS[drawnIn] || `colour ${drawnIn}`;
}
const counted = ({ kind, count }: Row): string => {
  const name = nameOf(kind);
  return `${count} ${count === 1 && KINDS[kind] ? name.replace(/s( in |$)/, '$1') : name}`;
};
const SHOWN = 200;
/** Each row has a tick, a choice and fields: more of them at once would hold the page up. */
const AT_ONCE = 12;
/** As what all listed lines can be taken at once; as an underlay, everything. */
const ALL_AS: readonly TakenAs[] = choicesFor('LINE');

interface DrawingTableProps {
  opened: Opened & { drawing: DrawingTable };
  part: FilePart;
  /** The project's codes, to give to layers. */
  codes: readonly ListedCode[];
  /** The unit that somebody chose for a drawing that says none. */
  readIn?: FileUnit | null;
  /** The project's unit, in which lengths are typed. */
  lengths?: LengthUnit;
  /** What of the drawing is seen, in its own unit; null where it cannot be said. */
  seen?: () => FilePart['within'] | null;
  /** Asks for a fence on the drawing; absent where it cannot be said. */
  fenced?: (then: (fence: number[]) => void) => void;
  /** Shows an extent, in the drawing's own unit, on the drawing; absent where its place cannot be said. */
  show?: (extent: Extent) => void;
  onChange: (part: FilePart) => void;
}

/** A drawing before it is imported: its layers by kind, with what each row is, ticked where it is taken, and as what. */
export function DrawingTablePick({
  opened,
  part,
  codes,
  readIn,
  lengths = 'm',
  seen,
  fenced,
  show,
  onChange,
}: DrawingTableProps) {
  const { drawing, claims, tickedAs } = opened;
  const [wanted, setWanted] = useState('');
  // A fence takes its time to be drawn; what was ticked meanwhile stays.
  const { takeFence } = useLatest({ takeFence: (fence: number[]) => onChange({ ...part, fence }) });
  const taken = new Map((part.taken ?? []).map((t) => [keyOfTaken(t), t]));
  const has = (r: Row): boolean => `${r.layer} ${nameOf(r.kind)} ${r.kind}${partOf(r)}`.toUpperCase().includes(wanted.trim().toUpperCase()); // prettier-ignore
  const shown = drawing.rows.filter(has);
  const told = (next: ReadonlyMap<string, TakenRow>): void =>
    onChange({ ...part, taken: [...next.values()].slice(0, MOST_TAKEN) });
  const take = (rows: readonly Row[], on: boolean): void => {
    const next = new Map(taken);
    for (const r of rows.filter(canBeTaken)) {
      const key = keyOfTaken(r);
      if (!on) next.delete(key);
      else if (!next.has(key)) next.set(key, takenRow(r, codes));
    }
    told(next);
  };
  const set = (of: TakenRow, to: Partial<TakenRow>): void => told(new Map(taken).set(keyOfTaken(of), { ...of, ...to }));
  const listedLines = shown.filter((r) => taken.has(keyOfTaken(r)) && !comesAsPoints(r.kind));
  const ticked = shown.filter((r) => taken.has(keyOfTaken(r)));
  const setAll = (as: TakenAs): void => {
    const next = new Map(taken);
    for (const r of as === 'underlay' ? ticked : listedLines)
      next.set(keyOfTaken(r), { ...next.get(keyOfTaken(r))!, as });
    told(next);
  };
  const mixed = mixedCodes(part.taken ?? []);
  const said = claims.unit ?? readIn;
  const unit = said ? UNIT_SIGN[said] : 'no unit';
  return (
    <Box as="section" aria-label="what the drawing holds" mb="12px">
      <Flex gap="8px" align="center" wrap="wrap" mb="6px">
        <Box fontWeight="600">
          {drawing.rows.length + drawing.more === 1 ? '1 layer' : `${drawing.rows.length + drawing.more} layers`} by
          kind
        </Box>
        <Field
          aria-label="layers, kinds, blocks or colours that are listed"
          placeholder="layer, kind, colour"
          value={wanted}
          width="150px"
          onChange={(e) => setWanted(e.target.value)}
        />
        <Act onClick={() => take(shown, true)}>Tick {wanted ? 'these' : 'all'}</Act>
        <Act onClick={() => take(shown, false)}>Tick none{wanted ? ' of these' : ''}</Act>
        {ticked.length > 1 ? (
          <Pick
            aria-label="all listed rows as"
            value=""
            maxWidth="170px"
            onChange={(e) => setAll(e.target.value as TakenAs)}
          >
            <option value="">{wanted ? 'these as …' : 'all as …'}</option>
            {ALL_AS.map((as) => (
              <option key={as} value={as} disabled={as !== 'underlay' && listedLines.length === 0}>
                {as === 'underlay' ? 'all as underlay' : `lines as ${as}`}
              </option>
            ))}
          </Pick>
        ) : null}
        {seen ? (
          <Tick
            label="only what is in view"
            on={part.within !== undefined}
            set={(on) => {
              const { within: _, ...everywhere } = part;
              const window = on ? seen() : null;
              onChange(window ? { ...everywhere, within: window } : everywhere);
            }}
          />
        ) : null}
        {part.fence ? (
          <Tick
            label={`only what reaches into the fence of ${part.fence.length / 2} corners`}
            on
            set={() => {
              const { fence: _, ...everywhere } = part;
              onChange(everywhere);
            }}
          />
        ) : fenced ? (
          <Act onClick={() => fenced(takeFence)}>Draw a fence …</Act>
        ) : null}
        {drawing.symbols ? (
          <Tick
            label={`with what ${drawing.symbols === 1 ? 'its block draws' : `its ${drawing.symbols} blocks draw`}`}
            on={part.blocks ?? false}
            set={(on) => onChange({ ...part, blocks: on })}
          />
        ) : null}
      </Flex>
      {listedLines.length ? (
        <CleanLines
          clean={part.clean}
          cleaned={drawing.cleaned}
          unit={lengths}
          onChange={(clean) => {
            const { clean: _, ...whole } = part;
            onChange(clean ? { ...whole, clean } : whole);
          }}
        />
      ) : null}
      {drawing.contours ? (
        <ContourElevations
          contours={drawing.contours}
          written={part.written}
          onChange={(written) => {
            const { written: _, ...whole } = part;
            onChange(written ? { ...whole, written } : whole);
          }}
        />
      ) : null}
      {drawing.footprints ? <FootprintsSaid footprints={drawing.footprints} unit={unit} /> : null}
      {tickedAs ? (
        <Box color="pine" mb="4px">
          Ticked as for {tickedAs.name}, whose layers are the same.
        </Box>
      ) : null}
      {mixed.length ? (
        <Box color="brass" mb="4px">
          {mixed.length === 1 ? `${mixed[0]} is the code` : `${mixed.join(', ')} are codes`} of rows that are taken as
          different things; a surface takes all of a code as one. Give them codes of their own.
        </Box>
      ) : null}
      {drawing.problems.slice(0, 5).map((p) => (
        <Box key={p} color="brass" mb="4px">
          {p}
        </Box>
      ))}
      <Box maxHeight="264px" overflow="auto" border="1px solid" borderColor="rule" borderRadius="4px" tabIndex={0}>
        <SmallTable
          label="layers of the drawing by kind"
          rows={shown}
          rowKey={keyOfTaken}
          rowStyle={(r) => (r.read ? {} : { color: 'slate' })}
          most={SHOWN}
          atOnce={AT_ONCE}
          cellStyle={{ whiteSpace: 'nowrap', px: '5px', fontSize: '13px' }}
          columns={columnsFor(unit, lengths, taken, codes, (r, on) => take([r], on), set, show)}
        />
      </Box>
      <datalist id={CODES}>
        {codes.map((c) => (
          <option key={c.code} value={c.code} />
        ))}
      </datalist>
      {drawing.empty ? <EmptyLayersSaid {...drawing.empty} /> : null}
      {drawing.more ? <Aside>{drawing.more} more are not listed and not imported</Aside> : null}
    </Box>
  );
}

const CODES = 'codes-of-the-project';

function columnsFor(
  unit: string,
  lengths: LengthUnit,
  taken: ReadonlyMap<string, TakenRow>,
  codes: readonly ListedCode[],
  tick: (row: Row, on: boolean) => void,
  set: (of: TakenRow, to: Partial<TakenRow>) => void,
  show?: (extent: Extent) => void,
): SmallColumn<Row>[] {
  const known = new Set(codes.map((c) => c.code.toUpperCase()));
  return [
    {
      id: 'layer',
      head: 'layer',
      by: (r) => r.layer,
      cell: (r) =>
        canBeTaken(r) ? (
          <Tick
            label={r.layer}
            name={isPart(r) ? calledOf(r) : undefined}
            cut
            on={taken.has(keyOfTaken(r))}
            set={(on) => tick(r, on)}
          />
        ) : (
          <Cut display="block" maxWidth="220px" pl="19px" fontSize="13px">
            {r.layer}
          </Cut>
        ),
    },
    { id: 'kind', head: 'kind', words: true, by: (r) => `${nameOf(r.kind)}${partOf(r)}`, title: 'as the drawing has it', cell: kindOf }, // prettier-ignore
    { id: 'as', head: 'as', words: true, cell: (r) => <As row={r} of={taken.get(keyOfTaken(r))} set={set} /> },
    { id: 'code', head: 'code', words: true, cell: (r) => <CodeOf row={r} of={taken.get(keyOfTaken(r))} known={known} set={set} /> }, // prettier-ignore
    { id: 'elevations', head: `elevations [${unit}]`, mono: true, by: (r) => r.lowest ?? undefined, cell: (r) => <Elevations row={r} of={taken.get(keyOfTaken(r))} lengths={lengths} set={set} /> }, // prettier-ignore
    { id: 'extents', head: `extents [${unit}]`, title: 'east–west × north–south; shows the row on the drawing', mono: true, by: (r) => (r.box ? Math.max(r.box[2] - r.box[0], r.box[3] - r.box[1]) : undefined), cell: (r) => (r.box ? <Extents called={calledOf(r)} extent={r.box} show={show} /> : null) }, // prettier-ignore
    { id: 'note', head: 'to look at', words: true, by: (r) => r.far + (r.hidden ? 1 : 0) || undefined, cell: noteOf }, // prettier-ignore
  ];
}

/** How many of which kind; of symbols, of which block, of anything else in which colour where there are several. */
const kindOf = (r: Row) => (
  <Cut display="block" maxWidth="170px" title={`${r.kind}${partOf(r)}`}>
    {`${counted(r)}${partOf(r)}`}
  </Cut>
);

interface CellProps {
  row: Row;
  of: TakenRow | undefined;
  set: (of: TakenRow, to: Partial<TakenRow>) => void;
}

function As({ row, of, set }: CellProps) {
  if (!row.read) return <>is not read</>;
  if (!canBeTaken(row)) return <>surface, as it is</>;
  if (!of) return null;
  return (
    <Pick
      aria-label={`${calledOf(row)}: as`}
      title={KINDS[row.kind]?.[1]}
      value={of.as}
      width="94px"
      height="22px"
      px="2px"
      onChange={(e) => set(of, { as: e.target.value as TakenAs })}
    >
      {choicesFor(row.kind).map((as) => (
        <option key={as} value={as}>
          {as}
        </option>
      ))}
    </Pick>
  );
}

/** The code that a row is given; empty, as its layer or its block is called. One that the list does not know is told by its colour and its hint. */
function CodeOf({ row, of, known, set }: CellProps & { known: ReadonlySet<string> }) {
  if (!of || of.as === 'underlay') return null;
  const { code: _, ...unnamed } = of;
  const own = codeOfTaken(unnamed);
  const given = codeOfTaken(of);
  const ownCode = row.kind === 'INSERT' ? 'the name of each block' : 'what each point says itself';
  const isKnown = given !== null && known.has(given.toUpperCase());
  return (
    <Field
      key={of.code ?? ''}
      aria-label={`${calledOf(row)}: code`}
      title={given === null ? ownCode : isKnown ? given : `${given} is not in the code list`}
      list={CODES}
      width="76px"
      height="22px"
      px="4px"
      fontFamily="mono"
      fontSize="12px"
      maxLength={16}
      color={given === null || isKnown ? 'ink' : 'brass'}
      placeholder={own ?? (row.kind === 'INSERT' ? 'its block' : 'its own')}
      defaultValue={of.code ?? ''}
      onKeyDown={(e) => {
        e.stopPropagation();
        if (e.key === 'Enter') e.currentTarget.blur();
      }}
      onBlur={(e) => {
        const code = e.target.value.trim();
        if (code === (of.code ?? '')) return;
        set(unnamed, code ? { code: codeOfTaken({ ...of, code })! } : {});
      }}
    />
  );
}

/** What the row says; of contours that are drawn in plan a field to type it in. */
function Elevations({ row, of, lengths, set }: CellProps & { lengths: LengthUnit }) {
  if (of?.as !== 'contours' || row.flat === 0) return <>{elevations(row)}</>;
  const { elevation, ...without } = of;
  return (
    <TypedLength
      key={elevation ?? ''}
      label={`${calledOf(row)}: elevation`}
      value={elevation}
      unit={lengths}
      least={-HIGHEST}
      most={HIGHEST}
      optional
      title={`the elevation of all lines of this row that have none, ${UNIT_SIGN[lengths]}`}
      must="This is no elevation."
      set={(metres) => set(without, metres === undefined ? {} : { elevation: metres })}
      field={{
        width: '104px',
        height: '22px',
        px: '4px',
        fontSize: '12px',
        placeholder: `elevation ${UNIT_SIGN[lengths]}`,
      }}
    />
  );
}

/** m */
const HIGHEST = 12_000;

/** From here on two decimals say nothing of an elevation: the drawing is in millimetres, or it is none. */
const LARGE = 10_000;

/** From the lowest to the highest, or the one that all have; to the centimetre, since it is to be recognised. */
function elevations({ lowest, highest }: Row): string {
  if (lowest === null || highest === null) return '';
  const decimals = Math.max(Math.abs(lowest), Math.abs(highest)) < LARGE ? 2 : 0;
  return lowest === highest ? lowest.toFixed(decimals) : `${lowest.toFixed(decimals)} to ${highest.toFixed(decimals)}`;
}

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
