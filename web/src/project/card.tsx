import { Box, chakra, Flex } from '@chakra-ui/react';
import { useMemo, useState, type FormEvent, type ReactNode } from 'react';
import { CONTROL, STATE } from '#core/chain';
import { formatLength, fromMetres, UNIT_SIGN } from '#core/measure';
import { Act, Aside, Cut, Field, Key, Num } from '../frame/controls.tsx';
import { sheetHandle } from '../sheet/sheet.tsx';
import { editOf, keyOf, type Editable } from './edit.ts';
import { formatVolume } from '../stages/quantities/format.ts';
import { useProject, type PendingChange } from './store.ts';
import type { Tables } from './tables.ts';

const Panel = chakra('aside', {
  base: {
    position: 'absolute',
    top: '12px',
    width: '272px',
    maxHeight: 'calc(100% - 24px)',
    overflow: 'auto',
    bg: 'leaf',
    border: '1px solid',
    borderColor: 'ink',
    borderRadius: '4px',
    zIndex: 5,
  },
});
const Section = chakra('div', { base: { px: '13px', py: '9px', borderTop: '1px solid', borderColor: 'rule' } });
const Row = ({ name, children }: { name: ReactNode; children: ReactNode }) => (
  <Flex justify="space-between" align="center" gap="10px" minHeight="24px">
    <Aside flexShrink="0">{name}</Aside>
    {children}
  </Flex>
);

/** The selected thing: its values, what it is made of, what hangs on it, what can be done with it. */
export function Card({ left }: { left: boolean }) {
  const { selection, tables, state, pending } = useProject();
  if (!tables || !state) return null;
  const side = left ? { left: '12px', top: '52px' } : { right: '12px' };
  if (pending) return <PreviewCard pending={pending} side={side} />;
  if (selection?.kind === 'point' && selection.row < tables.points.x.length)
    return <PointCard key={keyOf(state.document, tables, selection.row)} row={selection.row} side={side} />;
  if (selection?.kind === 'line') return <LineCard name={selection.key} side={side} />;
  return null;
}

type Side = { left?: string; right?: string; top?: string };

function CardHead({ title, side, onClose }: { title: string; side?: string; onClose: () => void }) {
  return (
    <Flex align="center" gap="8px" px="13px" height="40px">
      <Cut fontWeight="700" fontSize="15px" flex="1">
        {title}
      </Cut>
      {side ? (
        <Cut color="slate" maxWidth="110px">
          {side}
        </Cut>
      ) : null}
      <Act look="quiet" aria-label="close the card" onClick={onClose}>
        ×
      </Act>
    </Flex>
  );
}

function PointCard({ row, side }: { row: number; side: Side }) {
  const { state, tables, select, make, busy } = useProject() as {
    state: NonNullable<ReturnType<typeof useProject.getState>['state']>;
    tables: Tables;
  } & ReturnType<typeof useProject.getState>;
  const doc = state.document;
  const { points } = tables;
  const intake = doc.intakes[points.intake[row]];
  const key = keyOf(doc, tables, row);
  const edit = doc.edits[key];
  const { unit, decimals } = doc.settings;
  const lines = useMemo(() => tables.linework.lines.filter((l) => l.rows.includes(row)), [tables, row]);
  const triangles = useMemo(() => trianglesAt(tables, row), [tables, row]);
  const value = (metres: number): string => (Number.isNaN(metres) ? '' : fromMetres(metres, unit).toFixed(decimals));
  const canEdit = state.project.role === 'owner' || state.project.role === 'surveyor';
  const places: [Editable, string][] = [
    ['x', 'east'],
    ['y', 'north'],
  ];
  if (doc.settings.order === 'NE') places.reverse();
  const standing =
    points.state[row] === STATE.waits
      ? 'waits for a decision'
      : points.state[row] === STATE.off
        ? 'left out by a person'
        : points.state[row] === STATE.leftOut
          ? 'left out: its number exists already'
          : null;
  return (
    <Panel style={side} aria-label="selected point">
      <CardHead
        title={`${intake.target === CONTROL ? 'Control' : 'Point'} ${points.number.get(row) || `in row ${points.fileRow[row]}`}`}
        side={points.description.get(row)}
        onClose={() => select(null)}
      />
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
            canEdit={canEdit}
            numeric
          />
        ))}
        <EditRow
          row={row}
          field="z"
          name={`elevation ${UNIT_SIGN[unit]}`}
          value={value(points.z[row])}
          canEdit={canEdit}
          numeric
        />
        {standing ? (
          <Box color="brass" fontSize="13px" mt="4px">
            {standing}
          </Box>
        ) : null}
      </Section>
      <Section>
        <Aside>made of</Aside>
        <Box>
          row {points.fileRow[row]} of {intake.fileName}
        </Box>
        {edit ? (
          <Box color="brass">
            changed by hand:{' '}
            {Object.keys(edit)
              .map((f) => FIELD[f])
              .join(', ')}
          </Box>
        ) : null}
      </Section>
      <Section>
        <Aside>what hangs on it</Aside>
        <Box>
          {lines.map((l) => (
            <Act key={l.key} look="quiet" onClick={() => select({ kind: 'line', key: l.key })}>
              line {l.key}
            </Act>
          ))}
          {triangles} {triangles === 1 ? 'triangle' : 'triangles'}
          {lines.length === 0 && triangles === 0 ? '; nothing else' : ''}
        </Box>
      </Section>
      {canEdit ? (
        <Section display="flex" gap="8px" flexWrap="wrap">
          <Act
            disabled={busy}
            onClick={() =>
              void make({
                op: 'points.edit',
                edits: { [key]: edit?.off ? { set: {}, undo: ['off'] } : { set: { off: true }, undo: [] } },
              })
            }
          >
            {edit?.off ? 'Take it back in' : 'Leave it out'}
          </Act>
          {edit ? (
            <Act
              disabled={busy}
              onClick={() =>
                void make({ op: 'points.edit', edits: { [key]: { set: {}, undo: Object.keys(edit) as Editable[] } } })
              }
            >
              As received
            </Act>
          ) : null}
          <Act look="quiet" onClick={() => sheetHandle.current?.show(points.x[row], points.y[row])}>
            Show it
          </Act>
        </Section>
      ) : null}
    </Panel>
  );
}

