import { z } from 'zod';
import { applyMatrix, geographicAt, gridToGround, invertMatrix, isPublished, systemLine } from '#core/basis';
import type { ChainResult } from '#core/chain';
import type { Contour } from '#core/terrain';
import type { ProjectDocument } from '#core/project';
import { extentOf, type PointTable } from '#core/stages';
import { elevationsBetween, type Line } from '#core/linework';
import { formatFixed, fromMetres, UNIT_NAME, type LengthUnit } from '#core/measure';

/**
 * In which coordinates a package goes out: the project's own grid, ground lengths about the base point,
 * latitude and longitude on the grid's own datum, or back on the local basis that a file came in.
 */
export const coordinatesSchema = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('grid') }),
  z.object({ kind: z.literal('ground') }),
  z.object({ kind: z.literal('geographic') }),
  z.object({ kind: z.literal('local'), intake: z.string().min(1).max(40) }),
]);
export type Coordinates = z.infer<typeof coordinatesSchema>;

export type Placed = { ok: true; result: ChainResult; about: string } | { ok: false; reason: string };

/** The chain's result with every place in the coordinates wanted, and a sentence that says what they are. */
export function placeResult(
  doc: ProjectDocument,
  result: ChainResult,
  coordinates: Coordinates,
  unit: LengthUnit,
): Placed {
  const { basis } = doc;
  switch (coordinates.kind) {
    case 'grid':
      return {
        ok: true,
        result,
        about: isPublished(basis.system) || basis.factor !== 1 ? 'grid coordinates' : 'local coordinates',
      };
    case 'ground': {
      const base = basis.base ?? middleOf(result.points);
      if (!base)
        return { ok: false, reason: 'There are no points, so there is no base point to convert grid to ground about.' };
      const at = (x: number, y: number): [number, number] => {
        const p = gridToGround(base, basis.factor, { x, y });
        return [p.x, p.y];
      };
      const about = (m: number): string => formatFixed(fromMetres(m, unit), 3);
      return {
        ok: true,
        result: moved(result, (x, y, z) => [...at(x, y), z]),
        about: `ground coordinates about E ${about(base.x)}, N ${about(base.y)}`,
      };
    }
    case 'geographic': {
      const { system } = basis;
      if (!isPublished(system))
        return {
          ok: false,
          reason: 'Local ground has no latitude and longitude. Choose the project’s system under Basis.',
        };
      return {
        ok: true,
        result: {
          ...result,
          points: pointsMoved(result.points, (x, y, z) => {
            const g = geographicAt(system, x, y);
            return g ? [g.longitude, g.latitude, z] : [NaN, NaN, z];
          }),
        },
        about: 'latitude and longitude in degrees on the grid’s own datum',
      };
    }
    case 'local': {
      const intake = doc.intakes.find((i) => i.id === coordinates.intake);
      const inverse = intake?.placement ? invertMatrix(intake.placement.matrix) : null;
      if (!intake || !inverse)
        return {
          ok: false,
          reason: 'This file is not transformed by a fit, so there is no local basis to go back to.',
        };
      return {
        ok: true,
        result: moved(result, (x, y, z) => {
          const p = applyMatrix(inverse, x, y, Number.isNaN(z) ? 0 : z);
          return [p.x, p.y, Number.isNaN(z) ? NaN : p.z];
        }),
        about: `the local coordinates of ${intake.fileName}`,
      };
    }
  }
}

/** Whether contours and a level stay level on the way: not where a plane is tilted back. */
export function staysLevel(doc: ProjectDocument, coordinates: Coordinates): boolean {
  if (coordinates.kind !== 'local') return true;
  const m = doc.intakes.find((i) => i.id === coordinates.intake)?.placement?.matrix;
  return !m || [m[2], m[6], m[8], m[9]].every((v) => Math.abs(v) < 1e-12);
}

/** What a package's numbers are, in a line for its manifest. */
export function basisLine(doc: ProjectDocument, about: string, unit: LengthUnit): string {
  const { basis } = doc;
  return [
    systemLine(basis.system),
    about,
    `project scale factor ${basis.factor.toFixed(8)}${basis.factorSource ? ` (${basis.factorSource})` : ''}`,
    `${basis.heights} heights`,
    basis.geoid ? `geoid ${basis.geoid.name}` : 'no geoid',
    ...(basis.epoch ? [`epoch ${basis.epoch}`] : []),
    UNIT_NAME[unit],
  ].join(', ');
}

type Move = (x: number, y: number, z: number) => [number, number, number];

function pointsMoved(points: PointTable, move: Move): PointTable {
  const out = { ...points, x: points.x.slice(), y: points.y.slice(), z: points.z.slice() };
  for (let i = 0; i < out.x.length; i++) [out.x[i], out.y[i], out.z[i]] = move(points.x[i], points.y[i], points.z[i]);
  return out;
}

/** A line's vertices moved; those without a point keep the elevation that they have by now. Mirrored, arcs bend the other way. */
function lineMoved(line: Line, points: PointTable, move: Move): Line {
  const z = elevationsBetween(line, (row) => points.z[row]);
  const places = line.x.map((x, i) => move(x, line.y[i], z[i]));
  const [o, e, n] = [move(0, 0, 0), move(1, 0, 0), move(0, 1, 0)];
  const turns = (e[0] - o[0]) * (n[1] - o[1]) - (e[1] - o[1]) * (n[0] - o[0]) < 0 ? -1 : 1;
  return {
    ...line,
    x: places.map((p) => p[0]),
    y: places.map((p) => p[1]),
    bulges: line.bulges.map((b) => (b === 0 ? 0 : b * turns)),
    made: line.made.map((m) => ({ at: m.at, from: -1, to: -1, share: 0, rise: places[m.at][2] })),
  };
}

function moved(result: ChainResult, move: Move): ChainResult {
  return {
    ...result,
    points: pointsMoved(result.points, move),
    linework: { ...result.linework, lines: result.linework.lines.map((l) => lineMoved(l, result.points, move)) },
    surfaces: result.surfaces.map((g) => {
      const { surface: s } = g;
      const surface = { ...s, x: s.x.slice(), y: s.y.slice(), z: s.z.slice() };
      for (let i = 0; i < s.x.length; i++) [surface.x[i], surface.y[i], surface.z[i]] = move(s.x[i], s.y[i], s.z[i]);
      return { ...g, surface };
    }),
    contours: new Map([...result.contours].map(([id, c]) => [id, { ...c, list: c.list.map((one) => contourMoved(one, move)) }])), // prettier-ignore
  };
}

function contourMoved(c: Contour, move: Move): Contour {
  const line = c.line.slice();
  let elevation = c.elevation;
  for (let i = 0; i < line.length; i += 2)
    [line[i], line[i + 1], elevation] = move(c.line[i], c.line[i + 1], c.elevation);
  return { ...c, line, elevation };
}

/** The middle of what is used, to the whole metre: what a person would choose as a base when nobody stated one. */
function middleOf(points: PointTable): { x: number; y: number } | null {
  const e = extentOf(points);
  return e ? { x: Math.round((e.minX + e.maxX) / 2), y: Math.round((e.minY + e.maxY) / 2) } : null;
}
