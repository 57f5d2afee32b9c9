import { describe, expect, it } from 'vitest';
import { DEFAULT_CODE_LIST, type Code, type Drawn } from '#core/codes';
import { NEW_CODE, saidOfNew } from '../../src/stages/lines/new-code.ts';

/** Says things of a new code one after the other, as its editor does. */
function say(...said: Partial<Code>[]): Code {
  let [code, proposed]: [Code, Drawn | null] = [{ ...NEW_CODE, code: 'HYD' }, null];
  for (const part of said) ({ code, proposed } = saidOfNew(code, part, proposed, DEFAULT_CODE_LIST.codes));
  return code;
}

describe('a new code', () => {
  it('is drawn as its group is, and by its name once it has one', () => {
    expect(say({ group: 'services' })).toMatchObject({ kind: 'point', ink: 'plum', layer: 'HYD' });
    expect(say({ group: 'services' }, { name: 'hydrant' })).toMatchObject({ layer: 'HYDRANT' });
  });

  it('keeps what a person chose, whatever group it is given', () => {
    expect(say({ ink: 'pole' }, { layer: 'WATER' }, { group: 'services' })).toMatchObject({ ink: 'pole', layer: 'WATER' }); // prettier-ignore
    expect(say({ group: 'services' }, { ink: 'lake' }, { group: 'banks and ground' })).toMatchObject({ ink: 'lake', kind: 'line', breakline: true }); // prettier-ignore
  });

  it('changes with its group where nobody chose anything', () => {
    expect(say({ group: 'banks and ground' }, { group: 'services' })).toMatchObject({ kind: 'point', breakline: false, ink: 'plum' }); // prettier-ignore
  });

  it('stays as it is without a group that is known', () => {
    expect(say({ name: 'hydrant' }, { group: 'hydra' })).toMatchObject({ layer: 'POINTS', ink: 'ink' });
  });
});
