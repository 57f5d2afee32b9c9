import { Box } from '@chakra-ui/react';
import { gnssLimits, readQuality } from '#core/chain';
import { shortcomings, tiltText } from '#core/reduction';
import { formatLength, UNIT_SIGN } from '#core/measure';
import { Aside, Num } from '../frame/controls.tsx';
import type { BookColumns } from '../work/book-columns.ts';
import { Row, Section } from './card-frame.tsx';
import { useProject } from './store.ts';

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
      {short.length ? <Box color="pole">poor quality: {short.join('; ')}</Box> : null}
    </Section>
  );
}
