import { Flex } from '@chakra-ui/react';
import { useEffect, useState } from 'react';
import { formatLength, readLength, UNIT_SIGN } from '#core/measure';
import type { ProjectDocument, SurfaceRecipe, SurfaceRow } from '#core/project';
import { elevationIn, nextEdge, triangleWalk, type Surface } from '#core/terrain';
import { Act, Aside, Field, Pick } from '../../frame/controls.tsx';
import { useParts, useProject } from '../../project-state/store.ts';
import { freshId } from './add-row.tsx';

type EditKind = 'spot' | 'raise' | 'tilt' | 'even-out' | 'swap' | 'delete-triangles' | 'thin';
const EDITS: readonly (readonly [EditKind, string])[] = [
  ['spot', 'add a spot height'],
  ['raise', 'raise or lower an area'],
  ['tilt', 'tilt an area onto three heights'],
  ['even-out', 'even out an area'],
  ['swap', 'swap a side'],
  ['delete-triangles', 'delete a triangle'],
  ['thin', 'thin to a height error'],
];

/** What was pointed out, until its figures are typed. */
interface Asked {
  kind: EditKind;
  ring: number[];
  places: { x: number; y: number }[];
  /** What is asked for, and what was typed for it. */
  fields: { name: string; typed: string; plain?: boolean }[];
}

