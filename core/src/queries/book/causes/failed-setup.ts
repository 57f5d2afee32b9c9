import { distance, sin } from '#core/kernel';
import { type BookRecord, recordsOfSetup } from '#core/book';
import type { Reduction, SetupResult } from '#core/reduction';
import type { BookAt } from '#core/stages';
import type { ProjectDocument } from '#core/project';
import { editOne } from '../../remedies.ts';
import type { Remedy } from '../../query.ts';
import { facedRows } from './faced-rows.ts';

/** What would let a setup be reduced that could not be, and why. */
export interface Way {
  text: string;
  remedies: Remedy[];
}

export function waysForFailed(doc: ProjectDocument, setup: SetupResult, reduction: Reduction, b: BookAt): Way | null {
  const wrong = setup.backsights.find((c) => c.slip === 'face');
  if (wrong) return otherFace(setup, wrong.row, b);
  return otherStation(doc, setup, reduction, b);
}

/** The reading, or every reading of the setup where all of them say the other face. */
function otherFace(setup: SetupResult, row: number, b: BookAt): Way {
  const all = recordsOfSetup(b.records, setup.row).filter((r) => !Number.isNaN(r.zenith));
  const contrary = all.filter((r) => (r.face === 2 ? r.zenith < PI : r.face === 1 && r.zenith > PI));
  const whole = contrary.length > 2 && contrary.length > 0.8 * all.length;
  const rows = whole ? contrary : facedRows(b.records, setup.row, row);
  return {
    text: whole
      ? `${contrary.length === all.length ? 'All' : `All but ${all.length - contrary.length}`} of its readings are of the other face than the one they say.`
      : '',
    remedies: [
      {
        label: whole ? `Swap the faces of all ${rows.length}` : 'Swap its faces',
        change: {
          op: 'points.edit',
          edits: Object.fromEntries(rows.map((r) => [`${b.id}:${r.row}`, { set: { face: r.face === 2 ? 1 : 2 }, undo: [] }])), // prettier-ignore
        },
      },
    ],
  };
}
const PI = 3.141592653589793;

/** Another known point from which the measured distances to two known targets or more come out right. */
function otherStation(doc: ProjectDocument, setup: SetupResult, reduction: Reduction, b: BookAt): Way | null {
  const { checkPlan } = doc.settings;
  const sighted = recordsOfSetup(b.records, setup.row).flatMap((r) => {
    const target = reduction.known.get(r.number);
    return target && !Number.isNaN(r.distance + r.zenith) ? [{ target, flat: flatOf(r) * doc.basis.factor }] : [];
  });
  const targets = [...new Set(sighted.map((s) => s.target.number))];
  if (targets.length < 2) return null;
  const fits = [...reduction.known.values()].filter((k) =>
    sighted.every((s) => {
      const off = Math.abs(distance(s.target.x - k.x, s.target.y - k.y) - s.flat);
      return k.number !== setup.number && s.target.number !== k.number && off <= checkPlan + 2e-5 * s.flat;
    }),
  );
  if (fits.length !== 1) return null;
  const [known] = fits;
  return {
    text: `The distances to ${targets.join(' and ')} fit ${known.number}. Did the instrument stand there?`,
    remedies: [
      { label: `The station is ${known.number}`, change: editOne(`${b.id}:${setup.row}`, { number: known.number }) },
    ],
  };
}

/** Near enough to compare with known distances: a slope distance laid flat, in either face. */
const flatOf = (r: BookRecord): number => r.distance * Math.abs(sin(r.zenith));
