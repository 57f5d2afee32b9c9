import { Flex } from '@chakra-ui/react';
import { useEffect, useState } from 'react';
import { pointInRing } from '#core/kernel';
import { UNIT_SIGN } from '#core/measure';
import type { ProjectDocument, SurfaceRecipe, SurfaceRow } from '#core/project';
import { elevationIn, nextEdge, NO_POINT, triangleWalk, type Surface } from '#core/terrain';
import { pointKey } from '#core/stages';
import type { PointColumns } from '../../work/columns.ts';
import { Act, Aside, Field, Pick } from '../../frame/controls.tsx';
import { useParts, useProject } from '../../project-state/store.ts';
import { freshId } from './add-row.tsx';
import {
  EDIT_NAMES,
  NOTHING_POINTED,
  rowOf,
  type Asks,
  type EditKind,
  type HandRow,
  type Pointed,
} from './hand-edit-kinds.ts';
import { readFields, typedLength, useShownAsked, type Asked } from './show-asked.ts';

/** What changes points and lines before they are triangulated: of triangles as received there is no such time. */
const BEFORE_TRIANGLES: ReadonlySet<EditKind> = new Set(['spot', 'move-point', 'move-area', 'omit-point', 'omit-area', 'breakline-typed', 'breakline-surface', 'breakline-gradient', 'raise-line', 'thin', 'fill-level']); // prettier-ignore

/** So many vertices of a drawn breakline have their elevations typed one by one. */
const MOST_TYPED = 24;

