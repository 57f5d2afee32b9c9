import type { Router } from 'express';
import { fileStem } from '#core/exchange';
import { cutGeoid, factorsAt, geographicAt, geoidHeight, isPublished, writeGtx, type GeoidGrid } from '#core/basis';
import type { ProjectDocument } from '#core/project';
import { geoidOf } from '#core/sources';
import { extentOf, unpackPoints } from '#core/stages';
import { factorsSchema, gridRequestSchema, type FactorsAnswer, type GridFacts, type PointHistory } from '#contract';
import { documentOf } from './documents.ts';
import { findBlock } from '../results/kept-results.ts';
import { gridBytes } from './read-task.ts';
import { changesAbout } from './history.ts';
import { gridFactsOf } from '../jobs/decode.ts';
import { bytesOfOriginal, originalOf } from './originals.ts';
import type { Pool } from '../db/db.ts';
import { accountOf } from '../accounts/signed-in.ts';
import { allow, membershipOf } from '../accounts/membership.ts';
import { bodyOf, notFound, Refusal } from '../http/problems.ts';
import type { ProjectServices } from './services.ts';

/** What the project's numbers mean on earth: factors, grids, the geoid's piece, control on paper, a point's history. */
export function basisRoutes(router: Router, services: ProjectServices): void {
  const { pool } = services;

  router.post('/factors', allow('see'), async (request, response) => {
    const { project } = membershipOf(request);
    const { places } = bodyOf(request, factorsSchema);
    const document = await documentOf(pool, project);
    const geoid = await geoidGrid(services, project, document);
    response.json(factorsOf(document, geoid, places));
  });

  router.post('/grids', allow('change'), async (request, response) => {
    const { project } = membershipOf(request);
    const { fileId } = bodyOf(request, gridRequestSchema);
    response.json(await gridFacts(pool, project, fileId));
  });

  router.get('/geoid-piece', allow('see'), async (request, response) => {
    const { project } = membershipOf(request);
    const document = await documentOf(pool, project);
    const geoid = await geoidGrid(services, project, document);
    if (!geoid) throw new Refusal(409, 'The project has no geoid to cut the site’s part from.');
    const area = await siteArea(services, project, document);
    if (!area) throw new Refusal(409, 'There are no points yet, so the part of it around the site is not known.');
    const piece = cutGeoid(geoid, area);
    if (!piece) throw new Refusal(409, 'The site lies outside the geoid, wholly or in part. Nothing was cut.');
    const name = fileStem(document.basis.geoid!.name.replace(/\.[^.]*$/, ''));
    response
      .attachment(`${name}-site.gtx`)
      .type('application/octet-stream')
      .send(Buffer.from(writeGtx(piece)));
  });

  router.get('/points/history', allow('see'), async (request, response) => {
    const { project } = membershipOf(request);
    const key = String(request.query.key ?? '').slice(0, 80);
    if (!/^[^:]{1,40}:\d{1,9}$/.test(key)) throw notFound('This point');
    response.json({ entries: await changesAbout(services, project, accountOf(request), key) } satisfies PointHistory);
  });
}

async function geoidGrid(
  { pool }: ProjectServices,
  project: string,
  document: ProjectDocument,
): Promise<GeoidGrid | null> {
  const ref = document.basis.geoid;
  if (!ref) return null;
  const read = await geoidOf(ref, await gridBytes(pool, project, [ref]));
  if (!read.ok) throw new Refusal(422, read.reason);
  return read.grid;
}

function factorsOf(
  document: ProjectDocument,
  geoid: GeoidGrid | null,
  places: [number, number, number | null][],
): FactorsAnswer {
  const { system, heights, interpolation } = document.basis;
  return {
    list: places.map(([x, y, z]) => {
      if (!isPublished(system)) return null;
      const at = geographicAt(system, x, y);
      if (!at) return null;
      const found = geoid ? geoidHeight(geoid, at.longitude, at.latitude, interpolation) : NaN;
      const above = Number.isNaN(found) ? 0 : found;
      const factors = factorsAt(system, x, y, (z ?? 0) + (heights === 'orthometric' ? above : 0));
      return factors ? { factors, geoidHeight: Number.isNaN(found) ? null : found } : null;
    }),
  };
}

/** What a received grid file is, checked before anything computes with it. */
async function gridFacts(pool: Pool, project: string, fileId: string): Promise<GridFacts> {
  const file = await originalOf(pool, project, fileId);
  const bytes = await bytesOfOriginal(pool, project, fileId);
  if (!file || !bytes) throw notFound('This file');
  const read = await gridFactsOf(bytes, file.name);
  if (!read.ok) throw new Refusal(422, `${file.name}: ${read.reason} Nothing was changed.`);
  const { format, use, areas, rows, columns } = read;
  return { ref: { fileId, name: file.name, sha256: file.sha256, format }, use, areas, rows, columns };
}

async function siteArea({ pool, settler }: ProjectServices, project: string, document: ProjectDocument) {
  const { system } = document.basis;
  const settled = await settler.settled(project);
  if (!settled || !isPublished(system)) return null;
  const block = await findBlock(pool, settled.stages.points);
  if (!block) return null;
  const e = extentOf(unpackPoints(block));
  if (!e) return null;
  const corners = [
    [e.minX, e.minY],
    [e.minX, e.maxY],
    [e.maxX, e.minY],
    [e.maxX, e.maxY],
  ].map(([x, y]) => geographicAt(system, x, y));
  if (corners.some((c) => !c)) return null;
  const lon = corners.map((c) => c!.longitude);
  const lat = corners.map((c) => c!.latitude);
  return { west: Math.min(...lon), east: Math.max(...lon), south: Math.min(...lat), north: Math.max(...lat) };
}
