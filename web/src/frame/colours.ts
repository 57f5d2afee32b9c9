import { TINTS } from '#core/drawing';
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
  tint0: [TINTS.elevation[0], '#16303A'],
  tint1: [TINTS.elevation[1], '#1C3A33'],
  tint2: [TINTS.elevation[2], '#37402B'],
  tint3: [TINTS.elevation[3], '#4A412D'],
  tint4: [TINTS.elevation[4], '#5A473B'],
  // Tints of slope, level to steep.
  slope0: [TINTS.slope[0], '#182127'],
  slope1: [TINTS.slope[1], '#2A3026'],
  slope2: [TINTS.slope[2], '#41392A'],
  slope3: [TINTS.slope[3], '#5B4230'],
  slope4: [TINTS.slope[4], '#774A3B'],
  // Tints of aspect, round the compass, neighbours alike.
  aspectN: [TINTS.aspect[0], '#17344A'],
  aspectNE: [TINTS.aspect[1], '#173E3B'],
  aspectE: [TINTS.aspect[2], '#27412A'],
  aspectSE: [TINTS.aspect[3], '#44401F'],
  aspectS: [TINTS.aspect[4], '#53391F'],
  aspectSW: [TINTS.aspect[5], '#532B2D'],
  aspectW: [TINTS.aspect[6], '#422A4B'],
  aspectNW: [TINTS.aspect[7], '#292F50'],
} as const satisfies Record<string, readonly [day: string, night: string]>;

export type ColourName = keyof typeof COLOURS;
