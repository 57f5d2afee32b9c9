import { Box, chakra, Flex, Grid } from '@chakra-ui/react';
import { useState } from 'react';
import type { ProjectDocument, SurfaceRecipe, SurfaceRow } from '#core/project';
import { effectText, rowText } from '#core/report';
import type { Summary } from '#contract';
import { PointRuleFields } from '../../cards/point-rule.tsx';
import { formatLength, readLength, UNIT_SIGN } from '#core/measure';
import { Act, Cut, Field, Leaf, Line, Num } from '../../frame/controls.tsx';
import { Changing, InPlace } from '../../project-state/changing.tsx';
import { useParts } from '../../project-state/store.ts';
import { AddRow, freshId } from './add-row.tsx';
import { EditByHand } from './by-hand.tsx';
import { useRowEffect } from './row-effect.ts';

/** So many rows are listed at once. */
const PAGE = 60;

interface RecipeShape {
  doc: ProjectDocument;
  recipe: SurfaceRecipe;
  account: Summary['surfaces'][number]['account'] | undefined;
}

/** The rows of a recipe in their order: each can be switched off or moved, says what it did, and shows it on the drawing. */
export function Recipe({ doc, recipe, account }: RecipeShape) {
  const { tables } = useParts('tables');
  const [most, setMost] = useState(PAGE);
  const [standing, setStanding] = useState<string | null>(null);
  useRowEffect(doc, tables, account, recipe.rows.find((r) => r.id === standing), recipe.id); // prettier-ignore
  return (
    <Leaf head={`Recipe of “${recipe.name}”`} pb="10px">
      <InPlace>
        <chakra.ul m="0" p="0" listStyleType="none" aria-label={`recipe of ${recipe.name}`}>
          {recipe.rows.slice(0, most).map((row, at) => (
            <RecipeRow
              key={row.id}
              doc={doc}
              recipe={recipe}
              row={row}
              at={at}
              effect={account?.rows[row.id]}
              standing={standing === row.id}
              onStand={() => setStanding(standing === row.id ? null : row.id)}
            />
          ))}
        </chakra.ul>
      </InPlace>
      {recipe.rows.length > most ? (
        <Act look="quiet" onClick={() => setMost(most + PAGE)}>
          {recipe.rows.length - most} more rows
        </Act>
      ) : null}
      {recipe.rows.length === 0 ? <Line color="slate">no rows yet: add what the surface is made from</Line> : null}
      <Changing>
        <Flex gap="6px" px="12px" pt="6px" wrap="wrap" align="center">
          <AddRow doc={doc} recipe={recipe} onAdded={setStanding} />
          <DrawRings recipe={recipe} />
          <EditByHand key={recipe.id} doc={doc} recipe={recipe} />
        </Flex>
      </Changing>
    </Leaf>
  );
}

interface RowShape {
  doc: ProjectDocument;
  recipe: SurfaceRecipe;
  row: SurfaceRow;
  at: number;
  effect: number | null | undefined;
  standing: boolean;
  onStand: () => void;
}

function RecipeRow({ doc, recipe, row, at, effect, standing, onStand }: RowShape) {
  const { make, busy } = useParts('make', 'busy');
  const text = rowText(doc, row);
  const set = (to: SurfaceRow, place?: number): void =>
    void make({ op: 'surface.row', surface: recipe.id, row: to, at: place });
  return (
    <chakra.li bg={standing ? 'mark' : undefined}>
      <Line>
        <Flex gap="8px" align="center" minWidth="0" color={row.on ? undefined : 'slate'}>
          <input
            type="checkbox"
            aria-label={`use ${text}`}
            checked={row.on}
            disabled={busy}
            onChange={(e) => set({ ...row, on: e.target.checked })}
          />
          <chakra.button
            type="button"
            aria-expanded={standing}
            title="Show on the drawing what this row does"
            bg="transparent"
            border="0"
            p="0"
            minWidth="0"
            display="flex"
            textAlign="left"
            cursor="pointer"
            color="inherit"
            onClick={onStand}
          >
            <Cut>{text}</Cut>
          </chakra.button>
        </Flex>
        <Flex gap="4px" align="center" flexShrink="0">
          <Num>{effectText(row, effect, doc.settings)}</Num>
          <Changing>
            {standing ? (
              <>
                <Act
                  look="quiet"
                  aria-label={`move up: ${text}`}
                  disabled={busy || at === 0}
                  onClick={() => set(row, at - 1)}
                >
                  ↑
                </Act>
                <Act
                  look="quiet"
                  aria-label={`move down: ${text}`}
                  disabled={busy || at === recipe.rows.length - 1}
                  onClick={() => set(row, at + 1)}
                >
                  ↓
                </Act>
              </>
            ) : null}
            <Act
              look="quiet"
              aria-label={`delete ${text}`}
              disabled={busy}
              onClick={() => void make({ op: 'surface.rowRemove', surface: recipe.id, id: row.id })}
            >
              Delete
            </Act>
          </Changing>
        </Flex>
      </Line>
      {standing && 'rule' in row ? (
        <Grid templateColumns="auto 1fr" gap="5px 10px" p="2px 12px 10px 34px">
          <PointRuleFields
            of={
              row.kind === 'points'
                ? 'the points by rule'
                : row.kind === 'checks'
                  ? 'the check shots'
                  : 'the points excluded'
            }
            rule={row.rule}
            disabled={busy}
            onChange={(rule) => set({ ...row, rule })}
          />
          {row.kind === 'checks' ? <WantedWithin row={row} disabled={busy} onChange={set} /> : null}
        </Grid>
      ) : null}
    </chakra.li>
  );
}