/** Edits of a surface by hand: the place is pointed out on the drawing, figures are typed, and the result is previewed. */
export function EditByHand({ doc, recipe }: { doc: ProjectDocument; recipe: SurfaceRecipe }) {
  const { tables, trace, traced, busy, propose, tell, selection } = useParts('tables', 'trace', 'traced', 'busy', 'propose', 'tell', 'selection'); // prettier-ignore
  const [asked, setAsked] = useState<Asked | null>(null);
  useAskedPlace(asked);
  const { unit } = doc.settings;
  const sign = UNIT_SIGN[unit];
  const surface = tables?.surfaces.get(recipe.id);
  const selectedPoint =
    selection?.kind === 'point' && tables && selection.row < tables.points.x.length
      ? pointKey(doc, tables.points, selection.row)
      : null;
  const selectedLine = selection?.kind === 'line' ? selection.key : null;
  const others = doc.surfaces.filter((s) => s.id !== recipe.id);
  const add = (what: string, row: HandRow): void =>
    void propose(what, { op: 'surface.row', surface: recipe.id, row: { ...row, id: freshId(), on: true } as SurfaceRow }); // prettier-ignore
  const walk = surface ? triangleWalk(surface) : () => -1;
  const heightAt = (x: number, y: number): number => {
    const t = walk(x, y);
    return t < 0 ? NaN : elevationIn(surface!, t, x, y);
  };
  const typedHeight = (z: number): string => typedLength(z, unit);
  useShownAsked(asked, surface, { id: recipe.id, doc, points: tables?.points, heightAt }, setAsked);
  const withHeights = (places: readonly { x: number; y: number }[]) => places.map(({ x, y }) => ({ x, y, z: heightAt(x, y) })); // prettier-ignore

  const begin = (kind: EditKind): void => {
    const name = EDIT_NAMES[kind];
    const ask = (fields: Asks[], of: Partial<Pointed> = {}): void => setAsked({ ...NOTHING_POINTED, ...of, kind, fields }); // prettier-ignore
    const ringThen = (purpose: string, then: (ring: number[]) => void): void => trace({ purpose, places: [], finish: then }); // prettier-ignore
    const courseThen = (
      purpose: string,
      most: number | null,
      then: (places: Pointed['places']) => void,
      free = true,
    ): void =>
      // prettier-ignore
      trace({ purpose, places: [], finish: () => {}, course: { most, free, finish: (p) => then(withHeights(p)) } });
    /** Points of the surface inside a ring, or a word that there are none. */
    const pointsIn = (ring: number[], then: (points: string[]) => void): void => {
      const points = surface && tables ? keysInside(doc, tables.points, surface, ring) : [];
      if (points.length) then(points);
      else tell('No point of the surface lies in that area.');
    };
    const SHIFTS = [
      { name: `east ${sign}`, typed: '0' },
      { name: `north ${sign}`, typed: '0' },
      { name: `elevation ${sign}`, typed: '0' },
    ];
    switch (kind) {
      case 'thin':
        return ask([{ name: `height error ${sign}`, typed: '' }]);
      case 'fill-level':
        return ask([{ name: 'summits and hollows go on by % of the step', typed: '50', plain: true }]);
      case 'found-boundary':
        return ask([{ name: `longest side at the rim ${sign}`, typed: '' }]);
      case 'rim':
        return add(name, { kind: 'found-boundary', longest: 'auto' });
      case 'move-point':
        return selectedPoint ? ask(SHIFTS, { points: [selectedPoint] }) : undefined;
      case 'omit-point':
        return selectedPoint ? add(name, { kind: 'omit', points: [selectedPoint] }) : undefined;
      case 'move-area':
        return ringThen('the area whose points are moved', (ring) =>
          pointsIn(ring, (points) => ask(SHIFTS, { ring, points })),
        );
      case 'omit-area':
        return ringThen('the area whose points are deleted', (ring) =>
          pointsIn(ring, (points) => add(name, { kind: 'omit', points })),
        );
      case 'raise-line':
        return selectedLine ? ask([{ name: `by ${sign}, − lowers`, typed: '' }], { lines: [selectedLine] }) : undefined;
      case 'raise':
        return ringThen('the area to raise or lower', (ring) => ask([{ name: `by ${sign}, − lowers`, typed: '' }], { ring })); // prettier-ignore
      case 'even-out':
        return ringThen('the area to even out', (ring) =>
          ask(
            [
              { name: 'strength %', typed: '50', plain: true },
              { name: 'rounds', typed: '3', plain: true },
            ],
            { ring },
          ),
        );
      case 'tilt':
        return ringThen('the area to tilt', (ring) =>
          courseThen(
            'the three places whose heights are given',
            3,
            (places) =>
            ask(places.map(({ z }, i) => ({ name: `height ${i + 1} ${sign}`, typed: typedHeight(z) })), { ring, places }), // prettier-ignore
          ),
        );
      case 'spot':
        return courseThen('the place of the spot height', 1, (places) =>
          ask([{ name: `elevation ${sign}`, typed: typedHeight(places[0].z) }], { places }),
        );
      case 'breakline-surface':
        return courseThen(
          'the breakline',
          null,
          (places) =>
            places.some(({ z }) => Number.isNaN(z))
              ? tell('Part of that line is off the surface. Type its elevations instead.')
              : add(name, { kind: 'breakline', course: places }),
          false,
        );
      case 'breakline-typed':
        return courseThen('the breakline', MOST_TYPED, (places) => ask(places.map(({ z }, i) => ({ name: `elevation ${i + 1} ${sign}`, typed: typedHeight(z) })), { places }), false); // prettier-ignore
      case 'breakline-gradient':
        return courseThen(
          'the breakline',
          null,
          (places) =>
            ask(
              [
                { name: `elevation at the start ${sign}`, typed: typedHeight(places[0].z) },
                { name: 'gradient %, − falls', typed: '', plain: true },
              ],
              { places },
            ),
          false,
        );
      case 'delete-triangles':
        return courseThen('the triangle to delete', 1, ([p]) => add(name, { kind, places: [p.x, p.y] }));
      case 'swap':
        return courseThen('the side to swap', 1, ([p]) => {
          const ends = surface && nearestSide(surface, p.x, p.y);
          if (ends) add(name, { kind, ends });
          else tell('No side between two triangles is near that place.');
        });
    }
  };
  const layIn = (id: string, inside: boolean): void => {
    const put = (ring: number[] | null): void => add('lay in another surface', { kind: 'lay-in', surface: id, ring });
    if (inside) trace({ purpose: 'the area where it is laid in', places: [], finish: put });
    else put(null);
  };

  const take = (): void => {
    if (!asked) return;
    const values = readFields(asked.fields, unit);
    if (typeof values === 'string') return tell(values);
    const row = rowOf(asked.kind, asked, values);
    if (typeof row === 'string') return tell(row);
    setAsked(null);
    add(EDIT_NAMES[asked.kind], row);
  };

  const received = recipe.rows.some((r) => r.kind === 'triangles' && r.on);
  const possible = (kind: EditKind): boolean => {
    if (received && BEFORE_TRIANGLES.has(kind)) return false;
    if (kind === 'raise-line') return selectedLine !== null;
    return kind === 'move-point' || kind === 'omit-point' ? selectedPoint !== null : true;
  };
  return (
    <>
      <Pick
        aria-label="edit by hand"
        disabled={busy || traced !== null || !surface}
        value=""
        maxWidth="240px"
        onChange={(e) => {
          const [what, id] = e.target.value.split(':');
          if (what === 'lay-in' || what === 'lay-in-area') layIn(id, what === 'lay-in-area');
          else begin(what as EditKind);
        }}
      >
        <option value="">Edit by hand …</option>
        {(Object.keys(EDIT_NAMES) as EditKind[]).map((kind) => (
          <option key={kind} value={kind} disabled={!possible(kind)}>
            {EDIT_NAMES[kind]}
          </option>
        ))}
        {others.flatMap((s) => [
          <option key={s.id} value={`lay-in:${s.id}`}>
            lay in “{s.name}”
          </option>,
          <option key={`${s.id}-area`} value={`lay-in-area:${s.id}`}>
            lay in “{s.name}” inside an area
          </option>,
        ])}
      </Pick>
      {asked ? (
        <Flex gap="6px" wrap="wrap" align="center" width="100%">
          <Aside>{EDIT_NAMES[asked.kind]}:</Aside>
          {asked.fields.map(({ name, typed }, i) => (
            <Field
              key={name}
              autoFocus={i === 0}
              numeric
              width="150px"
              aria-label={name}
              title={name}
              placeholder={name}
              value={typed}
              onChange={(e) =>
                setAsked({
                  ...asked,
                  fields: asked.fields.map((f, k) => (k === i ? { ...f, typed: e.target.value } : f)),
                })
              }
              onKeyDown={(e) => {
                e.stopPropagation();
                if (e.key === 'Enter') take();
                if (e.key === 'Escape') setAsked(null);
              }}
            />
          ))}
          <Act look="solid" disabled={busy} onClick={take}>
            Preview
          </Act>
          <Act onClick={() => setAsked(null)}>Cancel</Act>
        </Flex>
      ) : null}
    </>
  );
}