const FIELD: Record<string, string> = {
  number: 'number',
  description: 'code',
  x: 'east',
  y: 'north',
  z: 'elevation',
  off: 'use',
};

function EditRow({
  row,
  field,
  name,
  value,
  canEdit,
  numeric = false,
}: {
  row: number;
  field: Editable;
  name: string;
  value: string;
  canEdit: boolean;
  numeric?: boolean;
}) {
  const [typed, setTyped] = useState<string | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const submit = (event?: FormEvent): void => {
    event?.preventDefault();
    if (typed === null) return;
    const { state, tables, propose } = useProject.getState();
    if (!state || !tables) return;
    const edit = editOf(state.document, tables, row, field, typed);
    if (edit && 'problem' in edit) return setProblem(edit.problem);
    setTyped(null);
    setProblem(null);
    if (edit) void propose(edit.label, edit.change);
  };
  return (
    <>
      <Row name={name}>
        {canEdit ? (
          <form onSubmit={submit}>
            <Field
              numeric={numeric ? true : undefined}
              fontFamily="mono"
              textAlign="right"
              width="150px"
              borderColor={typed === null ? 'transparent' : 'pine'}
              bg={typed === null ? 'transparent' : 'leaf'}
              aria-label={name}
              aria-invalid={problem !== null}
              value={typed ?? value}
              placeholder="none"
              onFocus={() => setTyped(value)}
              onChange={(e) => setTyped(e.target.value)}
              onBlur={() => submit()}
              onKeyDown={(e) => {
                e.stopPropagation();
                if (e.key === 'Escape') {
                  setTyped(null);
                  setProblem(null);
                  e.currentTarget.blur();
                }
              }}
            />
          </form>
        ) : (
          <Num>{value || 'none'}</Num>
        )}
      </Row>
      {problem ? (
        <Box role="alert" color="pole" fontSize="12px">
          {problem}
        </Box>
      ) : null}
    </>
  );
}

function trianglesAt(tables: Tables, row: number): number {
  let count = 0;
  for (const s of tables.surfaces.values()) {
    const v = s.point.indexOf(row);
    if (v < 0) continue;
    for (const w of s.triangles) if (w === v) count++;
  }
  return count;
}

