import { compareLists, spellings, type CodeList } from '#core/codes';
import { SETTING_NAME } from './change/describe.ts';
import { settingText } from './change/details.ts';
import type { Change } from './change/schema.ts';
import type { Start } from './document.ts';
import type { Settings } from './document/settings-schema.ts';
import { severalChanges } from './files-in-surfaces.ts';

// A team changes what its projects begin with; projects that began earlier follow where somebody wants it. Where a project
// lies on earth is its own and never follows.

export const START_PARTS = ['display', 'practice', 'codes'] as const;
export type StartPart = (typeof START_PARTS)[number];
export const START_PART_NAME: Record<StartPart, string> = {
  display: 'units and display',
  practice: 'tolerances and methods',
  codes: 'code list and line words',
};

const DISPLAY = new Set<keyof Settings>(['unit', 'order', 'decimals', 'elevationDecimals', 'angle', 'angleDecimals', 'vertical', 'areaUnit', 'volumeUnit', 'volumeDecimals', 'chainage', 'plotScale']); // prettier-ignore

type Followed = Pick<Start, 'settings' | 'codeList'>;

/** One thing in which a project differs from its team's start: what, as it is, and as the team has it. */
export interface StartDifference {
  part: StartPart;
  what: string;
  here: string;
  there: string;
}

const differing = (own: Followed, team: Followed): (keyof Settings)[] =>
  (Object.keys(team.settings) as (keyof Settings)[]).filter((k) => own.settings[k] !== team.settings[k]);

const partOf = (key: keyof Settings): StartPart => (DISPLAY.has(key) ? 'display' : 'practice');

/** In what a project differs from its team's start settings, in the project's own units. */
export function startDifferences(own: Followed, team: Followed): StartDifference[] {
  const text = (k: keyof Settings, of: Followed): string => settingText(k, of.settings[k], own.settings);
  const settings = differing(own, team).map((k) => ({ part: partOf(k), what: SETTING_NAME[k] ?? k, here: text(k, own), there: text(k, team) })); // prettier-ignore
  const { added, changed, words } = compareLists(own.codeList, team.codeList);
  const count = (n: number, of: string): string[] => (n === 0 ? [] : [`${n} ${of}`]);
  const lists = [...count(added.length, 'new'), ...count(changed.length, 'different'), ...count(words.length, words.length === 1 ? 'line word' : 'line words')]; // prettier-ignore
  const codes = (list: CodeList): string => `${list.codes.length} codes`;
  return [
    ...settings,
    ...(lists.length ? [{ part: 'codes' as const, what: 'the code list', here: codes(own.codeList), there: lists.join(', ') }] : []), // prettier-ignore
  ];
}

/**
 * The change that lets a project follow its team's start in some parts; null where it does already. Codes that only the
 * project has stay in its list, unless they are words of the team's.
 */
export function followStart(own: Followed, team: Followed, parts: readonly StartPart[]): Change | null {
  const keys = differing(own, team).filter((k) => parts.includes(partOf(k)));
  const list = parts.includes('codes') ? listFollowing(own.codeList, team.codeList) : null;
  const changes: Change[] = [
    ...(keys.length ? [{ op: 'settings.set' as const, settings: Object.fromEntries(keys.map((k) => [k, team.settings[k]])) }] : []), // prettier-ignore
    ...(list ? [{ op: 'codes.set' as const, codeList: list }] : []),
  ];
  return changes.length ? severalChanges(changes, 'followed the start settings of the team') : null;
}

function listFollowing(own: CodeList, team: CodeList): CodeList | null {
  const { added, changed, gone, words } = compareLists(own, team);
  if (added.length + changed.length + words.length === 0) return null;
  const spoken = new Set(spellings({ ...team.words }));
  return { ...team, codes: [...team.codes, ...gone.filter((c) => !spoken.has(c.code.toUpperCase()))] };
}
