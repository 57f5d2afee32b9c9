import { formatLength, UNIT_SIGN } from '#core/measure';
import type { PointRule, ProjectDocument } from '#core/project';

/** A rule as it is read: its parts, or that it has none yet. */
export function ruleText(rule: PointRule, { intakes, settings: { unit } }: ProjectDocument): string {
  const length = (m: number): string => formatLength(m, unit, 2);
  const names = (rule.files ?? []).map((id) => intakes.find((i) => i.id === id)?.fileName ?? 'a file that is gone');
  const parts = [
    names.length ? `of ${names.join(', ')}` : '',
    rule.codes?.length ? `codes ${rule.codes.join(' ')}` : '',
    rule.numbers ? `numbers ${rule.numbers.join('–')}` : '',
    rule.elevations ? `elevation ${rule.elevations.map(length).join(' – ')} ${UNIT_SIGN[unit]}` : '',
    rule.dates ? `observed ${rule.dates.join(' to ')}` : '',
    rule.area ? 'within an area' : '',
  ].filter(Boolean);
  return parts.join(', ') || 'no rule yet';
}
