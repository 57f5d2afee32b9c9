import { Box, chakra, Flex } from '@chakra-ui/react';
import { useState } from 'react';
import { formatArea, formatLength, UNIT_SIGN } from '#core/measure';
import { ringArea } from '#core/kernel';
import { readTypedRing } from '#core/project';
import { Act, Aside, Field } from '../../frame/controls.tsx';
import { useParts } from '../../project-state/store.ts';
import { ringOfCode } from './ring-of-code.ts';

/** Of coordinates that are filled in: nothing of a point is lost. */
const PLACES = 6;

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
  const { state, tables } = useParts('state', 'tables');
  const { settings } = state!.document;
  const [text, setText] = useState('');
  const [fromCode, setFromCode] = useState('');
  const fill = (code: string): void => {
    const found = ringOfCode(code, state!.document, tables!);
    if ('reason' in found) return setFromCode(found.reason);
    const corner = ([x, y]: [number, number]): string => (settings.order === 'EN' ? [x, y] : [y, x]).map((v) => formatLength(v, settings.unit, PLACES).replace('−', '-')).join(' '); // prettier-ignore
    setText(found.points.map(corner).join('\n'));
    setFromCode(`${found.points.length} points of ${code.trim().toUpperCase()}, ${found.byDirection ? 'joined by direction from their middle, since they cross in the order in which they were taken' : 'in the order in which they were taken'}.`); // prettier-ignore
  };
  const read = text.trim() ? readTypedRing(text, settings) : null;
  const sign = UNIT_SIGN[settings.unit];
  const columns = settings.order === 'EN' ? `east and north ${sign}` : `north and east ${sign}`;
  return (
    <Box flexBasis="100%">
      <Aside display="block">
        Corners of {what}, {columns} a row, a number before them or not; or all points of the code{' '}
        <Field
          aria-label={`code of the points round ${what}`}
          height="22px"
          width="80px"
          px="4px"
          fontSize="12px"
          maxLength={40}
          onKeyDown={(e) => {
            e.stopPropagation();
            if (e.key === 'Escape') onClose();
            if (e.key === 'Enter' && e.currentTarget.value.trim()) fill(e.currentTarget.value);
          }}
        />{' '}
        and Enter.
        {fromCode ? <Box role="status">{fromCode}</Box> : null}
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