/** Edits of a surface by hand: the place is pointed out on the drawing, figures are typed, and the result is previewed. */
export function EditByHand({ doc, recipe }: { doc: ProjectDocument; recipe: SurfaceRecipe }) {
  const { tables, trace, traced, busy, propose, tell } = useParts('tables', 'trace', 'traced', 'busy', 'propose', 'tell'); // prettier-ignore
  const [asked, setAsked] = useState<Asked | null>(null);
  useAskedPlace(asked);
  const { unit } = doc.settings;
  const sign = UNIT_SIGN[unit];
  const surface = tables?.surfaces.get(recipe.id);
  const add = (what: string, row: Row): void =>
    void propose(what, { op: 'surface.row', surface: recipe.id, row: { ...row, id: freshId(), on: true } as SurfaceRow }); // prettier-ignore
  const heightAt = (x: number, y: number): string => {
    const t = surface ? triangleWalk(surface)(x, y) : -1;
    return t < 0
      ? ''
      : formatLength(elevationIn(surface!, t, x, y), unit)
          .replaceAll('\u2009', '')
          .replace('−', '-');
  };
  const ringThen = (purpose: string, then: (ring: number[]) => void): void =>
    trace({ purpose, places: [], finish: then });
  const pointThen = (purpose: string, most: number, then: (places: { x: number; y: number }[]) => void): void =>
    trace({ purpose, places: [], finish: () => {}, course: { most, free: true, finish: then } });

  const begin = (kind: EditKind): void => {
    const ask = (of: Partial<Asked>): void => setAsked({ kind, ring: [], places: [], fields: [], ...of });
    switch (kind) {
      case 'thin':
        return ask({ fields: [{ name: `height error ${sign}`, typed: '' }] });
      case 'raise':
        return ringThen('the area to raise or lower', (ring) => ask({ ring, fields: [{ name: `by ${sign}, − lowers`, typed: '' }] })); // prettier-ignore
      case 'even-out':
        return ringThen(
          'the area to even out',
          (ring) =>
          ask({ ring, fields: [{ name: 'strength %', typed: '50', plain: true }, { name: 'rounds', typed: '3', plain: true }] }), // prettier-ignore
        );
      case 'tilt':
        return ringThen('the area to tilt', (ring) =>
          pointThen(
            'the three places whose heights are given',
            3,
            (places) =>
            ask({ ring, places, fields: places.map((p, i) => ({ name: `height ${i + 1} ${sign}`, typed: heightAt(p.x, p.y) })) }), // prettier-ignore
          ),
        );
      case 'spot':
        return pointThen('the place of the spot height', 1, (places) =>
          ask({ places, fields: [{ name: `elevation ${sign}`, typed: heightAt(places[0].x, places[0].y) }] }),
        );
      case 'delete-triangles':
        return pointThen('the triangle to delete', 1, ([p]) =>
          add('delete a triangle', { kind: 'delete-triangles', places: [p.x, p.y] }),
        );
      case 'swap':
        return pointThen('the side to swap', 1, ([p]) => {
          const ends = surface && nearestSide(surface, p.x, p.y);
          if (ends) add('swap a side', { kind: 'swap', ends });
          else tell('No side between two triangles is near that place.');
        });
    }
  };

  const take = (): void => {
    if (!asked) return;
    const values: number[] = [];
    for (const { name, typed, plain } of asked.fields) {
      const read = plain ? { ok: Number.isFinite(Number(typed)) && typed.trim() !== '', metres: Number(typed), reason: `“${typed}” is not a number.` } : readLength(typed, unit); // prettier-ignore
      if (!read.ok) return tell(`${name}: ${read.reason}`);
      values.push(read.metres);
    }
    const row = rowOf(asked, values);
    if (typeof row === 'string') return tell(row);
    setAsked(null);
    add(EDITS.find(([k]) => k === asked.kind)![1], row);
  };

  return (
    <>
      <Pick
        aria-label="edit by hand"
        disabled={busy || traced !== null || !surface}
        value=""
        onChange={(e) => begin(e.target.value as EditKind)}
      >
        <option value="">Edit by hand …</option>
        {EDITS.map(([kind, name]) => (
          <option key={kind} value={kind}>
            {name}
          </option>
        ))}
      </Pick>
      {asked ? (
        <Flex gap="6px" wrap="wrap" align="center" width="100%">
          <Aside>{EDITS.find(([k]) => k === asked.kind)![1]}:</Aside>
          {asked.fields.map(({ name, typed }, i) => (
            <Field
              key={name}
              autoFocus={i === 0}
              numeric
              width="150px"
              aria-label={name}
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
  const { ring, places } = asked ?? NOWHERE;
  useEffect(() => {
    if (ring.length + places.length === 0) return;
    useProject.setState({
      sketch: {
        places: Float64Array.from(places.flatMap((p) => [p.x, p.y])),
        mark: 'ring',
        arrows: [],
        courses: ring.length ? [[...ring, ring[0], ring[1]]] : [],
        about: 'where the edit is',
      },
    });
    return () => useProject.setState({ sketch: null });
  }, [ring, places]);
}
const NOWHERE: Pick<Asked, 'ring' | 'places'> = { ring: [], places: [] };

type Row = { [K in EditKind]: Omit<Extract<SurfaceRow, { kind: K }>, 'id' | 'on'> }[EditKind];

/** The row that was asked for; a sentence where a figure makes no sense. */
function rowOf({ kind, ring, places }: Asked, values: number[]): Row | string {
  switch (kind) {
    case 'raise':
      return values[0] === 0 ? 'Type by how much: zero changes nothing.' : { kind, ring, by: values[0] };
    case 'tilt':
      return { kind, ring, onto: places.map((p, i) => ({ x: p.x, y: p.y, z: values[i] })) };
    case 'even-out': {
      const [strength, rounds] = values;
      if (!(strength > 0 && strength <= 100)) return 'The strength lies between 0 and 100 %.';
      if (!(Number.isInteger(rounds) && rounds >= 1 && rounds <= 50)) return 'Rounds are a whole number up to 50.';
      return { kind, ring, strength: strength / 100, rounds };
    }
    case 'thin':
      return values[0] >= 0.001 && values[0] <= 100
        ? { kind, error: values[0] }
        : 'A height error is at least a millimetre.';
    default:
      return { kind: 'spot', x: places[0].x, y: places[0].y, z: values[0] };
  }
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
