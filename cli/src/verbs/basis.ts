import { basename } from 'node:path';
import { factorsAt, fitPairs, gridToGround, type FitPair } from '#core/basis';
import { decodeText } from '#core/exchange';
import { METRES_IN, type LengthUnit } from '#core/measure';
import { boundedBytes, load, pointsOf, unitOption } from '../load.ts';
import { CannotDo, WrongUsage } from '../problems.ts';
import { systemNamed } from '../registry.ts';
import { defineVerb, type Common, type Outcome, type Values } from '../verb.ts';
import { choice, flag, number, READING, text } from '../options.ts';

const FITTING = {
  ...READING,
  scale: choice('--scale <kind>', 'scale solved for or held at 1', ['free', 'fixed'] as const),
  space: flag('--space', 'seven parameters in space'),
};
const FACTORING = {
  ...READING,
  at: text('--at <points>', 'places in the system'),
  projectFactor: number('--project-factor <f>', 'the scale factor that was stated', 0.9, 1.1),
};

// Two systems held against each other by points known in both, and what a grid does to lengths and north at a place.

const COLUMN = /^(from|to)\s+(e|n|z|east|north|elevation)\b/i;
const plain = (v: number): number | null => (Number.isNaN(v) ? null : v);

/** Pairs of a table whose headings say what each column is: Number, From E, From N, From Z, To E, To N, To Z. */
function readPairs(file: string, options: Values<typeof FITTING> & Common): FitPair[] {
  const decoded = decodeText(boundedBytes(file));
  const name = basename(file);
  if (!decoded.ok) throw new CannotDo(`${name}: ${decoded.reason}`);
  const rows = decoded.text.split(/\r?\n/).map((r) => r.split(/[,;\t]/).map((c) => c.trim()));
  const head = rows[0] ?? [];
  const units = new Set(head.flatMap((h) => /\[(m|ft|usft)\]/i.exec(h)?.[1].toLowerCase() ?? []));
  if (units.size > 1) throw new CannotDo(`${name}: its headings say several units.`);
  const unit = unitOption(options.unit) ?? ([...units][0] as LengthUnit | undefined);
  if (!unit) throw new WrongUsage(`${name} does not say its unit: add [m], [ft] or [usft] to its headings, or --unit.`);
  const at = new Map<string, number>();
  head.forEach((h, i) => {
    const [, side, what] = COLUMN.exec(h) ?? [];
    if (side) at.set(`${side.toLowerCase()} ${what[0].toLowerCase().replace('e', /^elev/i.test(what) ? 'z' : 'e')}`, i);
  });
  for (const needed of ['from e', 'from n', 'to e', 'to n'])
    if (!at.has(needed))
      throw new CannotDo(
        `${name} has no column “${needed}”: its headings are Number, From E, From N, From Z, To E, To N, To Z; the elevations may be omitted.`,
      );
  return rows.slice(1).flatMap((cells, i): FitPair[] => {
    if (cells.every((c) => c === '')) return [];
    const value = (key: string): number => {
      const column = at.get(key);
      const text = column === undefined ? '' : (cells[column] ?? '');
      if (text === '' && key.endsWith('z')) return NaN;
      if (!/^[+-]?(\d+(\.\d*)?|\.\d+)$/.test(text))
        throw new CannotDo(`${name}, row ${i + 2}: “${text.slice(0, 30)}” is not a coordinate (${key}).`);
      return Number(text) * METRES_IN[unit];
    };
    const from = { x: value('from e'), y: value('from n'), z: value('from z') };
    const to = { x: value('to e'), y: value('to n'), z: value('to z') };
    const height = !Number.isNaN(from.z + to.z);
    return [{ name: cells[0], from, to, plan: true, height }];
  });
}

