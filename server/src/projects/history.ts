import {
  asksReceived,
  changeDetails,
  changeStage,
  recordOfKey,
  withReceived,
  type Change,
  type ChangeDetail,
  type HistoryUnits,
} from '#core/project';
import type { ChangeEntry } from '#contract';
import { whyOf, type ChangeHead } from './changes.ts';
import { findBlock } from '../results/kept-results.ts';
import { settingsOf } from './documents.ts';
import { STANDS } from './undo.ts';
import type { ProjectServices } from './services.ts';

interface Row extends ChangeHead {
  change: Change;
  inverse: Change;
  mine: boolean;
}

/** How many changes a list holds, and how many values of each. */
const MOST = { changes: 1000, details: 50 };

const CHANGES = `select c.revision, c.at, a.name as by, c.kind, c.about, c.what, c.change, c.inverse, c.account_id = $2 and ${STANDS} as mine
  from change c join account a on a.id = c.account_id where c.project_id = $1`;

/** Every change with what it set, newest first, as one person sees them. */
export async function changeList(
  services: ProjectServices,
  project: string,
  account: string,
  most = MOST,
): Promise<ChangeEntry[]> {
  const { pool } = services;
  const settings = await settingsOf(pool, project);
  const rows = await pool.query<Row>(`${CHANGES} order by c.revision desc limit $3`, [project, account, most.changes]);
  return told(services, project, settings, rows.rows, (all) => all.slice(0, most.details));
}

/** Changes that speak of one point or record, by its key `intake:row`: its file's, and its own with their values. Oldest first. */
export async function changesAbout(
  services: ProjectServices,
  project: string,
  account: string,
  key: string,
): Promise<ChangeEntry[]> {
  const { pool } = services;
  const settings = await settingsOf(pool, project);
  const intake = recordOfKey(key)?.intake ?? '';
  const rows = await pool.query<Row>(
    `${CHANGES} and (c.change -> 'edits' ? $3 or c.change ->> 'key' = $3
       or c.change -> 'intake' ->> 'id' = $4 or c.change ->> 'id' = $4 or c.change -> 'ids' ? $4
       or jsonb_path_exists(c.change::jsonb, '$.changes[*] ? (@.intake.id == $intake || @.id == $intake || exists(@.edits.keyvalue() ? (@.key == $key)))', jsonb_build_object('intake', $4::text, 'key', $3::text)))
     order by c.revision limit 500`,
    [project, account, key, intake],
  );
  return told(services, project, settings, rows.rows, (all) => all.filter((d) => d.key === key));
}

async function told(
  services: ProjectServices,
  project: string,
  settings: HistoryUnits,
  rows: Row[],
  some: (all: ChangeDetail[]) => ChangeDetail[],
): Promise<ChangeEntry[]> {
  const details = rows.map(({ change, inverse }) => some(changeDetails(change, inverse, settings)));
  const found = await received(services, project, details.flat(), settings);
  return rows.map(({ change, inverse: _, at, ...r }, i) => ({
    ...r,
    at: at.toISOString(),
    stage: changeStage(change),
    details: details[i].map((d) => found.get(d) ?? d),
    ...whyOf(change),
  }));
}

/** Details that speak of values as received, with those values: read from what was settled of each file. */
async function received(
  { pool, settler }: Pick<ProjectServices, 'pool' | 'settler'>,
  project: string,
  details: ChangeDetail[],
  units: HistoryUnits,
): Promise<Map<ChangeDetail, ChangeDetail>> {
  const out = new Map<ChangeDetail, ChangeDetail>();
  const asking = new Map<string, ChangeDetail[]>();
  for (const d of details.filter(asksReceived)) {
    const intake = recordOfKey(d.key!)?.intake;
    if (intake === undefined) continue;
    const list = asking.get(intake);
    if (list) list.push(d);
    else asking.set(intake, [d]);
  }
  const reads = asking.size ? (await settler.settled(project))?.stages.reads : undefined;
  for (const [intake, list] of asking) {
    const block = reads?.[intake] && (await findBlock(pool, reads[intake]));
    if (!block) continue;
    const asked = list.map((d) => ({ row: Number(d.key!.slice(intake.length + 1)), field: d.name }));
    const values = await settler.received({ read: block, asked });
    list.forEach((d, i) => out.set(d, withReceived(d, values[i], units)));
  }
  return out;
}