function LineCard({ name, side }: { name: string; side: Side }) {
  const { state, tables, select, make, busy } = useProject();
  const line = tables?.linework.lines.find((l) => l.key === name);
  if (!state || !tables || !line) return null;
  const doc = state.document;
  const code = doc.codeList.codes.find((c) => c.code.toUpperCase() === line.code);
  const out = doc.linesOutOfGround.includes(name);
  const { points } = tables;
  let plan = 0;
  for (let i = 1; i < line.rows.length; i++)
    plan += Math.hypot(
      points.x[line.rows[i]] - points.x[line.rows[i - 1]],
      points.y[line.rows[i]] - points.y[line.rows[i - 1]],
    );
  const arcs = line.bulges.filter((b) => b !== 0).length;
  return (
    <Panel style={side} aria-label="selected line">
      <CardHead title={`Line ${name}`} side={code?.name ?? 'unknown code'} onClose={() => select(null)} />
      <Section>
        <Row name={`length along chords ${UNIT_SIGN[doc.settings.unit]}`}>
          <Num>{formatLength(plan, doc.settings.unit, 2)}</Num>
        </Row>
        <Row name="points">
          <Num>{line.rows.length}</Num>
        </Row>
        <Row name="sides that are arcs">
          <Num>{arcs}</Num>
        </Row>
        <Row name="closed">
          <span>{line.closed ? 'yes' : 'no'}</span>
        </Row>
        <Row name="layer">
          <span>{code?.layer ?? 'UNKNOWN'}</span>
        </Row>
        <Row name="in the ground">
          <span>
            {!code?.breakline ? 'no, its code is none of a breakline' : out ? 'no, taken out' : 'as breakline'}
          </span>
        </Row>
      </Section>
      <Section>
        <Aside>made of</Aside>
        <Flex wrap="wrap" maxHeight="150px" overflow="auto">
          {line.rows.map((row) => (
            <Act
              key={row}
              look="quiet"
              fontFamily="mono"
              onClick={() => select({ kind: 'point', row })}
              title={points.description.get(row)}
            >
              {points.number.get(row) || `row ${points.fileRow[row]}`}
            </Act>
          ))}
        </Flex>
      </Section>
      {code?.breakline ? (
        <Section>
          <Act disabled={busy} onClick={() => void make({ op: 'line.ground', key: name, used: out })}>
            {out ? 'Put it into the ground' : 'Take it out of the ground'}
          </Act>
        </Section>
      ) : null}
    </Panel>
  );
}

/** What a change would do, before it is done. */
function PreviewCard({ pending, side }: { pending: PendingChange; side: Side }) {
  const { state, accept, cancel, busy } = useProject();
  const p = pending.preview;
  const settings = state!.document.settings;
  const { unit, volumeUnit } = settings;
  const sign = UNIT_SIGN[unit];
  const names = new Map(state!.document.comparisons.map((c) => [c.id, c.name]));
  const changed =
    p?.comparisons.filter(
      (c) =>
        c.before &&
        c.after &&
        (Math.abs(c.before.cut - c.after.cut) > 0.005 || Math.abs(c.before.fill - c.after.fill) > 0.005),
    ) ?? [];
  return (
    <Panel style={side} borderColor="pine" aria-label="preview of a change" aria-live="polite">
      <CardHead title={pending.label} onClose={cancel} />
      <Section>
        <Aside>what it would do</Aside>
        {pending.problem ? (
          <Box>{pending.problem}</Box>
        ) : !p ? (
          <Box color="slate">computing …</Box>
        ) : (
          <>
            <Row name="points changed">
              <Num>{p.pointsChanged}</Num>
            </Row>
            {p.pointsMoved ? (
              <Row name={`largest move ${sign}`}>
                <Num>{formatLength(p.largestMove, unit)}</Num>
              </Row>
            ) : null}
            <Row name="lines changed">
              <Num>{p.linesChanged}</Num>
            </Row>
            <Row name="triangles">
              <Num>{p.triangles[0] === p.triangles[1] ? p.triangles[0] : `${p.triangles[0]} → ${p.triangles[1]}`}</Num>
            </Row>
            <Row name={`ground, up to ${sign}`}>
              <Num>{p.largestHeight < 0.0005 ? 'as it was' : `± ${formatLength(p.largestHeight, unit)}`}</Num>
            </Row>
            {changed.map((c) => (
              <Box key={c.id} mt="4px">
                <Cut display="block" fontSize="13px">
                  {names.get(c.id) ?? c.id}
                </Cut>
                <Row name="cut">
                  <Num fontSize="12px">
                    {formatVolume(c.before!.cut, volumeUnit)} → {formatVolume(c.after!.cut, volumeUnit)}
                  </Num>
                </Row>
                <Row name="fill">
                  <Num fontSize="12px">
                    {formatVolume(c.before!.fill, volumeUnit)} → {formatVolume(c.after!.fill, volumeUnit)}
                  </Num>
                </Row>
              </Box>
            ))}
            <Row name="queries">
              <span>
                {p.queriesGone.length} settled{p.queriesNew.length ? `, ${p.queriesNew.length} new` : ''}
              </span>
            </Row>
          </>
        )}
      </Section>
      <Section display="flex" gap="8px">
        <Act look="solid" disabled={busy} onClick={() => void accept()}>
          Do it <Key>Enter</Key>
        </Act>
        <Act onClick={cancel}>
          Leave it <Key>Esc</Key>
        </Act>
      </Section>
    </Panel>
  );
}
