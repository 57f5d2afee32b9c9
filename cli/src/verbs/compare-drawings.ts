import { compareThings, extentOfThings, thingsOf, type Compared, type Told } from '#core/exchange';
import { METRES_IN_FILE } from '#core/measure';
import { onLayers } from '../layers.ts';
import { load, unitIn } from '../load.ts';
import { length, READING, text } from '../options.ts';
import { CannotDo } from '../problems.ts';
import { defineVerb, type Common, type Outcome, type Values } from '../verb.ts';

const OPTIONS = {
  ...READING,
  layer: text('--layer <layers>', 'only what is on these layers, separated by commas'),
  tolerance: length('--tolerance <length>', 'what is nearer than this is in the same place; 0.1 mm otherwise', 0),
  reach: length('--reach <length>', 'what lies further apart is not the same thing moved; a tenth of the drawing otherwise', 0), // prettier-ignore
};
type Options = Values<typeof OPTIONS> & Common;

/** m. */
const TOLERANCE = 1e-4;
const REACH = 0.1;
const MOST_SHOWN = 20;

/** What came, went, moved, turned and changed from one drawing to the next. */
function compare([before, after]: string[], options: Options): Outcome {
  const [a, b] = [before, after].map((file) => read(file, options));
  const settings = {
    tolerance: options.tolerance || TOLERANCE,
    reach: options.reach ?? REACH * extentOfThings([...a, ...b]),
  };
  const got = compareThings(a, b, settings);
  return { json: withoutOrder(got), text: asText(got) };
}

/** Which of the things of a drawing each is says nothing outside. */
const withoutOrder = (got: Compared): Record<string, unknown> =>
  JSON.parse(JSON.stringify(got, (key, value: unknown) => (key === 'before' || key === 'after' ? undefined : value))) as Record<string, unknown>; // prettier-ignore

function read(file: string, options: Options) {
  const loaded = onLayers(load(file, options), options.layer);
  if (loaded.kind === 'points') throw new CannotDo(`${file} is text, and no drawing. Compare drawings, LandXML or GeoJSON.`); // prettier-ignore
  return thingsOf(loaded, METRES_IN_FILE[unitIn(options.unit) ?? loaded.unit ?? 'm']);
}

function asText({ unchanged, added, removed, moved, changed, relayered, groups }: Compared): string {
  const at = ({ kind, layer, text: said, x, y }: Told): string => `E ${x.toFixed(3)} N ${y.toFixed(3)}: ${kind} on ${layer || 'no layer'}${said ? ` “${said.split('\n').join(' ')}”` : ''}`; // prettier-ignore
  const list = <T extends Told>(what: string, of: readonly T[], more: (t: T) => string = () => ''): string[] =>
    of.length === 0
      ? []
      : [
          `${of.length} ${what}`,
          ...of.slice(0, MOST_SHOWN).map((t) => `  ${at(t)}${more(t)}`),
          ...(of.length > MOST_SHOWN ? [`  … and ${of.length - MOST_SHOWN} more; --json lists them all`] : []),
        ];
  return [
    `${unchanged} unchanged`,
    ...list('added', added),
    ...list('removed', removed),
    ...list('moved', moved, (t) => `, by ${t.dx.toFixed(3)} east, ${t.dy.toFixed(3)} north`),
    ...list('changed', changed, (t) => `: ${t.what.split('\n').join(' ')}`),
    ...list('on another layer', relayered, (t) => `, from ${t.from}`),
    ...groups.map((g) => `${g.things.length} rotated together by ${((g.angle * 180) / Math.PI).toFixed(4)}° about E ${g.x.toFixed(3)} N ${g.y.toFixed(3)}`), // prettier-ignore
  ].join('\n');
}

export const COMPARE_DRAWINGS = defineVerb({
  name: 'compare-drawings',
  about: 'what came, went, moved, turned and changed from one drawing to its next issue',
  files: { name: 'FILE', least: 2, most: 2 },
  options: OPTIONS,
  run: compare,
});
