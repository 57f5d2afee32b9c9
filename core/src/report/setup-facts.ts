import type { BookRecord } from '#core/book';

/** When a setup was, with what, and in which air; empty and NaN where the book does not say. */
export type SetupFacts = Pick<BookRecord, 'time' | 'instrument' | 'temperature' | 'pressure' | 'humidity'>;

type Seen = SetupFacts & Pick<BookRecord, 'kind' | 'row'>;

/** Facts of every setup of a book by its row; the air is what the setup says, else what was written down last before its first sighting. */
export function setupFacts(count: number, recordAt: (i: number) => Seen): Map<number, SetupFacts> {
  const out = new Map<number, SetupFacts>();
  let air = { temperature: NaN, pressure: NaN, humidity: NaN };
  let open: number | null = null;
  for (let i = 0; i < count; i++) {
    const { kind, row, time, instrument, temperature, pressure, humidity } = recordAt(i);
    if (kind === 'setup') {
      const own = Number.isNaN(temperature) && Number.isNaN(pressure) ? air : { temperature, pressure, humidity };
      out.set(row, { time, instrument, ...own });
      open = row;
    } else if (kind === 'weather') {
      air = { temperature, pressure, humidity };
      if (open !== null) out.set(open, { ...out.get(open)!, ...air });
    } else if (kind === 'sighting') open = null;
  }
  return out;
}
