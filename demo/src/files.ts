import { REFERENCE_ROW, slipDayOne, slipDayTwo } from './slips.ts';
import { CONTROL, dayOne, dayTwo, lakeBed, pad, type Shot, type Slip } from './survey.ts';

export interface DemoFile {
  name: string;
  text: string;
}

const row = (s: Shot, order: 'EN' | 'NE', separator: string, comma = false): string => {
  const [a, b] = order === 'EN' ? [s.east, s.north] : [s.north, s.east];
  const text = (v: number): string => (comma ? v.toFixed(3).replace('.', ',') : v.toFixed(3));
  return [s.number, text(a), text(b), text(s.elevation), s.description].join(separator);
};

/** The files that the crews of Ostrel Landing delivered, slips and all, and the slips by name. */
export function demoFiles(): { files: DemoFile[]; slips: Slip[] } {
  const one = dayOne();
  const two = dayTwo();
  const bed = lakeBed();
  const slips = [...slipDayOne(one), ...slipDayTwo(two)];
  const dayOneRows = one.map((s) => row(s, 'EN', ','));
  dayOneRows.splice(140, 0, '--- battery changed, 10:42 ---');
  slips.push({ kind: 'refused-row', where: 'landing-day1.csv' });
  const dayTwoRows = two.map((s) => row(s, 'NE', ' '));
  dayTwoRows.splice(0, 0, row(REFERENCE_ROW, 'NE', ' '));
  slips.push({ kind: 'reference-row', where: REFERENCE_ROW.number });
  slips.push({ kind: 'columns-exchanged', where: 'sounding.txt' });
  return {
    slips,
    files: [
      {
        name: 'control-ostrel.csv',
        text: lines(['Number,East [m],North [m],Elevation [m],Description', ...CONTROL.map((s) => row(s, 'EN', ','))]),
      },
      { name: 'landing-day1.csv', text: lines(['Point,Easting [m],Northing [m],Elevation,Code', ...dayOneRows]) },
      { name: 'landing-day2.txt', text: lines(dayTwoRows) },
      { name: 'sounding.txt', text: lines(bed.map((s) => row(s, 'NE', ';', true))) },
      {
        name: 'boat-park-pad.csv',
        text: lines(['Number,East [m],North [m],Elevation [m],Code', ...pad().map((s) => row(s, 'EN', ','))]),
      },
    ],
  };
}

const lines = (rows: string[]): string => rows.join('\r\n') + '\r\n';