type ChecksRow = Extract<SurfaceRow, { kind: 'checks' }>;

/** Within how much of the surface 95 % of the check shots are wanted; empty for no class. */
function WantedWithin({
  row,
  disabled,
  onChange,
}: {
  row: ChecksRow;
  disabled: boolean;
  onChange: (row: ChecksRow) => void;
}) {
  // prettier-ignore
  const { state, tell } = useParts('state', 'tell');
  const { unit } = state!.document.settings;
  const now = row.within === null ? '' : formatLength(row.within, unit).replaceAll('\u2009', '');
  const name = `95 % wanted within ${UNIT_SIGN[unit]}`;
  return (
    <>
      <span>{name}</span>
      <Field
        key={now}
        numeric
        width="110px"
        aria-label={name}
        disabled={disabled}
        defaultValue={now}
        placeholder="no class"
        onBlur={(e) => {
          const typed = e.target.value.trim();
          if (typed === now) return;
          const read = typed === '' ? null : readLength(typed, unit);
          if (read && (!read.ok || read.metres < 0.001))
            tell(read.ok ? 'That is less than a millimetre.' : read.reason);
          else onChange({ ...row, within: read?.ok ? read.metres : null });
        }}
        onKeyDown={(e) => {
          e.stopPropagation();
          if (e.key === 'Enter') e.currentTarget.blur();
        }}
      />
    </>
  );
}

/** Boundaries, voids and islands: drawn corner by corner, or taken from the closed line that is selected. */
function DrawRings({ recipe }: { recipe: SurfaceRecipe }) {
  const { make, busy, trace, traced, selection, tables } = useParts('make', 'busy', 'trace', 'traced', 'selection', 'tables'); // prettier-ignore
  const has = (kind: SurfaceRow['kind']): boolean => recipe.rows.some((r) => r.kind === kind);
  const line = selection?.kind === 'line' ? tables?.linework.lines.find((l) => l.key === selection.key) : undefined;
  const add = (kind: 'void' | 'island', ring: number[]): void =>
    void make({ op: 'surface.row', surface: recipe.id, row: { id: freshId(), on: true, kind, ring } });
  const setBoundary = (ring: number[]): void => void make({ op: 'boundary.set', ring, surface: recipe.id });
  const draw = (what: string, finish: (ring: number[]) => void): void =>
    trace({ purpose: `${what} “${recipe.name}”`, places: [], finish });
  const disabled = traced !== null || busy;
  return (
    <>
      <Act disabled={disabled} onClick={() => draw('the boundary of', setBoundary)}>
        {has('boundary') ? 'Draw the boundary again' : 'Draw a boundary'}
      </Act>
      <Act disabled={disabled} onClick={() => draw('a void in', (ring) => add('void', ring))}>
        Draw a void
      </Act>
      {has('void') ? (
        <Act disabled={disabled} onClick={() => draw('an island in', (ring) => add('island', ring))}>
          Draw an island
        </Act>
      ) : null}
      {line?.closed && line.x.length > 2 ? (
        <Box display="inline-flex" gap="6px">
          <Act disabled={busy} onClick={() => setBoundary(line.x.flatMap((x, i) => [x, line.y[i]]))}>
            Boundary along {line.key}
          </Act>
          <Act
            disabled={busy}
            onClick={() =>
              add(
                'void',
                line.x.flatMap((x, i) => [x, line.y[i]]),
              )
            }
          >
            Void along {line.key}
          </Act>
        </Box>
      ) : null}
    </>
  );
}
