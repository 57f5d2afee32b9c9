import { Box } from '@chakra-ui/react';
import { isPublished } from '#core/basis';
import { editAt, FIELD_NAME } from '#core/project';
import { STATE } from '#core/stages';
import { distance } from '#core/kernel';
import { bearingTo } from '#core/reduction';
import { formatAngle, formatLength, fromMetres, UNIT_SIGN } from '#core/measure';
import { Act, Aside, Num } from '../frame/controls.tsx';
import { sheetHandle } from '../sheet/handle.ts';
import { useCanChange } from '../project-state/can.ts';
import { asReceived, editOf, keyOf, type Editable } from '../project-state/edit.ts';
import { GnssPart } from './gnss-part.tsx';
import { History, OnEarth, VolumesThrough } from './point-card-parts.tsx';
import { CardHead, Panel, Row, Section, type Side } from './card-frame.tsx';
import { LineCard } from './line-card.tsx';
import { LabelPart, PairPart } from './point-on-paper.tsx';
import { PreviewCard } from './preview-card.tsx';
import { recordValues } from '../work/book-columns.ts';
import { Readings, RecordCard, TurnedBefore } from './record-card.tsx';
import { useParts, useProject } from '../project-state/store.ts';
import type { Tables } from '../project-state/tables.ts';
import { linesThrough, trianglesAt, volumesThrough } from '../project-state/used-by.ts';
import { TypedRow } from './typed-row.tsx';

/** The selected thing: its values, what it is made of, what depends on it, what can be done with it. */
export function Card({ left }: { left: boolean }) {
  const { selection, tables, state, pending } = useParts('selection', 'tables', 'state', 'pending');
  if (!tables || !state) return null;
  const side = left ? { left: '12px', top: '52px' } : { right: '12px' };
  if (pending) return <PreviewCard pending={pending} side={side} />;
  if (selection?.kind === 'point' && selection.row < tables.points.x.length)
    return <PointCard key={keyOf(state.document, tables, selection.row)} row={selection.row} side={side} />;
  if (selection?.kind === 'record')
    return <RecordCard key={`${selection.intake}:${selection.row}`} {...selection} side={side} />;
  if (selection?.kind === 'line') return <LineCard name={selection.key} side={side} />;
  return null;
}

