import type { Shot, Slip } from './survey.ts';

// The honest slips of two working days and a sounding: each as it happens in the field, each named so
// that the tests can look for the query it must raise.

const find = (shots: Shot[], test: (s: Shot) => boolean): Shot => {
  const shot = shots.find(test);
  if (!shot) throw new Error('The shot for a slip is missing.');
  return shot;
};

export function slipDayOne(shots: Shot[]): Slip[] {
  const slips: Slip[] = [];
  // The thumb that types one letter more.
  const edges = shots.filter((s) => s.description === 'DT1').slice(1, 3);
  for (const s of edges) s.description = 'DTT1';
  slips.push({ kind: 'unknown-code', where: 'DTT' });
  // The word that ends the kerb's curve, forgotten.
  const kerb = find(shots, (s) => s.description === 'KT1 CURX');
  kerb.description = 'KT1';
  slips.push({ kind: 'curve-not-ended', where: 'KT1' });
  // An elevation that never came over the radio.
  const flat = shots.filter((s) => s.description === 'GR')[37];
  flat.elevation = 0;
  slips.push({ kind: 'zero-elevation', where: flat.number });
  // A digit typed twice at the keyboard.
  const far = shots.filter((s) => s.description === 'GR')[90];
  far.east += 900;
  slips.push({ kind: 'far-outlier', where: far.number });
  return slips;
}

export function slipDayTwo(shots: Shot[]): Slip[] {
  const slips: Slip[] = [];
  // A target height left from the shot before: 1.20 m below.
  const heap = shots.filter((s) => s.description === 'HP')[5];
  heap.elevation -= 1.2;
  slips.push({ kind: 'spike', where: heap.number });
  // A number keyed in again that day one has used.
  const again = shots.filter((s) => s.description === 'GR')[11];
  again.number = '214';
  slips.push({ kind: 'number-twice', where: '214' });
  // The ridge was never ended, and a lamp beyond the heap gets its name: the line runs across the heap.
  const lamp = shots.filter((s) => s.description === 'LP')[3];
  lamp.description = 'LP RG1';
  slips.push({ kind: 'meeting-breaklines', where: 'RG1' });
  // A begin with nothing after it.
  const gate = shots.filter((s) => s.description === 'BO')[2];
  gate.description = 'BO FN2 BEG';
  slips.push({ kind: 'single-point-line', where: 'FN2' });
  return slips;
}

/** The row that a receiver writes for its correction reference station. */
export const REFERENCE_ROW: Shot = {
  number: 'BASE',
  east: 391204.118,
  north: 5120442.53,
  elevation: 212.4,
  description: 'reference station',
};
