import { createHash } from 'node:crypto';
import { LRUCache } from 'lru-cache';
import {
  ALWAYS_READ,
  changeReads,
  documentOf as documentOfParts,
  layParts,
  partsOf,
  upgradeDocument,
  type Change,
  type Part,
  type PartsWanted,
  type ProjectDocument,
  type RankedDocument,
  type Settings,
} from '#core/project';
import { inTransaction, type Client, type Pool } from '../db/db.ts';
import { notFound } from '../http/problems.ts';

// Documents in parts, as the table holds them.

const digest = (key: string): string => createHash('md5').update(key).digest('hex');

/** Some parts of a project as they stand. */
export async function readParts(db: Pool | Client, project: string, wanted: readonly PartsWanted[]): Promise<Part[]> {
  const values: unknown[] = [project];
  const bind = (value: unknown): string => `$${values.push(value)}`;
  const choices = wanted.map((w) => {
    const kind = `kind = ${bind(w.kind)}`;
    if ('all' in w) return kind;
    if ('under' in w) return `${kind} and starts_with(key, ${bind(w.under)})`;
    return `${kind} and digest = any(${bind(w.keys.map(digest))})`;
  });
  const found = await db.query<Part>(
    `select kind, key, rank, value from part where project_id = $1 and value is not null and (${choices.map((c) => `(${c})`).join(' or ')})`,
    values,
  );
  return found.rows;
}

/** Writes parts at a revision; those without a value are marked as gone. */
export async function writeParts(
  client: Client,
  project: string,
  revision: number,
  parts: readonly Part[],
): Promise<void> {
  await client.query(
    `insert into part (project_id, kind, key, rank, value, revision)
     select $1, p.kind, p.key, p.rank, p.value::jsonb, $2
     from unnest($3::text[], $4::text[], $5::double precision[], $6::text[]) as p (kind, key, rank, value)
     on conflict (project_id, kind, digest) do update set rank = excluded.rank, value = excluded.value, revision = excluded.revision`,
    [
      project,
      revision,
      parts.map((p) => p.kind),
      parts.map((p) => p.key),
      parts.map((p) => p.rank),
      parts.map((p) => (p.value === null ? null : JSON.stringify(p.value))),
    ],
  );
}

/** As much of a document as a change has to know. */
export const documentFor = async (client: Client, project: string, change: Change): Promise<RankedDocument> =>
  documentOfParts(await readParts(client, project, [...ALWAYS_READ, ...changeReads(change)]));

/** The settings alone. */
export const settingsOf = async (db: Pool | Client, project: string): Promise<Settings> =>
  documentOfParts(await readParts(db, project, ALWAYS_READ)).document.settings;

interface Kept {
  revision: number;
  ranked: RankedDocument;
}

/** Documents as they were last asked for: of the next revision only what moved is read. */
const kept = new LRUCache<string, Kept>({ max: 16 });

/** What of a project moved since a revision; all that there is where that is null. One statement, one state. */
export async function partsSince(
  db: Pool,
  project: string,
  since: number | null,
): Promise<{ revision: number; parts: Part[] }> {
  const found = await db.query<{ revision: number } & { [K in keyof Part]: Part[K] | null }>(
    `select p.revision, t.kind, t.key, t.rank, t.value
     from project p left join part t on t.project_id = p.id and t.revision > $2 and (t.value is not null or $2 >= 0)
     where p.id = $1`,
    [project, since ?? -1],
  );
  if (!found.rows[0]) throw notFound();
  const [{ revision }] = found.rows;
  return { revision, parts: found.rows.flatMap(({ kind, key, rank, value }) => (kind === null ? [] : [{ kind, key: key!, rank, value }])) }; // prettier-ignore
}

/** A project’s document at its newest revision. It is shared: nobody alters it. */
export async function newestDocument(
  db: Pool,
  project: string,
): Promise<{ revision: number; document: ProjectDocument }> {
  const before = kept.get(project);
  const { revision, parts } = await partsSince(db, project, before?.revision ?? null);
  // A restored backup may stand before what was known.
  if (before && revision < before.revision) {
    kept.delete(project);
    return newestDocument(db, project);
  }
  const ranked = before ? layParts(before.ranked, parts) : documentOfParts(parts);
  kept.set(project, { revision, ranked });
  return { revision, document: ranked.document };
}

export const documentOf = async (db: Pool, project: string): Promise<ProjectDocument> =>
  (await newestDocument(db, project)).document;

/** Puts a whole document where a project has none. */
export const insertDocument = (client: Client, project: string, document: ProjectDocument, revision = 0) =>
  writeParts(client, project, revision, partsOf(document));

/** Takes apart documents that earlier versions kept as one value; a start that is ended on the way goes on at the next. */
export async function takeApartOldDocuments(pool: Pool): Promise<void> {
  const old = await pool.query<{ id: string }>('select id from project where document is not null');
  for (const { id } of old.rows)
    await inTransaction(pool, async (client) => {
      const found = await client.query<{ revision: number; document: ProjectDocument | null }>(
        'select revision, document from project where id = $1 for update',
        [id],
      );
      const row = found.rows[0] as (typeof found.rows)[0] | undefined;
      if (!row?.document) return;
      await client.query('update part set value = null, revision = $2 where project_id = $1', [id, row.revision]);
      await insertDocument(client, id, upgradeDocument(row.document), row.revision);
      await client.query('update project set document = null where id = $1', [id]);
      kept.delete(id);
    });
}
