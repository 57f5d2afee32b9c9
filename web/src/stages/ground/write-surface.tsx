import { Flex } from '@chakra-ui/react';
import { useState } from 'react';
import { fileStem } from '#core/exchange';
import { formatLength, readLength, UNIT_SIGN } from '#core/measure';
import { isPublished } from '#core/basis';
import type { NamedLook, ProjectDocument, SurfaceRecipe } from '#core/project';
import { NO_POINT, type Surface } from '#core/terrain';
import { problemText } from '../../frame/api.ts';
import { Act, Aside, Field, Pick } from '../../frame/controls.tsx';
import { saveFile } from '../../frame/download.ts';
import { useParts } from '../../project-state/store.ts';
import type { Tables } from '../../project-state/tables.ts';
import { TINTED_SLOPES } from '#core/drawing';
import { SURFACE_FILES, type SurfaceFile, type WriteAsked } from '../../work/write-surface.ts';
import { sheetWork } from '../../work/workers.ts';

interface Asks {
  name: string;
  typed: string;
  plain?: boolean;
}

/** What each form asks for before it is written. */
function asksOf(file: SurfaceFile, unit: string, interval: string): Asks[] {
  switch (file) {
    case 'grid':
      return [{ name: `side of a cell ${unit}`, typed: '1' }];
    case 'elevations':
      return [{ name: `elevations every ${unit}`, typed: interval }];
    case 'points':
      return [
        { name: 'numbers from, for points without one', typed: '10001', plain: true },
        { name: 'their description', typed: 'GR', plain: true },
      ];
    default:
      return [];
  }
}

/** Writes a surface, or what it holds, as a file: worked out beside the page, handed to the browser. */
export function WriteSurface({ doc, recipe }: { doc: ProjectDocument; recipe: SurfaceRecipe }) {
  const { tables, tell } = useParts('tables', 'tell');
  const [asked, setAsked] = useState<{ file: SurfaceFile; fields: Asks[] } | null>(null);
  const [writing, setWriting] = useState(false);
  const { unit } = doc.settings;
  const surface = tables?.surfaces.get(recipe.id);
  const plain = (m: number): string => formatLength(m, unit).replaceAll('\u2009', '').replace('−', '-');
  const begin = (file: SurfaceFile): void => {
    const interval = recipe.interval ?? doc.settings.contourInterval;
    const fields = asksOf(file, UNIT_SIGN[unit], plain(interval === 'none' ? 1 : 5 * interval));
    if (fields.length) setAsked({ file, fields });
    else void write(file, []);
  };
  const write = async (file: SurfaceFile, typed: readonly Asks[], look: NamedLook | null = null): Promise<void> => {
    if (!tables || !surface) return;
    const order = askedFor(doc, recipe, tables, surface, file, typed, look);
    if (typeof order === 'string') return tell(order);
    setAsked(null);
    setWriting(true);
    try {
      const bytes = await sheetWork().write(surface, order);
      saveFile(`${fileStem(recipe.name, look?.name ?? file)}.${SURFACE_FILES[file].ending}`, new Blob([bytes as Uint8Array<ArrayBuffer>])); // prettier-ignore
    } catch (error) {
      tell(problemText(error));
    } finally {
      setWriting(false);
    }
  };
  return (
    <Flex gap="6px" wrap="wrap" align="center">
      <Pick
        aria-label={`write ${recipe.name} as`}
        value=""
        width="104px"
        disabled={writing || !surface?.triangles.length}
        onChange={(e) => {
          const look = doc.drawing.looks.find((l) => `look ${l.id}` === e.target.value);
          if (look) void write('look', [], look);
          else begin(e.target.value as SurfaceFile);
        }}
      >
        <option value="">{writing ? 'writing …' : 'Export …'}</option>
        {(Object.keys(SURFACE_FILES) as SurfaceFile[])
          .filter((file) => file !== 'look')
          .map((file) => (
            <option key={file} value={file}>
              {SURFACE_FILES[file].name}
            </option>
          ))}
        {doc.drawing.looks.map((look) => (
          <option key={look.id} value={`look ${look.id}`}>
            areas as in look “{look.name}”, GeoJSON
          </option>
        ))}
      </Pick>
      {asked ? (
        <>
          {asked.fields.map(({ name, typed }, i) => (
            <label key={name}>
              <Aside>{name} </Aside>
              <Field
                autoFocus={i === 0}
                numeric
                width="96px"
                aria-label={name}
                value={typed}
                onChange={
                  (e) =>
                  setAsked({ ...asked, fields: asked.fields.map((f, k) => (k === i ? { ...f, typed: e.target.value } : f)) }) // prettier-ignore
                }
                onKeyDown={(e) => {
                  e.stopPropagation();
                  if (e.key === 'Enter') void write(asked.file, asked.fields);
                  if (e.key === 'Escape') setAsked(null);
                }}
              />
            </label>
          ))}
          <Act look="solid" onClick={() => void write(asked.file, asked.fields)}>
            Export
          </Act>
          <Act onClick={() => setAsked(null)}>Cancel</Act>
        </>
      ) : null}
    </Flex>
  );
}

/** Most areas that one scale is cut into. */
const MOST_STEPS = 500;

/** What the file is to be; a sentence where what was typed makes none. */
function askedFor(
  doc: ProjectDocument,
  recipe: SurfaceRecipe,
  tables: Tables,
  s: Surface,
  file: SurfaceFile,
  typed: readonly Asks[],
  look: NamedLook | null,
): WriteAsked | string {
  const { unit, order, decimals } = doc.settings;
  const { system } = doc.basis;
  const code = isPublished(system) ? system.code : null;
  const asked: WriteAsked = {
    file,
    name: recipe.name,
    unit,
    order,
    decimals,
    cell: 1,
    steps: [...TINTED_SLOPES],
    points: [],
    from: 1,
    description: '',
    contours: file === 'contours' ? (tables.contours.get(recipe.id) ?? []) : [],
    look,
    system: isPublished(system) ? { name: `${system.name}, metres: east, north`, code } : { name: 'local, metres: east, north', code: null }, // prettier-ignore
    epsg: Number(/^EPSG:(\d{4,5})$/.exec(code ?? '')?.[1]) || null,
    made: new Date().toISOString(),
  };
  if (file === 'grid' || file === 'elevations') {
    const read = readLength(typed[0].typed, unit);
    if (!read.ok) return read.reason;
    if (!(read.metres > 0)) return 'Type a length larger than zero.';
    if (file === 'grid') return { ...asked, cell: read.metres };
    const used = [...s.triangles].map((v) => s.z[v]);
    const [low, high] = [used.reduce((a, b) => Math.min(a, b)), used.reduce((a, b) => Math.max(a, b))];
    const first = Math.floor(low / read.metres);
    const last = Math.floor(high / read.metres) + 1;
    if (last - first > MOST_STEPS) return `That gives ${last - first} areas of elevation; at most ${MOST_STEPS} are written. Type a larger step.`; // prettier-ignore
    return { ...asked, steps: Array.from({ length: last - first + 1 }, (_, i) => (first + i) * read.metres) };
  }
  if (file === 'points') {
    const from = Number(typed[0].typed);
    if (!Number.isInteger(from) || from < 0) return 'The first number is a whole number.';
    const { points } = tables;
    const told = Array.from(s.point, (row) => (row === NO_POINT || row >= points.x.length ? { number: '', description: '' } : { number: points.number.get(row), description: points.description.get(row) })); // prettier-ignore
    return { ...asked, points: told, from, description: typed[1].typed.trim() };
  }
  return asked;
}
