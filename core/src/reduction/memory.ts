import type { BookRecord } from '#core/book';
import type { SetupResult, Sight } from './types.ts';
import type { ReductionNote } from './notes.ts';
import type { Known } from './known.ts';
import type { KeptPoints } from './points.ts';
import type { SpecialNumbers } from './occupations.ts';

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

/** Setups of an earlier reduction, so that an edited reading reduces its own setup and what depends on it. */
export class ReductionMemory {
  private readonly kept = new Map<string, KeptSetup>();
  /** How many sightings were really reduced, over all runs. */
  sightings = 0;

  private readonly special = new Map<
    string,
    { records: readonly BookRecord[]; numbers: string; found: BookRecord[] }
  >();

  /** Records of a setup whose numbers ask for more; looked for anew where records or those numbers are others. */
  specialOf(key: string, records: readonly BookRecord[], special: SpecialNumbers): BookRecord[] {
    const { numbers } = special;
    const before = this.special.get(key);
    if (before?.numbers === numbers && sameObjects(before.records, records)) return before.found;
    const found = records.filter((r) => special.kindOf(r.number) !== undefined);
    this.special.delete(key);
    this.special.set(key, { records, numbers, found });
    if (this.special.size > MOST) this.special.delete(this.special.keys().next().value!);
    return found;
  }

  find(key: string, records: readonly BookRecord[], rests: string): KeptSetup | null {
    const kept = this.kept.get(key);
    return kept && kept.rests === rests && sameObjects(kept.records, records) ? kept : null;
  }

  keep(key: string, setup: KeptSetup): void {
    this.kept.delete(key);
    this.kept.set(key, setup);
    if (this.kept.size > MOST) this.kept.delete(this.kept.keys().next().value!);
  }
}

const MOST = 20_000;

function sameObjects(a: readonly object[], b: readonly object[]): boolean {
  if (a.length !== b.length) return false;
  for (let i = 0; i < a.length; i++) if (a[i] !== b[i]) return false;
  return true;
}
