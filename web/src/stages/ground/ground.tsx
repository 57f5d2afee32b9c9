import { Box, chakra, Flex } from '@chakra-ui/react';
import { GROUND, type Settings } from '#core/project';
import { formatArea, formatLength, UNIT_SIGN } from '#core/measure';
import { Act, Aside, Cut, Leaf, Line, Num } from '../../frame/controls.tsx';
import { useProject } from '../../project/store.ts';
import { sheetHandle } from '../../sheet/handle.ts';
import { Length, Sentence } from '../../frame/sentence.tsx';
import { Empty, Ledger } from '../ledger.tsx';

/** The surface's story: what came in, what was left out and why, what a person changed, and what it measures. */
export function Ground() {
  const { state, tables, make, draw, drawing, select } = useProject();
  if (!state || !tables)
    return (
      <Ledger name="Ground" about="opening …">
        {null}
      </Ledger>
    );
  const doc = state.document;
  const s = doc.settings;
  const { unit } = s;
  const ground = tables.summary.surfaces.find((g) => g.name === GROUND)!;
  const { account } = ground;
  const set = (settings: Partial<Settings>): void => void make({ op: 'settings.set', settings });
  const { points } = tables;
  const show = (rows: number[]): void => {
    if (rows.length === 1) select({ kind: 'point', row: rows[0] });
    sheetHandle.current?.fitTo(
      rows.map((r) => points.x[r]),
      rows.map((r) => points.y[r]),
    );
  };
  const beginBoundary = (): void =>
    draw({
      purpose: 'the boundary of the ground',
      places: [],
      finish: (ring) => void make({ op: 'boundary.set', ring }),
    });
  return (
    <Ledger name="Ground" about="surface “Ground”, by constrained Delaunay triangulation">
      {ground.triangles === 0 ? (
        <Empty>
          No surface yet: it needs three points with elevations that are not in line. Points that wait for a decision
          stay out until somebody decides; the queries say which.
        </Empty>
      ) : null}
      {ground.triangles ? (
        <Flex gap="8px" mb="12px">
          {[
            ['plan area', formatArea(ground.planArea, s.areaUnit, unit)],
            ['slope area', formatArea(ground.slopeArea, s.areaUnit, unit)],
            [
              `elevation ${UNIT_SIGN[unit]}`,
              `${formatLength(ground.lowest, unit, 2)} – ${formatLength(ground.highest, unit, 2)}`,
            ],
            ['contours', String(tables.summary.contours)],
          ].map(([name, value]) => (
            <Box key={name} flex="1" borderTop="1px solid" borderColor="ink" pt="6px" minWidth="0">
              <Aside display="block">{name}</Aside>
              <Num whiteSpace="nowrap">{value}</Num>
            </Box>
          ))}
        </Flex>
      ) : null}
      <Leaf head="What came in" pb="4px">
        <Line>
          <span>points with height used</span>
          <Num>{account.points}</Num>
        </Line>
        <Line>
          <span>lines as breaklines</span>
          <Num>{account.lines}</Num>
        </Line>
        {account.chordPoints ? (
          <Line>
            <span>
              places on arcs, chorded to {formatLength(s.sagitta, unit, 3)} {UNIT_SIGN[unit]}
            </span>
            <Num>{account.chordPoints}</Num>
          </Line>
        ) : null}
      </Leaf>
      <Leaf head="What was left out, and why" mt="-1px" pb="4px">
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
              coincident within {formatLength(s.coincidence, unit, 3)} {UNIT_SIGN[unit]} in plan, one kept
            </chakra.button>
            <Num>{account.coincident.length}</Num>
          </Line>
        ) : null}
        {account.crossings.length ? (
          <Line>
            <span>sides of breaklines that cross another</span>
            <Num>{account.crossings.length}</Num>
          </Line>
        ) : null}
        {s.longestSide !== null ? (
          <Line>
            <span>
              triangles with a side over {formatLength(s.longestSide, unit, 1)} {UNIT_SIGN[unit]}
            </span>
            <Num>{account.tooLong}</Num>
          </Line>
        ) : null}
        {account.leftOut.length === 0 && account.coincident.length === 0 && s.longestSide === null ? (
          <Line color="slate">nothing</Line>
        ) : null}
      </Leaf>
      <Leaf head="What a person changed" mt="-1px" pb="6px">
        <Line>
          <span>boundary drawn by hand</span>
          <Flex gap="6px">
            <Act disabled={drawing !== null} onClick={beginBoundary}>
              {doc.boundary ? 'Draw it anew' : 'Draw one'}
            </Act>
            {doc.boundary ? (
              <Act onClick={() => void make({ op: 'boundary.set', ring: null })}>Take it away</Act>
            ) : (
              <Aside alignSelf="center">none</Aside>
            )}
          </Flex>
        </Line>
        {doc.linesOutOfGround.length ? (
          <Line>
            <Cut>{`lines taken out: ${doc.linesOutOfGround.join(', ')}`}</Cut>
            <Num>{doc.linesOutOfGround.length}</Num>
          </Line>
        ) : null}
        <Flex align="center" minHeight="32px" wrap="wrap">
          {s.longestSide === null ? (
            <Sentence>
              Sides may be as long as they come.
              <Act onClick={() => set({ longestSide: 30 })}>Limit them</Act>
            </Sentence>
          ) : (
            <>
              <Length
                name="No side longer than"
                after="unless it is a breakline"
                metres={s.longestSide}
                unit={s.unit}
                onSet={(longestSide) => set({ longestSide })}
                min={0.01}
                max={1e6}
              />
              <Act look="quiet" onClick={() => set({ longestSide: null })}>
                No limit
              </Act>
            </>
          )}
        </Flex>
        <Flex align="center" wrap="wrap">
          <Length
            name="Contours every"
            metres={s.contourInterval}
            unit={s.unit}
            onSet={(contourInterval) => set({ contourInterval })}
            min={0.001}
            max={1e4}
          />
          <Sentence px="0">
            an index contour every
            <chakra.select
              aria-label="index contour every"
              value={s.indexEvery}
              onChange={(e) => set({ indexEvery: Number(e.target.value) })}
              bg="leaf"
              border="1px solid"
              borderColor="slate"
              borderRadius="3px"
              height="26px"
            >
              {[0, 2, 4, 5, 10].map((n) => (
                <option key={n} value={n}>
                  {n === 0 ? 'never' : n}
                </option>
              ))}
            </chakra.select>
          </Sentence>
        </Flex>
        {tables.summary.contourProblem ? (
          <Line color="pole" role="alert">
            {tables.summary.contourProblem}
          </Line>
        ) : null}
      </Leaf>
      {tables.summary.surfaces.length > 1 ? (
        <Leaf head="Designs" mt="12px" pb="4px">
          {tables.summary.surfaces.slice(1).map((d) => (
            <Line key={d.name}>
              <Cut>{d.name}</Cut>
              <Num>
                {d.points} points, {d.triangles} triangles, {formatArea(d.planArea, s.areaUnit, unit)}
              </Num>
            </Line>
          ))}
        </Leaf>
      ) : null}
    </Ledger>
  );
}