/** While figures are asked for, the place that they are for is marked on the drawing. */
function useAskedPlace(asked: Asked | null): void {
  const { ring, places } = asked ?? NOTHING_POINTED;
  useEffect(() => {
    if (ring.length + places.length === 0) return;
    const course = places.flatMap((p) => [p.x, p.y]);
    useProject.setState({
      sketch: {
        places: Float64Array.from(course),
        mark: 'ring',
        arrows: [],
        courses: ring.length ? [[...ring, ring[0], ring[1]]] : course.length > 2 ? [course] : [],
        about: 'where the edit is',
      },
    });
    return () => useProject.setState({ sketch: null });
  }, [ring, places]);
}

/** Keys of the points of a surface inside a ring. */
function keysInside(doc: ProjectDocument, points: PointColumns, s: Surface, ring: readonly number[]): string[] {
  const area = Float64Array.from(ring);
  const out: string[] = [];
  for (let v = 0; v < s.x.length; v++) {
    if (s.point[v] === NO_POINT || !pointInRing(area, s.x[v], s.y[v])) continue;
    if (s.point[v] < points.x.length) out.push(pointKey(doc, points, s.point[v]));
  }
  return out;
}

/** Ends x, y, x, y of the side between two triangles that is nearest to a place in one of them; null where there is none. */
function nearestSide(s: Surface, x: number, y: number): number[] | null {
  const t = triangleWalk(s)(x, y);
  if (t < 0) return null;
  let best: { off: number; ends: number[] } | null = null;
  for (let e = 3 * t; e < 3 * t + 3; e++) {
    if (s.neighbours[e] < 0) continue;
    const [a, b] = [s.triangles[e], s.triangles[nextEdge(e)]];
    const [dx, dy] = [s.x[b] - s.x[a], s.y[b] - s.y[a]];
    const off = Math.abs(dx * (y - s.y[a]) - dy * (x - s.x[a])) / Math.sqrt(dx * dx + dy * dy);
    if (!best || off < best.off) best = { off, ends: [s.x[a], s.y[a], s.x[b], s.y[b]] };
  }
  return best?.ends ?? null;
}
