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
  // Tints of slope, level to steep.
  slope0: ['#F6F4EA', '#182127'],
  slope1: ['#EAE6CB', '#2A3026'],
  slope2: ['#E4D2A9', '#41392A'],
  slope3: ['#DBB48C', '#5B4230'],
  slope4: ['#CF947A', '#774A3B'],
  // Tints of aspect, round the compass, neighbours alike.
  aspectN: ['#C6DAEA', '#17344A'],
  aspectNE: ['#CCE4DF', '#173E3B'],
  aspectE: ['#DAE8C4', '#27412A'],
  aspectSE: ['#EEE6B9', '#44401F'],
  aspectS: ['#F3D6B6', '#53391F'],
  aspectSW: ['#EFC8C3', '#532B2D'],
  aspectW: ['#DFC9E2', '#422A4B'],
  aspectNW: ['#CCCDEA', '#292F50'],
} as const satisfies Record<string, readonly [day: string, night: string]>;

export type ColourName = keyof typeof COLOURS;
