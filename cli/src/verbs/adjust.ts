import { extname } from 'node:path';
import { chiSquareBounds, findTraverses } from '#core/adjustment';
import { adjustReduction, reduceBooks } from '#core/stages';
import { csvTable, writeText } from '#core/exchange';
import { METRES_IN_FILE } from '#core/measure';
import { trustedHeights, type Levelling } from '#core/reduction';
import { unitOption } from '../load.ts';
import { CannotDo } from '../problems.ts';
import { save } from '../save.ts';
import { fileBooks } from './reduce.ts';
import { defineVerb, type Common, type Outcome, type Values } from '../verb.ts';
import { flag, OUTPUT, READING, REDUCING, TEXT_OUT } from '../options.ts';

const OPTIONS = {
  ...READING,
  ...REDUCING,
  free: flag('--free', 'the network free in itself, control not holding it'),
  ...OUTPUT,
  ...TEXT_OUT,
};
type Options = Values<typeof OPTIONS> & Common;

/** Everything that books say of stations and control, adjusted together. */
function adjust(files: string[], options: Options): Outcome {
  const { doc, readOf } = fileBooks(files, options);
  const { reduction } = reduceBooks(doc, readOf)!;
  const traverses = findTraverses(reduction, doc.settings.centring);
  if (reduction.sights.length === 0 && !reduction.levelling)
    throw new CannotDo('The books sight no known point: there is nothing to adjust.');
  if (reduction.sights.length === 0) return adjustLevels(reduction.levelling!, options);
  const { adjustment: a, outliers } = adjustReduction(reduction, () => 'fixed', doc.settings, options.free ? 'free' : 'standing'); // prettier-ignore
  if (!a.ok) throw new CannotDo(a.reason);
  if (options.output) {
    if (!['.csv', '.txt'].includes(extname(options.output).toLowerCase()))
      throw new CannotDo('Adjusted stations are written as .csv or .txt.');
    save(
      options.output,
      writeText(
        a.points.map((p) => ({ number: p.number, x: p.x, y: p.y, z: p.z, description: '' })),
        {
          order: ['P', 'E', 'N', 'Z'],
          decimals: options.decimals ?? 4,
          unit: unitOption(options.toUnit) ?? 'm',
          separator: ',',
          headings: true,
        },
      ),
    );
  }
  const list = [...a.observations]
    .sort((p, q) => (q.standardised || 0) - (p.standardised || 0))
    .map((o) => ({
      kind: o.observation.kind,
      from: a.points[o.observation.from].number,
      to: o.observation.to < 0 ? null : a.points[o.observation.to].number,
      source: o.observation.source,
      residual: o.residual,
      redundancy: o.redundancy,
      standardised: plain(o.standardised),
    }));
  const json = {
    observations: a.observations.length,
    unknowns: a.unknowns,
    freedom: a.freedom,
    varianceFactor: plain(a.varianceFactor),
    bounds: a.bounds.map(plain),
    iterations: a.iterations,
    stations: a.points,
    doubtful: a.doubtful < 0 ? null : list[0],
    outliers: outliers.map(({ observation: o, slip, standardised, alike }) => ({ kind: o.kind, from: a.points[o.from].number, to: o.to < 0 ? null : a.points[o.to].number, source: o.source, slip, standardised, alike: alike.map((p) => ({ kind: p.kind, source: p.source })) })), // prettier-ignore
    traverses: traverses.map(
      ({ stations, length, angular, angles, dx, dy, dz, linear, ratio, suspect, suspects, ...t }) => ({
        kind: t.kind,
        stations,
        length,
        angular: plain(angular),
        angles,
        dx,
        dy,
        dz: plain(dz),
        linear,
        ratio: Number.isFinite(ratio) ? ratio : null,
        suspect,
        suspects,
        compass: t.compass,
        transit: t.transit,
      }),
    ),
    ...levelJson(reduction.levelling),
    list,
  };
  const text = [
    `${json.observations} observations, ${json.unknowns} unknowns, ${json.freedom} redundant; variance factor ${a.varianceFactor.toFixed(3)} (${a.bounds.map((b) => b.toFixed(2)).join(' … ')})`,
    ...a.points.map(
      (p) =>
        `  ${p.number}: E ${p.x.toFixed(4)} N ${p.y.toFixed(4)} H ${p.z.toFixed(4)}, ellipse ${p.ellipse.major.toFixed(4)} × ${p.ellipse.minor.toFixed(4)} m`,
    ),
    ...traverses.map(
      (t) =>
        `  traverse ${t.stations.join(' – ')}: misses ${t.stations.at(-1)} by ${t.linear.toFixed(4)} m on ${t.length.toFixed(1)} m${Number.isNaN(t.angular) ? '' : `, ${((t.angular * 648_000) / Math.PI).toFixed(1)}″ in ${t.angles} angles`}${t.suspect ? `; points to ${t.suspect}` : ''}`,
    ),
    ...levelLines(reduction.levelling),
    ...json.outliers.map((o) => `  excluded by the test: ${o.kind} ${o.from} → ${o.to}, off by ${o.kind === 'direction' ? `${((o.slip * 648_000) / Math.PI).toFixed(1)}″` : `${o.slip.toFixed(4)} m`}, ${o.standardised.toFixed(1)} of its deviations`), // prettier-ignore
    ...(json.doubtful?.standardised
      ? [
          `  most doubtful: ${json.doubtful.kind} ${json.doubtful.from} → ${json.doubtful.to}, ${json.doubtful.standardised.toFixed(1)} of its deviations`,
        ]
      : []),
  ];
  return { json, text: text.join('\n') };
}

