import { extname } from 'node:path';
import { findTraverses } from '#core/adjustment';
import { adjustReduction, reduceBooks } from '#core/chain';
import { writeText } from '#core/exchange';
import { unitOption } from '../load.ts';
import { CannotDo } from '../problems.ts';
import { save } from '../save.ts';
import { fileBooks } from './reduce.ts';
import type { Options, Outcome } from '../main.ts';

/** Everything that books say of stations and control, adjusted together. */
export function adjust(files: string[], options: Options): Outcome {
  const { doc, readOf } = fileBooks(files, options);
  const { reduction } = reduceBooks(doc, readOf)!;
  const traverses = findTraverses(reduction);
  if (reduction.sights.length === 0) throw new CannotDo('The books sight no known point: there is nothing to adjust.');
  const a = adjustReduction(reduction, () => 'fixed', options.free ? 'free' : 'standing');
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
  const plain = (v: number): number | null => (Number.isNaN(v) ? null : v);
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
    traverses: traverses.map(({ stations, length, angular, angles, dx, dy, dz, linear, ratio, suspect, ...t }) => ({
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
      compass: t.compass,
      transit: t.transit,
    })),
    levelRuns: (reduction.levelling?.runs ?? []).map(({ from, to, differences, ...run }) => ({
      from,
      to,
      setups: differences.length,
      length: run.length,
      difference: run.difference,
      misclosure: plain(run.misclosure),
      allowed: run.allowed,
      within: run.within,
    })),
    levelled: reduction.levelling?.heights ?? [],
    list,
  };
  const text = [
    `${json.observations} observations, ${json.unknowns} unknowns, ${json.freedom} redundant; variance factor ${a.varianceFactor.toFixed(3)} (${a.bounds.map((b) => b.toFixed(2)).join(' … ')})`,
    ...a.points.map(
      (p) =>
        `  ${p.number}: E ${p.x.toFixed(4)} N ${p.y.toFixed(4)} H ${p.z.toFixed(4)}, ellipse ${p.ellipse.major.toFixed(4)} × ${p.ellipse.minor.toFixed(4)} m`,
    ),
    ...traverses.map(
      (t) => `  traverse ${t.stations.join(' – ')}: ${t.linear.toFixed(4)} m on ${t.length.toFixed(1)} m`,
    ),
    ...json.levelRuns.map(
      (r) =>
        `  level run ${r.from} → ${r.to}: ${r.misclosure === null ? 'open' : `misclosure ${r.misclosure.toFixed(4)} m, ${r.allowed.toFixed(4)} allowed`}`,
    ),
    ...(json.doubtful?.standardised
      ? [
          `  most doubtful: ${json.doubtful.kind} ${json.doubtful.from} → ${json.doubtful.to}, ${json.doubtful.standardised.toFixed(1)} of its deviations`,
        ]
      : []),
  ];
  return { json, text: text.join('\n') };
}
