import { Box } from '@chakra-ui/react';
import { useRef, useState } from 'react';
import type { SectionTable } from '#core/exchange';
import { problemText } from '../../../frame/api.ts';
import { Act, Aside } from '../../../frame/controls.tsx';
import { sheetWork } from '../../../work/workers.ts';

type Table = Extract<SectionTable, { ok: true }>;

/** Bytes of a file of sections at the most. */
const MOST_BYTES = 64 << 20;

/** Fills the table from the cross sections of a LandXML file, or drawn in space in a DXF, read beside the page. */
export function SectionsFromFile({ onTable }: { onTable: (table: Table) => void }) {
  const input = useRef<HTMLInputElement>(null);
  const [said, setSaid] = useState<string | null>(null);
  const read = async (file: File): Promise<void> => {
    setSaid('Reading …');
    if (file.size > MOST_BYTES) return setSaid(`${file.name} is larger than sections are.`);
    try {
      const table = await sheetWork().sectionTable(new Uint8Array(await file.arrayBuffer()), /\.dxf$/i.test(file.name));
      if (!table.ok) return setSaid(table.reason);
      onTable(table);
      const { sections, ground, design, leftOut, unit } = table;
      setSaid(`${sections} ${sections === 1 ? 'section' : 'sections'} of “${ground}” as ground and “${design}” as design${leftOut ? `; ${leftOut} left out, where only one of them is` : ''}${unit ? '' : '; the file states no unit that is known: choose it'}.`); // prettier-ignore
    } catch (error) {
      setSaid(problemText(error));
    }
  };
  return (
    <Box mt="4px">
      <Act onClick={() => input.current?.click()}>From LandXML or DXF …</Act>{' '}
      {said ? <Aside role="status">{said}</Aside> : null}
      <input
        ref={input}
        type="file"
        hidden
        accept=".xml,.dxf"
        aria-label="file with cross sections, LandXML or DXF"
        onChange={(e) => {
          const [file] = e.target.files ?? [];
          e.target.value = '';
          void read(file);
        }}
      />
    </Box>
  );
}
