import { Box, chakra } from '@chakra-ui/react';
import { useState, type FormEvent, type ReactNode } from 'react';
import { CONTROL, type Settings } from '#core/chain';
import { formatLength, fromMetres, LENGTH_UNITS, readLength, UNIT_NAME, UNIT_SIGN } from '#core/measure';
import { Aside, Field, Leaf, Line, Num, Pick } from '../../frame/controls.tsx';
import { Grid, type Column } from '../../frame/grid.tsx';
import { useProject } from '../../project/store.ts';
import { sheetHandle } from '../../sheet/sheet.tsx';
import { Ledger } from '../ledger.tsx';

const Sentence = chakra('div', {
  base: {
    px: '12px',
    py: '4px',
    display: 'flex',
    alignItems: 'center',
    gap: '7px',
    flexWrap: 'wrap',
    minHeight: '32px',
  },
});

/** What the project's numbers mean, in sentences that are changed in place, and the control. */
export function Basis() {
  const { state, tables, make, select, selection } = useProject();
  if (!state || !tables)
    return (
      <Ledger name="Basis" about="opening …">
        {null}
      </Ledger>
    );
  const doc = state.document;
  const s = doc.settings;
  const set = (settings: Partial<Settings>): void => void make({ op: 'settings.set', settings });
  const sign = UNIT_SIGN[s.unit];
  const { points } = tables;
  const rows: number[] = [];
  for (let row = 0; row < points.x.length; row++)
    if (doc.intakes[points.intake[row]]?.target === CONTROL) rows.push(row);
  const place =
    (values: Float64Array) =>
    (row: number): string =>
      formatLength(values[row], s.unit, s.decimals);
  const columns: Column[] = [
    { id: 'number', head: 'Control', width: '92px', text: (r) => points.number.get(r) },
    { id: 'x', head: `East ${sign}`, width: '1fr', numeric: true, text: place(points.x) },
    { id: 'y', head: `North ${sign}`, width: '1fr', numeric: true, text: place(points.y) },
    { id: 'z', head: `Elev ${sign}`, width: '96px', numeric: true, text: place(points.z) },
    {
      id: 'from',
      head: 'From',
      width: 'minmax(90px, 1fr)',
      words: true,
      text: (r) => doc.intakes[points.intake[r]].fileName,
    },
  ];
  return (
    <Ledger name="Basis" about="what the numbers mean">
      <Leaf head="Units and display" mb="10px" pb="6px">
        <Sentence>
          Lengths are shown in
          <Pick aria-label="unit" value={s.unit} onChange={(e) => set({ unit: e.target.value as Settings['unit'] })}>
            {LENGTH_UNITS.map((u) => (
              <option key={u} value={u}>
                {UNIT_NAME[u]}
              </option>
            ))}
          </Pick>
          with
          <Pick aria-label="decimals" value={s.decimals} onChange={(e) => set({ decimals: Number(e.target.value) })}>
            {[1, 2, 3, 4].map((d) => (
              <option key={d}>{d}</option>
            ))}
          </Pick>
          decimals,
          <Pick
            aria-label="coordinate order"
            value={s.order}
            onChange={(e) => set({ order: e.target.value as Settings['order'] })}
          >
            <option value="EN">east before north</option>
            <option value="NE">north before east</option>
          </Pick>
        </Sentence>
        <Sentence>
          Volumes are shown in
          <Pick
            aria-label="volume unit"
            value={s.volumeUnit}
            onChange={(e) => set({ volumeUnit: e.target.value as Settings['volumeUnit'] })}
          >
            <option value="m3">cubic metres</option>
            <option value="yd3">cubic yards</option>
          </Pick>
        </Sentence>
        <Sentence color="slate">
          Coordinates are local ground at scale 1. Changing the display alters no data; what is stored is metres.
        </Sentence>
      </Leaf>
      <Leaf head="Tolerances" mb="10px" pb="6px">
        <Length
          name="Points nearer to each other in plan than"
          after="are one point in a surface"
          metres={s.coincidence}
          onSet={(coincidence) => set({ coincidence })}
          min={0}
          max={10}
        />
        <Length
          name="A point that stands off its neighbours by more than"
          after="is asked about"
          metres={s.spike}
          onSet={(spike) => set({ spike })}
          min={0.001}
          max={1e4}
        />
        <Length
          name="Chords of arcs stand off the arc by at most"
          after="in the ground"
          metres={s.sagitta}
          onSet={(sagitta) => set({ sagitta })}
          min={0.001}
          max={10}
        />
      </Leaf>
      <Leaf head="Control">
        {rows.length ? (
          <Box height={`${34 + rows.length * 28 + 6}px`} maxHeight="300px">
            <Grid
              label="control"
              columns={columns}
              order={Uint32Array.from(rows)}
              count={rows.length}
              selected={selection?.kind === 'point' ? selection.row : null}
              onSelect={(row) => {
                select({ kind: 'point', row });
                sheetHandle.current?.show(points.x[row], points.y[row]);
              }}
            />
          </Box>
        ) : (
          <Line color="slate">
            No control yet. Drop its file and choose “control” when it is taken in: it tells which way round the crews’
            coordinates stand.
          </Line>
        )}
      </Leaf>
    </Ledger>
  );
}

/** A length within a sentence, read as people type it and echoed. */
export function Length({
  name,
  after,
  metres,
  onSet,
  min,
  max,
}: {
  name: ReactNode;
  after?: ReactNode;
  metres: number;
  onSet: (metres: number) => void;
  min: number;
  max: number;
}) {
  const unit = useProject((p) => p.state?.document.settings.unit ?? 'm');
  const [typed, setTyped] = useState<string | null>(null);
  const shown = String(Number(fromMetres(metres, unit).toFixed(4)));
  const read = typed === null ? null : readLength(typed, unit);
  const fits = read?.ok && read.metres >= min && read.metres <= max;
  const submit = (event?: FormEvent): void => {
    event?.preventDefault();
    if (read?.ok && fits && Math.abs(read.metres - metres) > 1e-9) onSet(read.metres);
    if (read === null || fits) setTyped(null);
  };
  return (
    <Sentence>
      {name}
      <form onSubmit={submit}>
        <Field
          numeric
          width="74px"
          aria-label={typeof name === 'string' ? name : 'length'}
          aria-invalid={read !== null && !fits}
          value={typed ?? shown}
          onChange={(e) => setTyped(e.target.value)}
          onBlur={() => submit()}
          onKeyDown={(e) => e.key === 'Escape' && setTyped(null)}
        />
      </form>
      <span>
        {UNIT_SIGN[unit]} {after}
      </span>
      {typed !== null ? (
        <Aside role="status">
          {!read?.ok ? (
            (read?.reason ?? '')
          ) : fits ? (
            <Num>= {read.echo}</Num>
          ) : (
            `between ${formatLength(min, unit)} and ${formatLength(max, unit)} ${UNIT_SIGN[unit]}`
          )}
        </Aside>
      ) : null}
    </Sentence>
  );
}

export const SentenceRow = Sentence;
