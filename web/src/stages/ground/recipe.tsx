import { chakra, Flex } from '@chakra-ui/react';
import { useState } from 'react';
import type { ProjectDocument, SurfaceRecipe, SurfaceRow } from '#core/project';
import { Act, Aside, Cut, Field, Leaf, Line, Num, Pick } from '../../frame/controls.tsx';
import { Changing, InPlace } from '../../project-state/changing.tsx';
import { useParts } from '../../project-state/store.ts';

/** A row of a recipe as it is read. */
function rowText(doc: ProjectDocument, row: SurfaceRow): string {
  switch (row.kind) {
    case 'survey':
      return 'points of all survey files';
    case 'file': {
      const file = doc.intakes.find((i) => i.id === row.intake);
      return file ? `points of ${file.fileName}${file.on ? '' : ' (switched off)'}` : 'points of a file that is gone';
    }
    case 'triangles': {
      const file = doc.intakes.find((i) => i.id === row.intake);
      return file
        ? `triangles of ${file.fileName}, as received${file.on ? '' : ' (switched off)'}`
        : 'triangles of a file that is gone';
    }
    case 'lines':
      return row.codes === null ? 'breaklines by the code list' : `lines ${row.codes.join(', ')} as breaklines`;
    case 'exclude-codes':
      return 'excluded by code';
    case 'exclude-lines':
      return `lines excluded by hand: ${row.lines.join(', ')}`;
    case 'boundary':
      return 'boundary drawn by hand';
  }
}

/** What a row did: points or lines that it brought in or kept out, triangles that a boundary took. */
const effectText = (row: SurfaceRow, n: number | null | undefined): string =>
  !row.on
    ? 'off'
    : n === null
      ? 'its file is gone'
      : n === undefined
        ? '…'
        : row.kind === 'boundary'
          ? `${n} triangles beyond it`
          : row.kind === 'triangles'
            ? `${n} triangles`
            : row.kind === 'lines' || row.kind === 'exclude-lines'
              ? `${n} lines`
              : `${n} points`;

const freshId = (): string => crypto.randomUUID().slice(0, 13);
/** So many rows are listed at once. */
const PAGE = 200;

/** The rows of a recipe in their order: each can be switched off, and says what it did. */
export function Recipe({
  doc,
  recipe,
  effect,
}: {
  doc: ProjectDocument;
  recipe: SurfaceRecipe;
  effect: Record<string, number | null>;
}) {
  const { make, busy, trace, traced } = useParts('make', 'busy', 'trace', 'traced');
  const [most, setMost] = useState(PAGE);
  const set = (row: SurfaceRow): void => void make({ op: 'surface.row', surface: recipe.id, row });
  const drawBoundary = (): void =>
    trace({
      purpose: `the boundary of “${recipe.name}”`,
      places: [],
      finish: (ring) => void make({ op: 'boundary.set', ring, surface: recipe.id }),
    });
  const hasBoundary = recipe.rows.some((r) => r.kind === 'boundary');
  return (
    <Leaf head={`Recipe of “${recipe.name}”`} pb="10px">
      <InPlace>
        <chakra.ul m="0" p="0" listStyleType="none" aria-label={`recipe of ${recipe.name}`}>
          {recipe.rows.slice(0, most).map((row) => {
            const text = rowText(doc, row);
            return (
              <Line as="li" key={row.id}>
                <Flex as="label" gap="8px" align="center" minWidth="0" color={row.on ? undefined : 'slate'}>
                  <input
                    type="checkbox"
                    aria-label={`use ${text}`}
                    checked={row.on}
                    disabled={busy}
                    onChange={(e) => set({ ...row, on: e.target.checked })}
                  />
                  <Cut>{text}</Cut>
                </Flex>
                <Flex gap="8px" align="center" flexShrink="0">
                  <Num>{effectText(row, effect[row.id])}</Num>
                  <Changing>
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
            );
          })}
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
          <AddRow doc={doc} recipe={recipe} />
          <Act disabled={traced !== null || busy} onClick={drawBoundary}>
            {hasBoundary ? 'Draw the boundary again' : 'Draw a boundary'}
          </Act>
        </Flex>
      </Changing>
    </Leaf>
  );
}

/** Adds what else comes in or is excluded. */
function AddRow({ doc, recipe }: { doc: ProjectDocument; recipe: SurfaceRecipe }) {
  const { make, busy } = useParts('make', 'busy');
  const [codes, setCodes] = useState<string | null>(null);
  const has = (kind: SurfaceRow['kind']): boolean => recipe.rows.some((r) => r.kind === kind);
  const files = doc.intakes.filter((i) => !recipe.rows.some((r) => r.kind === 'file' && r.intake === i.id));
  const add = (row: SurfaceRow): void => void make({ op: 'surface.row', surface: recipe.id, row });
  const base = { id: freshId(), on: true };
  const addCodes = (): void => {
    const list = (codes ?? '').split(/[\s,;]+/).filter(Boolean).map((c) => c.toUpperCase()); // prettier-ignore
    setCodes(null);
    if (list.length) add({ ...base, kind: 'lines', codes: list });
  };
  return (
    <>
      <Pick
        aria-label="add to the recipe"
        disabled={busy}
        value=""
        maxWidth="220px"
        onChange={(e) => {
          const what = e.target.value;
          if (what === 'survey') add({ ...base, kind: 'survey' });
          else if (what === 'lines') add({ ...base, kind: 'lines', codes: null });
          else if (what === 'exclude-codes') add({ ...base, kind: 'exclude-codes' });
          else if (what === 'codes') setCodes('');
          else if (what.startsWith('file:')) add({ ...base, kind: 'file', intake: what.slice(5) });
          else if (what.startsWith('triangles:')) add({ ...base, kind: 'triangles', intake: what.slice(10) });
        }}
      >
        <option value="">Add …</option>
        {has('survey') ? null : <option value="survey">points of all survey files</option>}
        {files.map((i) => (
          <option key={i.id} value={`file:${i.id}`}>
            points of {i.fileName}
          </option>
        ))}
        {doc.intakes
          .filter((i) => i.layout.surface !== undefined && !has('triangles'))
          .map((i) => (
            <option key={`t${i.id}`} value={`triangles:${i.id}`}>
              triangles of {i.fileName}, as received
            </option>
          ))}
        {has('lines') ? null : <option value="lines">breaklines by the code list</option>}
        <option value="codes">lines of certain codes as breaklines</option>
        {has('exclude-codes') ? null : <option value="exclude-codes">exclude by code</option>}
      </Pick>
      {codes !== null ? (
        <>
          <Field
            autoFocus
            aria-label="codes of the breaklines"
            placeholder="KB, DT"
            width="130px"
            maxLength={400}
            value={codes}
            onChange={(e) => setCodes(e.target.value)}
            onKeyDown={(e) => {
              e.stopPropagation();
              if (e.key === 'Enter') addCodes();
              if (e.key === 'Escape') setCodes(null);
            }}
          />
          <Act onClick={addCodes}>Add</Act>
          <Aside>codes of lines</Aside>
        </>
      ) : null}
    </>
  );
}