function PointCard({ row, side }: { row: number; side: Side }) {
  const { state, tables, select, propose, busy } = useParts('state', 'tables', 'select', 'propose', 'busy') as {
    state: NonNullable<ReturnType<typeof useProject.getState>['state']>;
    tables: Tables;
  } & ReturnType<typeof useProject.getState>;
  const doc = state.document;
  const { points } = tables;
  const intake = doc.intakes[points.intake[row]];
  const key = keyOf(doc, tables, row);
  const edit = editAt(doc, key);
  const { unit, decimals, elevationDecimals } = doc.settings;
  const lines = linesThrough(tables.linework, row);
  const triangles = [...tables.surfaces.values()].reduce((sum, s) => sum + trianglesAt(s, row), 0);
  // Of one that is drawn in cells there are no pieces to ask.
  const drawnInCells = new Set(tables.summary.comparisons.flatMap((c) => (c.ok && c.cells ? [c.id] : [])));
  const volumes = volumesThrough(tables, doc.comparisons.filter((c) => !drawnInCells.has(c.id)), row); // prettier-ignore
  const value = (metres: number, shown = decimals): string =>
    Number.isNaN(metres) ? '' : fromMetres(metres, unit).toFixed(shown);
  const canEdit = useCanChange();
  const book = tables.books.get(intake.id);
  const recordAt = book ? book.row.indexOf(points.fileRow[row]) : -1;
  const values = book && recordAt >= 0 ? recordValues(book, recordAt, edit) : null;
  const reduced = tables.reduction.pointAt.get(intake.id, points.fileRow[row]);
  const places: [Editable, string][] = [
    ['x', 'east'],
    ['y', 'north'],
  ];
  if (doc.settings.order === 'NE') places.reverse();
  const named = `${intake.purpose === 'control' ? 'Control' : 'Point'} ${points.number.get(row) || `in row ${points.fileRow[row]}`}`;
  const standing =
    points.state[row] === STATE.waits
      ? 'waits for a decision'
      : points.state[row] === STATE.off
        ? 'excluded by hand'
        : points.state[row] === STATE.leftOut
          ? 'excluded: its number exists already'
          : null;
  return (
    <Panel style={side} aria-label="selected point">
      <CardHead title={named} side={points.description.get(row)} onClose={() => select(null)} />
      <Section>
        <EditRow row={row} field="number" name="number" value={points.number.get(row)} canEdit={canEdit} />
        <EditRow row={row} field="description" name="code" value={points.description.get(row)} canEdit={canEdit} />
        {places.map(([field, name]) => (
          <EditRow
            key={field}
            row={row}
            field={field}
            name={`${name} ${UNIT_SIGN[unit]}`}
            value={value(points[field as 'x' | 'y'][row])}
            canEdit={canEdit && !book}
          />
        ))}
        <EditRow
          row={row}
          field="z"
          name={`elevation ${UNIT_SIGN[unit]}`}
          value={value(points.z[row], elevationDecimals)}
          canEdit={canEdit && !book}
        />
        {Number.isNaN(points.sdPlan[row]) ? null : (
          <Row name={`± plan${Number.isNaN(points.sdHeight[row]) ? '' : ', height'} ${UNIT_SIGN[unit]}`}>
            <Num>
              {value(points.sdPlan[row], 3)}
              {Number.isNaN(points.sdHeight[row]) ? '' : ` ${value(points.sdHeight[row], 3)}`}
            </Num>
          </Row>
        )}
        {standing ? (
          <Box color="brass" fontSize="13px" mt="4px">
            {standing}
          </Box>
        ) : null}
      </Section>
      {values ? <Readings recordKey={key} values={values} /> : null}
      {book && recordAt >= 0 ? <GnssPart book={book} at={recordAt} /> : null}
      <PairPart row={row} />
      <Section>
        <Aside display="block">made from</Aside>
        {reduced !== undefined && tables.reduction.setup[reduced] >= 0 ? <ReducedFrom at={reduced} row={row} /> : null}
        <Box>
          row {points.fileRow[row]} of {intake.fileName}
        </Box>
        {intake.placement ? (
          <Box>
            transformed with the whole file
            {intake.placement.pairs.length
              ? ` by ${intake.placement.pairs.filter((p) => p.plan).length} common points`
              : ''}
          </Box>
        ) : null}
        {intake.system && isPublished(intake.system) ? <Box>transformed from {intake.system.name}</Box> : null}
        {intake.given?.by || intake.given?.source ? (
          <Box color="slate">
            {[intake.given.by && `given by ${intake.given.by}`, intake.given.date, intake.given.source]
              .filter(Boolean)
              .join(', ')}
          </Box>
        ) : null}
        {edit ? (
          <Box color="brass">
            changed by hand:{' '}
            {Object.keys(edit)
              .map((f) => FIELD_NAME[f])
              .join(', ')}
          </Box>
        ) : null}
        <History pointKey={key} revision={state.revision} />
      </Section>
      {isPublished(doc.basis.system) ? <OnEarth row={row} /> : null}
      <Section>
        <Aside>used by</Aside>
        <Box>
          {lines.map((l) => (
            <Act key={l.key} look="quiet" onClick={() => select({ kind: 'line', key: l.key })}>
              line {l.key}
            </Act>
          ))}
          {triangles} {triangles === 1 ? 'triangle' : 'triangles'}
          {lines.length === 0 && triangles === 0 ? '; nothing else' : ''}
          <VolumesThrough volumes={volumes} />
        </Box>
      </Section>
      {canEdit ? (
        <Section display="flex" gap="8px" flexWrap="wrap">
          <Act
            disabled={busy}
            onClick={() =>
              void propose(edit?.off ? `${named} used again` : `${named} excluded`, {
                op: 'points.edit',
                edits: { [key]: edit?.off ? { set: {}, undo: ['off'] } : { set: { off: true }, undo: [] } },
              })
            }
          >
            {edit?.off ? 'Use it again' : 'Exclude it'}
          </Act>
          {edit ? (
            <Act disabled={busy} onClick={() => void propose(`${named} as received`, asReceived(doc, key))}>
              As received
            </Act>
          ) : null}
          {values?.kind === 'sighting' ? <TurnedBefore recordKey={key} /> : null}
          <Act look="quiet" onClick={() => sheetHandle.current?.show(points.x[row], points.y[row])}>
            Show it
          </Act>
        </Section>
      ) : null}
      {canEdit ? <LabelPart row={row} pointKey={key} /> : null}
    </Panel>
  );
}

/** Setup, bearing, horizontal distance and rise that gave a point. */
function ReducedFrom({ at, row }: { at: number; row: number }) {
  const { state, tables, select } = useParts('state', 'tables', 'select');
  const { reduction, points } = tables!;
  const s = state!.document.settings;
  const setup = reduction.setups[reduction.setup[at]];
  const { station } = setup;
  const place = { x: points.x[row], y: points.y[row] };
  return (
    <>
      <Act look="quiet" px="0" onClick={() => select({ kind: 'record', intake: setup.book, row: setup.row })}>
        setup at {setup.number}
      </Act>
      {station ? (
        <Num display="block" fontSize="12px" color="slate" title="bearing, horizontal distance on the grid, rise">
          {formatAngle(bearingTo(station, place), s.angle, s.angleDecimals)},{' '}
          {formatLength(distance(place.x - station.x, place.y - station.y), s.unit, 3)},{' '}
          {formatLength(points.z[row] - station.z, s.unit, 3)} {UNIT_SIGN[s.unit]}
        </Num>
      ) : null}
    </>
  );
}

function EditRow({
  row,
  field,
  name,
  value,
  canEdit,
}: {
  row: number;
  field: Editable;
  name: string;
  value: string;
  canEdit: boolean;
}) {
  const take = (typed: string): string | null => {
    const { state, tables, propose } = useProject.getState();
    if (!state || !tables) return null;
    const edit = editOf(state.document, tables, row, field, typed);
    if (edit && 'problem' in edit) return edit.problem;
    if (edit) void propose(edit.label, edit.change);
    return null;
  };
  return <TypedRow name={name} value={value} canEdit={canEdit} width="150px" onTake={take} />;
}
