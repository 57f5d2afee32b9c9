import { Box, chakra, Flex } from '@chakra-ui/react';
import { useState } from 'react';
import type { Settings, SurfaceRecipe } from '#core/project';
import { formatArea, formatLength, UNIT_SIGN } from '#core/measure';
import type { Summary } from '#contract';
import { Aside, Cut, Leaf, Line, Num } from '../../frame/controls.tsx';
import { useParts } from '../../project-state/store.ts';
import { sheetHandle } from '../../sheet/handle.ts';
import { useSurfacesShown } from '../../sheet/surfaces-shown.tsx';
import { Empty, Ledger } from '../../frame/ledger.tsx';
import { Leaves, useLeaf, type LeafName } from '../../frame/leaves.tsx';
import { FitToUse } from './fit-to-use.tsx';
import { Recipe } from './recipe.tsx';
import { SurfaceList } from './surface-list.tsx';
import { Tracing } from './tracing/tracing.tsx';
import { SurfaceSettings } from './surface-settings.tsx';

type GroundLeaf = 'surfaces' | 'fit';
export const GROUND_LEAVES: LeafName<GroundLeaf>[] = [
  { leaf: 'surfaces', name: 'Surfaces' },
  { leaf: 'fit', name: 'Fit to use?' },
];

/** The surfaces of the project, and the story of one: what came in, what was left out and why, and what it measures. */
export function Ground() {
  const leaf = useLeaf('ground', GROUND_LEAVES);
  const { state, tables, select } = useParts('state', 'tables', 'select');
  const view = useSurfacesShown();
  // The surface that is traced into, while somebody does.
  const [tracing, setTracing] = useState<string | null>(null);
  if (!state || !tables || !view)
    return (
      <Ledger name="Ground" about="opening …">
        {null}
      </Ledger>
    );
  const doc = state.document;
  const s = doc.settings;
  const recipe = doc.surfaces.find((one) => one.id === view.current)!;
  // While a new surface is computed there is nothing to say of it yet.
  const built = tables.summary.surfaces.find((g) => g.id === recipe.id);
  const { points } = tables;
  const show = (rows: number[]): void => {
    if (rows.length === 1) select({ kind: 'point', row: rows[0] });
    sheetHandle.current?.fitTo(
      rows.map((r) => points.x[r]),
      rows.map((r) => points.y[r]),
    );
  };
  return (
    <Ledger name="Ground" about="surfaces, each by its recipe">
      <Leaves stage="ground" leaves={GROUND_LEAVES} here={leaf} />
      {leaf === 'fit' ? (
        <FitToUse key={recipe.id} doc={doc} surface={recipe.id} />
      ) : (
        <>
          {tracing === recipe.id ? (
            <Tracing key={recipe.id} doc={doc} recipe={recipe} onDone={() => setTracing(null)} />
          ) : null}
          <SurfaceList doc={doc} summary={tables.summary} onTrace={setTracing} />
          {built ? <Measures built={built} settings={s} /> : <Box color="slate">computing …</Box>}
          <Recipe key={recipe.id} doc={doc} recipe={recipe} account={built?.account} />
          {built ? <LeftOut built={built} recipe={recipe} settings={s} show={show} /> : null}
          <SurfaceSettings doc={doc} recipe={recipe} contourProblem={built?.contourProblem ?? null} />
        </>
      )}
    </Ledger>
  );
}

type Built = Summary['surfaces'][number];

function Measures({ built, settings: s }: { built: Built; settings: Settings }) {
  if (built.triangles === 0)
    return (
      <Empty>
        No surface yet: it needs three points with elevations that are not in line. Points that wait for a decision are
        not used until somebody decides; the queries say which.
      </Empty>
    );
  return (
    <Flex gap="8px" mb="12px">
      {[
        ['plan area', formatArea(built.planArea, s.areaUnit, s.unit)],
        ['slope area', formatArea(built.slopeArea, s.areaUnit, s.unit)],
        [
          `elevation ${UNIT_SIGN[s.unit]}`,
          `${formatLength(built.lowest, s.unit, 2)} – ${formatLength(built.highest, s.unit, 2)}`,
        ],
        ['contours', String(built.contours)],
      ].map(([name, value]) => (
        <Box key={name} flex="1 0 auto" borderTop="1px solid" borderColor="ink" pt="6px">
          <Aside display="block">{name}</Aside>
          <Num whiteSpace="nowrap">{value}</Num>
        </Box>
      ))}
    </Flex>
  );
}

/** What stayed out, and why: each line shows its points on the drawing. */
function LeftOut({
  built,
  recipe,
  settings,
  show,
}: {
  built: Built;
  recipe: SurfaceRecipe;
  settings: Settings;
  show: (rows: number[]) => void;
}) {
  const { account } = built;
  const { unit } = settings;
  const longest = recipe.longestSide ?? settings.longestSide ?? 'none';
  const coincidence = recipe.coincidence ?? settings.coincidence;
  return (
    <Leaf head="Excluded, and why" mt="-1px" pb="4px">
      {account.chordPoints ? (
        <Line>
          <span>
            points added on arcs, chord tolerance {formatLength(settings.sagitta, unit, 3)} {UNIT_SIGN[unit]}
          </span>
          <Num>{account.chordPoints}</Num>
        </Line>
      ) : null}
      {account.leftOut.map((l) => (
        <Line key={l.why}>
          <chakra.button
            type="button"
            bg="transparent"
            border="0"
            p="0"
            cursor="pointer"
            minWidth="0"
            textAlign="left"
            onClick={() => show(l.rows)}
            title="show them"
          >
            <Cut
              display="block"
              textDecoration="underline"
              textDecorationColor="var(--chakra-colors-rule)"
              textUnderlineOffset="3px"
            >
              {l.why}
            </Cut>
          </chakra.button>
          <Num>{l.count}</Num>
        </Line>
      ))}
      {account.coincident.length ? (
        <Line>
          <chakra.button
            type="button"
            bg="transparent"
            border="0"
            p="0"
            cursor="pointer"
            textAlign="left"
            onClick={() => show(account.coincident.map(([, b]) => b))}
          >
            coincident within {formatLength(coincidence, unit, 3)} {UNIT_SIGN[unit]} in plan, one kept
          </chakra.button>
          <Num>{account.coincident.length}</Num>
        </Line>
      ) : null}
      {account.thin ? (
        <Line>
          <span>thin triangles at the rim, in line but for rounding</span>
          <Num>{account.thin}</Num>
        </Line>
      ) : null}
      {longest !== 'none' ? (
        <Line>
          <span>
            triangles with a side over {formatLength(longest, unit, 1)} {UNIT_SIGN[unit]}
          </span>
          <Num>{account.tooLong}</Num>
        </Line>
      ) : null}
      {account.leftOut.length === 0 && account.coincident.length === 0 && longest === 'none' ? (
        <Line color="slate">nothing</Line>
      ) : null}
    </Leaf>
  );
}
