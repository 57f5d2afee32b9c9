import { Box, chakra } from '@chakra-ui/react';

export interface Editing {
  row: number;
  column: string;
  text: string;
  problem: string | null;
}

const CellInput = chakra('input', {
  base: {
    width: '100%',
    height: '26px',
    px: '7px',
    bg: 'leaf',
    color: 'ink',
    border: '1px solid',
    borderColor: 'pine',
    fontFamily: 'mono',
    fontSize: '13px',
  },
});

/** A cell being typed over; what cannot be read says so below it, and nothing typed is lost. */
export function CellEditor({
  editing,
  name,
  numeric,
  change,
  finish,
}: {
  editing: Editing;
  name: string;
  numeric: boolean;
  change: (editing: Editing | null) => void;
  finish: (then: 'stay' | 'next') => void;
}) {
  return (
    <Box position="relative">
      <CellInput
        autoFocus
        aria-label={`${name} of row`}
        aria-invalid={editing.problem !== null}
        textAlign={numeric ? 'right' : 'left'}
        value={editing.text}
        onFocus={(e) => e.target.select()}
        onChange={(e) => change({ ...editing, text: e.target.value, problem: null })}
        onBlur={() => !editing.problem && finish('stay')}
        onKeyDown={(e) => {
          e.stopPropagation();
          if (e.key === 'Enter') finish('stay');
          if (e.key === 'Escape') change(null);
          if (e.key === 'Tab') {
            e.preventDefault();
            finish('next');
          }
        }}
      />
      {editing.problem ? (
        <Box
          role="alert"
          position="absolute"
          top="28px"
          right="0"
          zIndex="5"
          bg="leaf"
          color="pole"
          border="1px solid"
          borderColor="pole"
          p="6px 8px"
          width="240px"
          whiteSpace="normal"
          fontFamily="body"
          fontSize="12px"
        >
          {editing.problem}
        </Box>
      ) : null}
    </Box>
  );
}
