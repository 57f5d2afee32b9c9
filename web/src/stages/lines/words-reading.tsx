import { SmallTable } from '../../frame/small-table.tsx';
import { MEANING_NAME, indexCodes, readDescription } from '#core/codes';
import { Leaf } from '../../frame/controls.tsx';
import { Box } from '@chakra-ui/react';
import { useMemo } from 'react';

/** The first descriptions of a sample as they are understood. */
export function Reading({ said, index }: { said: string[]; index: ReturnType<typeof indexCodes> }) {
  const [first, problems] = useMemo(() => {
    const seen = new Set<string>();
    const rows: { text: string; read: ReturnType<typeof readDescription> }[] = [];
    let count = 0;
    for (const text of said) {
      const read = readDescription(text, index);
      count += read.problems.length;
      const shape = read.items.map((i) => i.words.map((w) => w.meaning).join()).join('/') + read.problems.length;
      if (rows.length < 8 && !seen.has(shape)) rows.push({ text, read });
      seen.add(shape);
    }
    return [rows, count];
  }, [said, index]);
  return (
    <Leaf head={`How the sample is understood${problems ? `; ${problems} places cannot be understood` : ''}`}>
      <SmallTable
        label="the sample as understood"
        headless
        rows={first}
        rowKey={(r) => r.text}
        cellStyle={{ fontSize: '12px' }}
        columns={[
          { id: 'text', head: 'Description', mono: true, cell: (r) => r.text.slice(0, 60) },
          { id: 'meaning', head: 'Understood as', words: true, cell: (r) => <Understood read={r.read} /> },
        ]}
      />
    </Leaf>
  );
}

const Understood = ({ read }: { read: ReturnType<typeof readDescription> }) => (
  <>
    {read.items
      .map(
        (i) =>
          `${i.code}${i.lineNumber} ${i.known ? i.known.name : 'unknown'}${i.words.map((w) => `; ${MEANING_NAME[w.meaning]}`).join('')}`,
      )
      .join(' · ')}
    {read.problems.map((p) => (
      <Box key={p.at} as="span" color="pole">
        {' '}
        at character {p.at + 1}: {p.reason}
      </Box>
    ))}
  </>
);
