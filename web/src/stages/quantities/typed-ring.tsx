import { Box, chakra, Flex } from '@chakra-ui/react';
import { useState } from 'react';
import { formatArea, UNIT_SIGN } from '#core/measure';
import { ringArea } from '#core/kernel';
import { readTypedRing } from '#core/project';
import { Act, Aside } from '../../frame/controls.tsx';
import { useParts } from '../../project-state/store.ts';

/** A boundary by the coordinates of its corners, typed or pasted; its area is told before it is taken. */
export function TypedRing({
  what,
  onRing,
  onClose,
}: {
  what: string;
  onRing: (ring: number[]) => void;
  onClose: () => void;
}) {
  // prettier-ignore
  const { settings } = useParts('state').state!.document;
  const [text, setText] = useState('');
  const read = text.trim() ? readTypedRing(text, settings) : null;
  const sign = UNIT_SIGN[settings.unit];
  const columns = settings.order === 'EN' ? `east and north ${sign}` : `north and east ${sign}`;
  return (
    <Box flexBasis="100%">
      <Aside display="block">
        Corners of {what}, {columns} a row, a number before them or not
      </Aside>
      <chakra.textarea
        autoFocus
        aria-label={`corners of ${what}, ${columns} a row`}
        mt="4px"
        width="100%"
        height="110px"
        p="6px"
        fontFamily="mono"
        fontSize="13px"
        bg="leaf"
        border="1px solid"
        borderColor="slate"
        borderRadius="3px"
        spellCheck={false}
        value={text}
        onChange={(e) => setText(e.target.value)}
        onKeyDown={(e) => {
          e.stopPropagation();
          if (e.key === 'Escape') onClose();
        }}
      />
      <Flex gap="8px" align="center" wrap="wrap" mt="4px">
        <Act
          look="solid"
          disabled={!read || !('ring' in read)}
          onClick={() => {
            if (!read || !('ring' in read)) return;
            onRing(read.ring);
            onClose();
          }}
        >
          Apply
        </Act>
        <Act onClick={onClose}>Cancel</Act>
        {read && 'ring' in read ? (
          <span>
            {read.ring.length / 2} corners,{' '}
            {formatArea(Math.abs(ringArea(read.ring)), settings.areaUnit, settings.unit)}
          </span>
        ) : read ? (
          <Box as="span" color="brass" role="status">
            {read.reason}
          </Box>
        ) : null}
      </Flex>
    </Box>
  );
}
