import type { Live } from '../http/live.ts';
import type { Door } from '../http/door.ts';
import type { Pool } from '../db/db.ts';
import type { Intakes } from './intakes.ts';
import type { Settler } from '../results/settle.ts';

export interface ProjectServices {
  pool: Pool;
  settler: Settler;
  intakes: Intakes;
  live: Live;
  door: Door;
}