/** Local to grid by common points: four parameters in plan (or a turn and a shift), or seven in space. */
function fit([file]: string[], options: Values<typeof FITTING> & Common): Outcome {
  const pairs = readPairs(file, options);
  const kind = options.space ? ('space' as const) : ('plan' as const);
  const heights = pairs.filter((p) => p.height).length;
  const found = fitPairs(pairs, { kind, scale: options.scale ?? 'free', height: heights === 0 ? 'none' : 'shift' });
  if (!found.ok) throw new CannotDo(found.reason);
  const { fit: f } = found;
  const json = {
    pairs: pairs.length,
    kind,
    scale: f.scale,
    rotation: f.rotation,
    shift: { x: f.shift.x, y: f.shift.y, z: plain(f.shift.z) },
    matrix: f.matrix,
    sigmaPlan: plain(f.sigmaPlan),
    sigmaHeight: plain(f.sigmaHeight),
    redundancyPlan: f.redundancyPlan,
    redundancyHeight: f.redundancyHeight,
    residuals: f.residuals.map((r) => ({ name: r.name, x: plain(r.x), y: plain(r.y), z: plain(r.z), w: plain(r.standardised), wHeight: plain(r.standardisedHeight) })), // prettier-ignore
  };
  const text = [
    `${pairs.length} common points: scale ${f.scale.toFixed(9)} (${((f.scale - 1) * 1e6).toFixed(1)} ppm), rotation ${((f.rotation * 180) / Math.PI).toFixed(6)}°, shift E ${f.shift.x.toFixed(4)} N ${f.shift.y.toFixed(4)}${Number.isNaN(f.shift.z) ? '' : ` H ${f.shift.z.toFixed(4)}`} m`,
    f.redundancyPlan > 0
      ? `  standard deviation of a coordinate ${f.sigmaPlan.toFixed(4)} m, ${f.redundancyPlan} redundant`
      : '  no redundancy: nothing tells whether one of them is wrong',
    ...f.residuals.map((r) => `  ${r.name}: E ${r.x.toFixed(4)} N ${r.y.toFixed(4)}${Number.isNaN(r.z) ? '' : ` H ${r.z.toFixed(4)}`} m${Number.isNaN(r.standardised) ? '' : `, w ${r.standardised.toFixed(1)}`}`), // prettier-ignore
  ];
  return { json, text: text.join('\n') };
}

/** Convergence, point scale, elevation factor and combined factor at places of a projected system; grid ↔ ground. */
function factors([system]: string[], options: Values<typeof FACTORING> & Common): Outcome {
  if (!options.at) throw new WrongUsage('factors needs --at, a file of places in the system.');
  const grid = systemNamed(system);
  if (grid.kind !== 'projected')
    throw new CannotDo(`${grid.name} has no grid: latitude and longitude have no scale factor.`);
  const points = pointsOf(load(options.at, options), options);
  const project = options.projectFactor ?? null;
  const list = points.number.map((number, i) => {
    const [x, y] = [points.x[i], points.y[i]];
    const z = Number.isNaN(points.z[i]) ? 0 : points.z[i];
    const f = factorsAt(grid, x, y, z);
    if (!f) throw new CannotDo(`${number || `place ${i + 1}`} lies outside ${grid.name}.`);
    const factor = project ?? f.combined;
    const ground = gridToGround({ x: points.x[0], y: points.y[0] }, factor, { x, y });
    return { number, x, y, z: plain(points.z[i]), convergence: f.convergence, pointScale: f.pointScale, elevationFactor: f.elevationFactor, combined: f.combined, ground, ppmOfProject: project === null ? null : (project - f.combined) * 1e6 }; // prettier-ignore
  });
  const json = { system: grid.name, projectFactor: project, base: list.length ? { x: list[0].x, y: list[0].y } : null, list }; // prettier-ignore
  const text = [
    `${grid.name}${project === null ? '' : `, project factor ${project.toFixed(8)}`}`,
    ...list.map((p) => `  ${p.number}: convergence ${((p.convergence * 180) / Math.PI).toFixed(6)}°, point scale ${p.pointScale.toFixed(8)}, elevation ${p.elevationFactor.toFixed(8)}, combined ${p.combined.toFixed(8)}${p.ppmOfProject === null ? '' : `, project factor ${p.ppmOfProject.toFixed(1)} ppm more`}`), // prettier-ignore
  ];
  return { json, text: text.join('\n') };
}

export const FIT = defineVerb({
  name: 'fit',
  about: 'fits coordinates to others by common points',
  files: { name: 'PAIRS', least: 1, most: 1 },
  options: FITTING,
  run: fit,
});

export const FACTORS = defineVerb({
  name: 'factors',
  about: 'gives convergence and scale factors of a system at places',
  files: { name: 'SYSTEM', least: 1, most: 1 },
  options: FACTORING,
  run: factors,
});
