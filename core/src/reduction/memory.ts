import type { BookRecord } from '#core/book';
import type { SetupResult, Sight } from './types.ts';
import type { ReductionNote } from './notes.ts';
import type { Known } from './known.ts';
import type { KeptPoints } from './points.ts';

/** What one setup gave, and everything that it was made from. */
export interface KeptSetup {
  /** The records themselves: one that was edited is another. */
  records: readonly BookRecord[];
  /** Whatever else it depends on, as text: station, targets, air, decisions, settings. */
  rests: string;
  setup: SetupResult;
  notes: ReductionNote[];
  sights: Sight[];
  carried: Known[];
  points: KeptPoints;
}

/** Setups of an earlier reduction, so that an edited reading reduces its own setup and what hangs on it. */
export class ReductionMemory {
  private readonly kept = new Map<string, KeptSetup>();
  /** How many sightings were really reduced, over all runs. */
  sightings = 0;

  find(key: string, records: readonly BookRecord[], rests: string): KeptSetup | null {
    const kept = this.kept.get(key);
    if (!kept || kept.rests !== rests || kept.records.length !== records.length) return null;
    for (let i = 0; i < records.length; i++) if (records[i] !== kept.records[i]) return null;
    return kept;
  }

  keep(key: string, setup: KeptSetup): void {
    this.kept.delete(key);
    this.kept.set(key, setup);
    if (this.kept.size > MOST) this.kept.delete(this.kept.keys().next().value!);
  }
}

const MOST = 20_000;
