import { Box, chakra, Flex } from '@chakra-ui/react';
import { useEffect, useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import { Cut, Field, Key } from '../frame/controls.tsx';
import { addressOf } from '../frame/leaves.tsx';
import { sheetHandle } from '../sheet/handle.ts';
import { useParts, useProject } from '../project-state/store.ts';
import { findPoints, findsOf, type Doing, type Found, type Go } from './finds.ts';

const Option = chakra('li', {
  base: {
    display: 'flex',
    justifyContent: 'space-between',
    gap: '12px',
    px: '10px',
    py: '5px',
    cursor: 'pointer',
    '&[aria-selected=true]': { bg: 'mark' },
  },
});

/** One field to reach whatever is inside a project by any word of it, and anything that can be done. */
export function FindOrDo({ doings }: { doings: Doing[] }) {
  const [typed, setTyped] = useState('');
  const [rows, setRows] = useState<number[]>([]);
  const [at, setAt] = useState(0);
  const [open, setOpen] = useState(false);
  const input = useRef<HTMLInputElement>(null);
  const { id, state, tables } = useParts('id', 'state', 'tables');
  const navigate = useNavigate();

  useEffect(() => {
    let wanted = true;
    void (tables ? findPoints(tables, typed, () => wanted) : Promise.resolve([])).then(
      (found) => wanted && setRows(found),
    );
    setAt(0);
    return () => {
      wanted = false;
    };
  }, [typed, tables]);

  const go: Go = (stage, leaf, at) =>
    void navigate(
      leaf
        ? `/p/${id}/${stage}/${leaf}${at ? `?${new URLSearchParams({ at }).toString()}` : ''}`
        : addressOf(id, stage),
    );
  const points = rows.map((row): Found => ({
    kind: 'point',
    name: tables?.points.number.get(row) ?? '',
    about: tables?.points.description.get(row) ?? '',
    run: () => {
      useProject.getState().select({ kind: 'point', row });
      if (tables) sheetHandle.current?.show(tables.points.x[row], tables.points.y[row]);
    },
  }));
  const found = open && state && tables ? findsOf(state.document, tables, doings, go, typed) : [];
  const options = typed.trim() ? [...points, ...found] : found;
  const choose = (i: number): void => {
    if (!options[i]) return;
    options[i].run();
    setTyped('');
    setOpen(false);
    input.current?.blur();
  };

  return (
    <Box position="relative" width="240px" flexShrink="1">
      <Field
        ref={input}
        id="find-or-do"
        width="100%"
        role="combobox"
        aria-expanded={open}
        aria-controls="find-options"
        aria-label="find or do"
        placeholder="find or do"
        value={typed}
        onFocus={() => setOpen(true)}
        onBlur={() => setOpen(false)}
        onChange={(e) => {
          setTyped(e.target.value);
          setOpen(true);
        }}
        onKeyDown={(e) => {
          if (e.key === 'ArrowDown') setAt(Math.min(options.length - 1, at + 1));
          else if (e.key === 'ArrowUp') setAt(Math.max(0, at - 1));
          else if (e.key === 'Enter') choose(at);
          else if (e.key === 'Escape') {
            setTyped('');
            input.current?.blur();
          } else return;
          e.preventDefault();
        }}
      />
      <Flex position="absolute" right="6px" top="5px" pointerEvents="none" color="slate">
        <Key>/</Key>
      </Flex>
      {open && options.length ? (
        <chakra.ul
          id="find-options"
          role="listbox"
          position="absolute"
          top="30px"
          right="0"
          width="440px"
          maxHeight="420px"
          overflow="auto"
          zIndex="40"
          bg="leaf"
          border="1px solid"
          borderColor="ink"
          borderRadius="4px"
          m="0"
          p="4px 0"
          listStyleType="none"
          // The field keeps the focus while somebody chooses or scrolls.
          onPointerDown={(e) => e.preventDefault()}
        >
          {options.map((o, i) => (
            <Option
              key={`${o.kind}${o.name}${i}`}
              role="option"
              aria-selected={i === at}
              onClick={() => choose(i)}
              onPointerEnter={() => setAt(i)}
            >
              <Cut flex="1 1 auto">{o.name}</Cut>
              {o.about ? (
                <Cut color="slate" fontSize="13px" flex="0 10 auto">
                  {o.about}
                </Cut>
              ) : null}
              <Box as="span" color="slate" fontSize="13px" whiteSpace="nowrap">
                {o.kind}
              </Box>
            </Option>
          ))}
        </chakra.ul>
      ) : null}
      {open && typed.trim() && options.length === 0 ? (
        <Box
          position="absolute"
          top="30px"
          right="0"
          width="440px"
          zIndex="40"
          bg="leaf"
          border="1px solid"
          borderColor="ink"
          borderRadius="4px"
          p="8px 10px"
          color="slate"
        >
          Nothing in this project matches “{typed}”: no point, line, code, file, plot, query or command.
        </Box>
      ) : null}
    </Box>
  );
}
