import { useEffect } from 'react';
import type { ProjectDocument, SurfaceRow } from '#core/project';
import { STATE } from '#core/stages';
import { outlines } from '#core/terrain';
import type { Summary } from '#contract';
import { rowsOfSet } from '../../project-state/set-columns.ts';
import { useProject, type Sketch } from '../../project-state/store.ts';
import type { Tables } from '../../project-state/tables.ts';
import { tracedCourse } from './tracing/traced-rows.ts';

/** So many points are marked at once. */
const MOST_MARKED = 20_000;

type Account = Summary['surfaces'][number]['account'];

/** While somebody stands on a row of a recipe, what it brings in, keeps out or cuts is painted on the drawing. */
export function useRowEffect(
  doc: ProjectDocument,
  tables: Tables | null,
  account: Account | undefined,
  row: SurfaceRow | undefined,
  /** The surface that the row is of. */
  recipe: string,
): void {
  const project = useProject((p) => p.id);
  useEffect(() => {
    if (!row || !tables) return;
    let wanted = true;
    void effectOf(row, doc, tables, account, project, recipe).then((sketch) => {
      if (wanted) useProject.setState({ sketch });
    });
    return () => {
      wanted = false;
      useProject.setState({ sketch: null });
    };
  }, [doc, tables, account, row, project, recipe]);
}

async function effectOf(
  row: SurfaceRow,
  doc: ProjectDocument,
  tables: Tables,
  account: Account | undefined,
  project: string,
  recipe: string,
): Promise<Sketch> {
  const { points, linework } = tables;
  const marked = (is: (row: number) => boolean): Sketch => {
    const rows: number[] = [];
    for (let r = 0; r < points.x.length; r++) if (is(r)) rows.push(r);
    return sketchOf(tables, rows);
  };
  const used = (r: number): boolean => points.state[r] === STATE.used && !Number.isNaN(points.z[r]);
  const courses = (is: (key: string, code: string) => boolean): Sketch => ({
    ...EMPTY,
    courses: linework.lines
      .filter((l) => is(l.key, l.code))
      .map((l) => l.x.flatMap((x, i) => [x, l.y[i]]).concat(l.closed ? [l.x[0], l.y[0]] : [])),
  });
  switch (row.kind) {
    case 'survey': {
      const survey = doc.intakes.map((i) => i.purpose === 'survey' && i.on);
      return marked((r) => survey[points.intake[r]] && used(r));
    }
    case 'file':
    case 'triangles': {
      const file = doc.intakes.findIndex((i) => i.id === row.intake);
      return marked((r) => points.intake[r] === file && used(r));
    }
    case 'checks':
      return sketchOf(tables, account?.checks.find((c) => c.row === row.id)?.rows ?? []);
    case 'points':
    case 'exclude-points': {
      const set = { id: row.id, name: '', rule: row.rule, byHandOnly: false, more: [], without: [], ink: null, hidden: false }; // prettier-ignore
      if (Object.keys(row.rule).length === 0) return EMPTY;
      const members = await rowsOfSet(set, doc, tables, project);
      return marked((r) => members[r] === 1 && used(r));
    }
    case 'exclude-codes':
      return sketchOf(tables, (account?.leftOut ?? []).filter((l) => l.why.startsWith('height not used')).flatMap((l) => l.rows)); // prettier-ignore
    case 'lines': {
      const listed = doc.codeList.codes.filter((c) => c.kind === 'line' && c.breakline).map((c) => c.code);
      const codes = new Set((row.codes ?? listed).map((c) => c.toUpperCase()));
      return courses((_, code) => codes.has(code.toUpperCase()));
    }
    case 'line-boundary':
    case 'contours': {
      const codes = new Set(row.codes.map((c) => c.toUpperCase()));
      return courses((_, code) => codes.has(code.toUpperCase()));
    }
    case 'exclude-lines':
      return courses((key) => row.lines.includes(key));
    case 'boundary':
    case 'void':
    case 'island':
    case 'raise':
    case 'even-out':
      return { ...EMPTY, courses: [[...row.ring, row.ring[0], row.ring[1]]] };
    case 'tilt':
      return {
        ...EMPTY,
        courses: [[...row.ring, row.ring[0], row.ring[1]]],
        places: Float64Array.from(row.onto.flatMap((p) => [p.x, p.y])),
        mark: 'ring',
      };
    case 'thin':
      return sketchOf(tables, (account?.leftOut ?? []).filter((l) => l.why.startsWith('thinned')).flatMap((l) => l.rows)); // prettier-ignore
    case 'fill-level':
      return { ...EMPTY, places: Float64Array.from(account?.filled ?? []), mark: 'ring' };
    case 'swap':
      return { ...EMPTY, courses: [row.ends] };
    case 'delete-triangles':
      return { ...EMPTY, places: Float64Array.from(row.places), mark: 'ring' };
    case 'move':
    case 'omit': {
      const keys = new Set(row.points);
      return marked((r) => keys.has(`${doc.intakes[points.intake[r]]?.id}:${points.fileRow[r]}`));
    }
    case 'traced':
      return { ...EMPTY, courses: [tracedCourse(row)] };
    case 'breakline':
    case 'strip':
      return { ...EMPTY, courses: [row.course.flatMap((p) => [p.x, p.y])] };
    case 'raise-lines':
      return courses((key) => row.lines.includes(key));
    case 'pad':
      return { ...EMPTY, courses: [[...row.ring, row.ring[0], row.ring[1]]] };
    case 'surface':
    case 'offset':
    case 'lay-in': {
      const of = tables.surfaces.get(row.surface);
      const rings = row.ring ? [Float64Array.from(row.ring)] : of ? outlines(of) : [];
      return { ...EMPTY, courses: rings.map((r) => [...r, r[0], r[1]]) };
    }
    case 'found-boundary': {
      const of = tables.surfaces.get(recipe);
      return { ...EMPTY, courses: of ? outlines(of).map((r) => [...r, r[0], r[1]]) : [] };
    }
    case 'spot':
    case 'meeting':
      return { ...EMPTY, places: Float64Array.of(row.x, row.y), mark: 'ring' };
  }
}

const EMPTY: Sketch = { places: new Float64Array(), arrows: [], about: 'what a row of the recipe does' };

function sketchOf({ points }: Tables, rows: readonly number[]): Sketch {
  const every = Math.max(1, Math.ceil(rows.length / MOST_MARKED));
  const places = rows.filter((_, i) => i % every === 0).flatMap((r) => [points.x[r], points.y[r]]);
  return { ...EMPTY, places: Float64Array.from(places), mark: 'ring' };
}
