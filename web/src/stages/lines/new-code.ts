import { drawnLikeGroup, type Code, type Drawn } from '#core/codes';

/** A code as it begins, before anything is said of it. */
export const NEW_CODE: Code = {
  code: '',
  name: '',
  kind: 'point',
  layer: 'POINTS',
  ink: 'ink',
  symbol: 'dot',
  style: 'solid',
  breakline: false,
  ground: true,
};

/**
 * A new code with what was said of it: how it is drawn follows its group, but for what a person has chosen. `proposed` is
 * what the group proposed before, which is nobody's choice.
 */
export function saidOfNew(
  code: Code,
  said: Partial<Code>,
  proposed: Drawn | null,
  codes: readonly Code[],
): { code: Code; proposed: Drawn | null } {
  const next = { ...code, ...said };
  const own = (k: keyof Drawn): boolean => k in said || (next[k] !== NEW_CODE[k] && next[k] !== proposed?.[k]);
  const drawn = drawnLikeGroup(next.group ?? '', own('kind') ? next.kind : null, next, codes);
  if (!drawn) return { code: next, proposed };
  const taken = Object.entries(drawn).filter(([k]) => !own(k as keyof Drawn));
  return { code: { ...next, ...Object.fromEntries(taken) }, proposed: drawn };
}
