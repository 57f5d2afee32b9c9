import { Box, Flex } from '@chakra-ui/react';
import { useState } from 'react';
import type { Compared, Told } from '#core/exchange';
import { formatLength, UNIT_SIGN, type LengthUnit } from '#core/measure';
import type { Intake } from '#core/project';
import { problemText } from '../frame/api.ts';
import { Act, Aside, Cut, Leaf } from '../frame/controls.tsx';
import { SmallTable } from '../frame/small-table.tsx';
import { sheetHandle } from '../sheet/handle.ts';

interface Row extends Told {
  what: string;
}
const SHOWN = 100;

/** Each difference as a row, what went first, and what it is in words. */
export function rowsOfCompared(
  { added, removed, moved, changed, relayered, groups }: Compared,
  unit: LengthUnit,
): Row[] {
  const length = (m: number): string => formatLength(m, unit, 3);
  return [
    ...removed.map((t) => ({ ...t, what: 'removed' })),
    ...added.map((t) => ({ ...t, what: 'added' })),
    ...moved.map((t) => ({ ...t, what: `moved ${length(t.distance)} ${UNIT_SIGN[unit]}` })),
    ...changed.map((t) => ({ ...t, what: t.what.split('\n').join(' ') })),
    ...relayered.map((t) => ({ ...t, what: `was on ${t.from}` })),
    ...groups.flatMap((g) => g.things.map((t) => ({ ...t, what: `rotated by ${((g.angle * 180) / Math.PI).toFixed(4)}° with ${g.things.length - 1} ${g.things.length === 2 ? 'other' : 'others'}` }))), // prettier-ignore
  ];
}

/** The earlier issue of a drawing: what came, went, moved and changed since, before this one is imported. */
export function EarlierIssue({
  project,
  earlier,
  unit,
  compare,
}: {
  project: string;
  earlier: Intake;
  unit: LengthUnit;
  compare: (earlier: Uint8Array) => Promise<Compared | { problem: string }>;
}) {
  const [got, setGot] = useState<Compared | { problem: string } | 'working' | null>(null);
  const begin = async (): Promise<void> => {
    setGot('working');
    try {
      const answer = await fetch(`/api/projects/${project}/files/${earlier.fileId}`);
      if (!answer.ok) throw new Error(`${earlier.fileName} is not to be had: the server answered ${answer.status}.`);
      setGot(await compare(new Uint8Array(await answer.arrayBuffer())));
    } catch (error) {
      setGot({ problem: problemText(error) });
    }
  };
  if (got === null || got === 'working')
    return (
      <Flex gap="8px" align="center" mb="10px">
        <Act disabled={got === 'working'} onClick={() => void begin()}>
          Compare with {earlier.fileName}
        </Act>
        {got === 'working' ? <Aside>comparing …</Aside> : <Aside>what came, went, moved and changed since</Aside>}
      </Flex>
    );
  if ('problem' in got)
    return (
      <Box role="alert" color="pole" mb="10px">
        {got.problem}
      </Box>
    );
  const rows = rowsOfCompared(got, unit);
  return (
    <Leaf mb="10px" p="8px 12px" as="section" aria-label={`compared with ${earlier.fileName}`}>
      <Box mb="4px">
        Since {earlier.fileName}: {rows.length === 0 ? 'nothing is different' : summary(got)}; {got.unchanged}{' '}
        unchanged.
      </Box>
      {rows.length ? (
        <Box maxHeight="200px" overflow="auto" tabIndex={0}>
          <SmallTable
            label="differences between the two drawings"
            rows={rows}
            most={SHOWN}
            columns={[
              {
                id: 'what',
                head: 'what',
                words: true,
                by: (r) => r.what,
                cell: (r) => (
                  <Act
                    look="quiet"
                    height="22px"
                    px="0"
                    title="show on the drawing"
                    onClick={() => sheetHandle.current?.show(r.x, r.y)}
                  >
                    <Cut maxWidth="210px">{r.what}</Cut>
                  </Act>
                ),
              },
              { id: 'layer', head: 'layer', words: true, by: (r) => r.layer, cell: (r) => <Cut maxWidth="150px">{r.layer}</Cut> }, // prettier-ignore
              { id: 'text', head: 'text', words: true, cell: (r) => <Cut maxWidth="120px">{r.text.split('\n')[0]}</Cut> }, // prettier-ignore
              { id: 'x', head: `east [${UNIT_SIGN[unit]}]`, mono: true, by: (r) => r.x, cell: (r) => formatLength(r.x, unit, 3) }, // prettier-ignore
              { id: 'y', head: `north [${UNIT_SIGN[unit]}]`, mono: true, by: (r) => r.y, cell: (r) => formatLength(r.y, unit, 3) }, // prettier-ignore
            ]}
          />
        </Box>
      ) : null}
    </Leaf>
  );
}

function summary({ added, removed, moved, changed, relayered, groups }: Compared): string {
  const turned = groups.reduce((n, g) => n + g.things.length, 0);
  const parts: [number, string][] = [[removed.length, 'removed'], [added.length, 'added'], [moved.length, 'moved'], [turned, 'rotated'], [changed.length, 'changed'], [relayered.length, 'on another layer']]; // prettier-ignore
  return parts.flatMap(([n, what]) => (n ? [`${n} ${what}`] : [])).join(', ');
}