const plain = (v: number): number | null => (Number.isNaN(v) ? null : v);

function levelJson(levelling: Levelling | null) {
  const trusted = levelling ? trustedHeights(levelling) : new Map<string, never>();
  return {
    levelRuns: (levelling?.runs ?? []).map(({ from, to, differences, ...run }) => ({
      from,
      to,
      setups: differences.length,
      length: run.length,
      difference: run.difference,
      misclosure: plain(run.misclosure),
      allowed: run.allowed,
      within: run.within,
    })),
    levelLoops: (levelling?.loops ?? []).map(({ points, length, misclosure, allowed, within }) => ({ points, length, misclosure, allowed, within })), // prettier-ignore
    twoPegTests: (levelling?.tests ?? []).map(({ book, from, to, collimation, sd }) => ({ book, from, to, collimation, sd })), // prettier-ignore
    levelled: (levelling?.heights ?? []).map((h) => ({ ...h, waits: !trusted.has(h.number) })),
  };
}

function levelLines(levelling: Levelling | null): string[] {
  const json = levelJson(levelling);
  return [
    ...json.levelRuns.map(
      (r) =>
        `  level run ${r.from} → ${r.to}: ${r.misclosure === null ? 'open' : `misclosure ${r.misclosure.toFixed(4)} m, ${r.allowed.toFixed(4)} allowed${r.within ? '' : ': its heights are not used'}`}`,
    ),
    ...json.levelLoops.map((l) => `  level loop ${l.points.join(' – ')}: misclosure ${l.misclosure.toFixed(4)} m, ${l.allowed.toFixed(4)} allowed${l.within ? '' : ': over it'}`), // prettier-ignore
    ...json.twoPegTests.map((t) => `  two-peg test ${t.from} – ${t.to}: the line of sight ${t.collimation >= 0 ? 'rises' : 'falls'} by ${(Math.abs(t.collimation) * 30_000).toFixed(1)} mm in 30 m`), // prettier-ignore
  ];
}

/** Books of levels alone: their net, adjusted by its lengths. */
function adjustLevels(levelling: Levelling, options: Options): Outcome {
  if (levelling.heights.length === 0)
    throw new CannotDo(
      `No height can be found: ${levelling.problems[0]?.text ?? 'the books hold no level reading linked to a known height'}.`,
    );
  const trusted = trustedHeights(levelling);
  if (options.output) {
    if (!['.csv', '.txt'].includes(extname(options.output).toLowerCase()))
      throw new CannotDo('Adjusted heights are written as .csv or .txt.');
    const unit = unitOption(options.toUnit) ?? 'm';
    const per = METRES_IN_FILE[unit];
    if (trusted.size === 0) throw new CannotDo('Every run misses its end by more than is allowed: no height can be written.'); // prettier-ignore
    const rows = [...trusted.values()].map((h) => [h.number, (h.z / per).toFixed(options.decimals ?? 4), (h.sd / per).toFixed(4)]); // prettier-ignore
    save(options.output, csvTable([['Number', `Elevation [${unit}]`, `Deviation [${unit}]`], ...rows]));
  }
  const json = {
    freedom: levelling.freedom,
    varianceFactor: plain(levelling.varianceFactor),
    bounds: chiSquareBounds(levelling.freedom).map(plain),
    problems: levelling.problems,
    ...levelJson(levelling),
  };
  const text = [
    `${levelling.heights.length} heights by level, ${json.freedom} redundant${json.varianceFactor === null ? '' : `; variance factor ${json.varianceFactor.toFixed(3)}`}`,
    ...levelling.heights.map((h) => `  ${h.number}: H ${h.z.toFixed(4)} ± ${h.sd.toFixed(4)} m${trusted.has(h.number) ? '' : ', waits: its run misses by too much'}`), // prettier-ignore
    ...levelLines(levelling),
    ...levelling.problems.map((p) => `  ${p.text}`),
  ];
  return { json, text: text.join('\n') };
}

export const ADJUST = defineVerb({
  name: 'adjust',
  about: 'adjusts the stations of field books together',
  files: { name: 'BOOK', least: 1, most: 100 },
  options: OPTIONS,
  run: adjust,
});
