import { formatLength, readLength, type LengthUnit } from '#core/measure';
import type { TemplatePlace } from './strip.ts';

export type ReadTemplate = { ok: true; template: TemplatePlace[] } | { ok: false; reason: string };

const MOST_PLACES = 50;

/** A template as it is typed: offset and height of every place, from left to right, places apart by a semicolon or a new line. */
export function readTemplate(text: string, unit: LengthUnit): ReadTemplate {
  const parts = text.split(/[;\n]/).map((p) => p.trim()).filter(Boolean); // prettier-ignore
  const no = (reason: string): ReadTemplate => ({ ok: false, reason });
  if (parts.length < 2 || parts.length > MOST_PLACES) return no(`A template has 2 to ${MOST_PLACES} places, apart by semicolons: offset and height each.`); // prettier-ignore
  const template: TemplatePlace[] = [];
  for (const part of parts) {
    const [offset, height, ...rest] = part.split(/\s+/).map((t) => readLength(t.replace('−', '-'), unit));
    if (!offset?.ok || (height && !height.ok) || rest.length) return no(`“${part}” is no place of a template: type its offset and its height.`); // prettier-ignore
    const before = template.at(-1);
    if (before && !(offset.metres > before.offset)) return no(`“${part}” is not farther to the right than the place before it.`); // prettier-ignore
    template.push({ offset: offset.metres, height: height?.ok ? height.metres : 0 });
  }
  return { ok: true, template };
}

/** A template as it can be typed again. */
export const templateText = (template: readonly TemplatePlace[], unit: LengthUnit): string =>
  template.map((p) => [p.offset, p.height].map((m) => plain(formatLength(m, unit, 3))).join(' ')).join('; ');

/** Without zeros at its end, and without spaces between thousands. */
const plain = (text: string): string => String(Number(text.replace(/\s/g, '').replace('−', '-')));
