import { Box } from '@chakra-ui/react';
import { readQuality } from '#core/sources';
import { gnssLimits } from '#core/stages';
import { shortcomings, tiltText } from '#core/reduction';
import { formatLength, UNIT_SIGN } from '#core/measure';
import { Aside, Num } from '../frame/controls.tsx';
import type { BookColumns } from '../work/book-columns.ts';
import { Row, Section } from './card-frame.tsx';
import { useProject } from '../project-state/store.ts';

/** What a receiver says of how good a position is; what the project wants more of is marked. */
export function GnssPart({ book, at }: { book: BookColumns; at: number }) {
  const s = useProject((p) => p.state!.document.settings);
  const text = book.gnss.get(at);
  if (!text) return null;
  const q = readQuality(text);
  const sign = UNIT_SIGN[s.unit];
  const length = (m: number): string => formatLength(m, s.unit, 3);
  const limits = gnssLimits(s);
  const rows: [name: string, value: string, short: boolean][] = [
    ['solution', q.fix, q.fix !== '' && !/fix/i.test(q.fix)],
    [`± plan ${sign}`, length(q.plan), q.plan > limits.plan],
    [`± height ${sign}`, length(q.height), q.height > limits.height],
    ['satellites', Number.isNaN(q.satellites) ? '' : String(q.satellites), q.satellites < limits.satellites],
    ['PDOP', Number.isNaN(q.pdop) ? '' : String(q.pdop), q.pdop > limits.pdop],
    ['HDOP, VDOP', Number.isNaN(q.hdop + q.vdop) ? '' : `${q.hdop}, ${q.vdop}`, false],
    ['method', q.method, false],
    ['base', q.base, false],
    ['tilt of the pole', Number.isNaN(q.tilt) ? '' : tiltText(q.tilt), q.tilt > limits.tilt],
    [`antenna height ${sign}`, length(book.height[at]), false],
  ];
  const short = shortcomings(q, limits, (m) => `${length(m)} ${sign}`);
  return (
    <Section>
      <Aside display="block">as the receiver says</Aside>
      {rows
        .filter(([, value]) => value !== '' && value !== '–')
        .map(([name, value, outside]) => (
          <Row key={name} name={name}>
            <Num fontSize="12px" color={outside ? 'pole' : undefined}>
              {outside ? '▲ ' : ''}
              {value}
            </Num>
          </Row>
        ))}
      <OfMean book={book} at={at} />
      {short.length ? <Box color="pole">poor quality: {short.join('; ')}</Box> : null}
    </Section>
  );
}

/** What a reading differs by from the mean of its number, beside the other readings, and the mean from control. */
function OfMean({ book, at }: { book: BookColumns; at: number }) {
  const s = useProject((p) => p.state!.document.settings);
  const means = useProject((p) => p.tables!.reduction.gnss);
  const number = book.number.get(at);
  const mean = means.find((m) => m.number === number && m.readings.some((r) => r.row === book.row[at]));
  if (!mean || (mean.readings.length < 2 && !mean.control)) return null;
  const sign = UNIT_SIGN[s.unit];
  const length = (m: number): string => (Number.isNaN(m) ? '–' : formatLength(m, s.unit, 3));
  const off = (d: { dx: number; dy: number; dz: number }): string =>
    [...(s.order === 'EN' ? [d.dx, d.dy] : [d.dy, d.dx]), d.dz].map(length).join(' ');
  return (
    <Box mt="4px" aria-label="readings of this point">
      <Aside display="block">
        − mean, {s.order === 'EN' ? 'east, north' : 'north, east'}, elevation {sign}
      </Aside>
      {mean.readings.map((r) => (
        <Box key={r.row} pt="3px">
          <Row name={`row ${r.row}${r.row === book.row[at] ? ' (this)' : ''}`}>
            <Num fontSize="12px" whiteSpace="nowrap" color={r.used ? undefined : 'brass'}>
              {off(r)}
            </Num>
          </Row>
          <Aside display="block" fontSize="12px">
            {[
              r.fix,
              Number.isNaN(r.satellites) ? '' : `${r.satellites} satellites`,
              Number.isNaN(r.antenna) ? '' : `antenna ${length(r.antenna)}`,
              Number.isNaN(r.tilt) ? '' : `tilt ${tiltText(r.tilt)}`,
              r.used ? '' : 'not in the mean',
            ]
              .filter(Boolean)
              .join(', ')}
          </Aside>
        </Box>
      ))}
      {mean.control ? (
        <Row name="mean − control">
          <Num fontSize="12px" whiteSpace="nowrap">
            {off(mean.control)}
          </Num>
        </Row>
      ) : null}
    </Box>
  );
}
