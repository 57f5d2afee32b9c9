import { useEffect, useMemo } from 'react';
import { formatLength, readLength, type LengthUnit } from '#core/measure';
import type { ProjectDocument } from '#core/project';
import { pointKey } from '#core/stages';
import { NO_POINT, type Surface } from '#core/terrain';
import { useUnderHand } from '../../sheet/live/under-hand.ts';
import type { HeldEdit } from '../../work/live-edit.ts';
import type { PointColumns } from '../../work/columns.ts';
import { rowOf, type Asks, type EditKind, type HandRow, type Pointed } from './hand-edit-kinds.ts';

export interface Asked extends Pointed {
  kind: EditKind;
  fields: Asks[];
}

/** A length as somebody would type it. */
export const typedLength = (m: number, unit: LengthUnit): string =>
  Number.isNaN(m) ? '' : formatLength(m, unit).replaceAll('\u2009', '').replace('−', '-');

/** The figures that are typed, m or plain numbers, or the sentence why one cannot be read. */
export function readFields(fields: readonly Asks[], unit: LengthUnit): number[] | string {
  const values: number[] = [];
  for (const { name, typed, plain } of fields) {
    const read = plain ? { ok: Number.isFinite(Number(typed)) && typed.trim() !== '', metres: Number(typed), reason: `“${typed}” is not a number.` } : readLength(typed, unit); // prettier-ignore
    if (!read.ok) return `${name}: ${read.reason}`;
    values.push(read.metres);
  }
  return values;
}

const SHIFTED: readonly EditKind[] = ['move-point', 'move-area'];

/** While the figures of an edit are typed, the drawing shows what it would do, and its handle can be dragged. */
export function useShownAsked(
  asked: Asked | null,
  surface: Surface | undefined,
  about: { id: string; doc: ProjectDocument; points: PointColumns | undefined; heightAt: (x: number, y: number) => number }, // prettier-ignore
  setAsked: (asked: Asked) => void,
): void {
  const { doc, points } = about;
  const { unit } = doc.settings;
  const keys = asked?.points;
  const vertices = useMemo(
    () => (keys?.length && surface && points ? verticesOf(doc, points, surface, keys) : []),
    [keys, surface, doc, points],
  );
  useEffect(() => {
    if (!asked || !surface) return;
    const values = readFields(asked.fields, unit);
    const row = typeof values === 'string' ? values : rowOf(asked.kind, asked, values);
    const [handle, upright] = [handleOf(asked, surface, vertices, about.heightAt), asked.kind === 'raise'];
    const drawn = upright || SHIFTED.includes(asked.kind);
    if (!drawn && asked.kind !== 'tilt' && asked.kind !== 'even-out') return;
    const typed = typeof values === 'string' ? asked.fields.map(() => 0) : values;
    const [x, y, z] = upright ? [0, 0, typed[0]] : typed;
    useUnderHand.setState({
      now: {
        surface: about.id,
        edit: typeof row === 'string' ? null : heldEdit(row, vertices),
        handle: handle ?? { x: 0, y: 0, z: 0 },
        upright,
        by: drawn && handle ? { x, y, z } : null,
        onDrag: (by) => {
          const figures = upright ? [by.z] : [by.x, by.y, by.z];
          setAsked({ ...asked, fields: asked.fields.map((f, i) => ({ ...f, typed: typedLength(figures[i], unit) })) });
        },
      },
    });
    // eslint-disable-next-line react-hooks/exhaustive-deps -- what it is about is of the surface and of what is asked
  }, [asked, surface, vertices, unit]);
  useEffect(() => {
    if (asked) return () => useUnderHand.setState({ now: null });
  }, [asked === null]); // eslint-disable-line react-hooks/exhaustive-deps -- goes when nothing is asked any more
}

/** What an edit does to a surface that is there; null for those that are made before it is triangulated. */
function heldEdit(row: HandRow, vertices: readonly number[]): HeldEdit | null {
  if (row.kind === 'raise' || row.kind === 'tilt' || row.kind === 'even-out') return row;
  return row.kind === 'move' && vertices.length ? { kind: 'move', vertices, by: row.by } : null;
}

/** In the middle of the area, or at the point that is moved. */
function handleOf(
  { ring }: Asked,
  s: Surface,
  vertices: readonly number[],
  heightAt: (x: number, y: number) => number,
): { x: number; y: number; z: number } | null {
  const places = ring.length
    ? Array.from({ length: ring.length / 2 }, (_, i) => ({ x: ring[2 * i], y: ring[2 * i + 1] }))
    : vertices.map((v) => ({ x: s.x[v], y: s.y[v] }));
  if (places.length === 0) return null;
  const mean = (of: (p: { x: number; y: number }) => number): number => places.reduce((sum, p) => sum + of(p), 0) / places.length; // prettier-ignore
  const [x, y] = [mean((p) => p.x), mean((p) => p.y)];
  const z = heightAt(x, y);
  return { x, y, z: Number.isNaN(z) ? s.z[vertices[0] ?? 0] : z };
}

/** Vertices of a surface that are the points of these keys. */
function verticesOf(doc: ProjectDocument, points: PointColumns, s: Surface, keys: readonly string[]): number[] {
  const wanted = new Set(keys);
  const out: number[] = [];
  for (let v = 0; v < s.x.length; v++) {
    const row = s.point[v];
    if (row !== NO_POINT && row < points.x.length && wanted.has(pointKey(doc, points, row))) out.push(v);
  }
  return out;
}
