/** Every colour of the interface, by day and by night. Text colours keep at least 4.5 : 1 on paper and leaf (a test measures it). */
export const COLOURS = {
  paper: ['#F7F5F0', '#12191D'],
  leaf: ['#FDFCF9', '#0E1417'],
  wash: ['#EFEBE0', '#1B252B'],
  mark: ['#F6E2DC', '#3A2320'],
  rule: ['#D8D3C6', '#2C383F'],
  ink: ['#1B2B34', '#E6E3DA'],
  slate: ['#556570', '#9AAAB3'],
  pole: ['#B83524', '#F0806F'],
  onPole: ['#FFFFFF', '#12191D'],
  pine: ['#1F6F5C', '#5FBF9F'],
  brass: ['#85590F', '#D9A648'],
  lake: ['#27667C', '#6CB5CC'],
  plum: ['#7C3F6D', '#D79CC9'],
  moss: ['#4C6A1C', '#A8C46A'],
  cut: ['#B83524', '#F0806F'],
  fill: ['#27667C', '#6CB5CC'],
  // Tints of elevation, low to high: quiet enough for ink lines to stand on.
  tint0: ['#CFE0E4', '#16303A'],
  tint1: ['#D6E4CF', '#1C3A33'],
  tint2: ['#EDE8CC', '#37402B'],
  tint3: ['#F0DEC8', '#4A412D'],
  tint4: ['#EBD5CC', '#5A473B'],
} as const satisfies Record<string, readonly [day: string, night: string]>;

export type ColourName = keyof typeof COLOURS;
