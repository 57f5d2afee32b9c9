import { Box, chakra, Flex } from '@chakra-ui/react';
import { useState } from 'react';
import { readSymbol, type Code } from '#core/codes';
import { Act, Aside } from '../../frame/controls.tsx';
import { InkSymbol } from './ink.tsx';

/** A symbol from a drawing in SVG, in the place of those that Dunrik has. */
export function OwnSymbol({
  code,
  disabled,
  set,
}: {
  code: Code;
  disabled: boolean;
  set: (part: Partial<Code>) => void;
}) {
  const [said, setSaid] = useState<string | null>(null);
  const take = async (file: File | undefined): Promise<void> => {
    if (!file) return;
    if (file.size > 1_000_000) return setSaid(`${file.name} has more than 1 MB; a symbol has less.`);
    const read = readSymbol(await file.text());
    if (!read.ok) return setSaid(`${file.name}: ${read.reason}.`);
    set({ strokes: read.strokes });
    setSaid(read.left.length ? `not drawn: ${read.left.join(', ')}` : null);
  };
  return (
    <Flex direction="column" gap="3px" minWidth="0">
      <Flex gap="8px" align="center">
        {code.strokes ? <InkSymbol code={code} /> : null}
        <Act asChild disabled={disabled}>
          <chakra.label cursor="pointer">
            {code.strokes ? 'Other SVG …' : 'From an SVG …'}
            <input
              type="file"
              accept=".svg,image/svg+xml"
              aria-label={`own symbol of ${code.code}`}
              disabled={disabled}
              style={{ position: 'absolute', opacity: 0, width: 1, height: 1 }}
              onChange={(e) => {
                void take(e.target.files?.[0]);
                e.target.value = '';
              }}
            />
          </chakra.label>
        </Act>
        {code.strokes ? (
          <Act look="quiet" disabled={disabled} onClick={() => set({ strokes: undefined })}>
            Discard it
          </Act>
        ) : null}
      </Flex>
      {said ? (
        <Box role="status">
          <Aside fontSize="12px">{said}</Aside>
        </Box>
      ) : null}
    </Flex>
  );
}
