import type { GuessContext, TextLayout } from '#core/exchange';

export const context = (part: Partial<GuessContext> = {}): GuessContext => ({
  fileName: 'shots.txt',
  unit: 'm',
  near: [],
  order: 'EN',
  knownCodes: new Set(['GR', 'KT', 'TR', 'ED']),
  ...part,
});

export const layout = (part: Partial<TextLayout> = {}): TextLayout => ({
  separator: ',',
  decimal: '.',
  skipRows: 0,
  roles: ['P', 'E', 'N', 'Z', 'D'],
  unit: 'm',
  ...part,
});
