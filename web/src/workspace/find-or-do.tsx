import { Box, chakra, Flex } from '@chakra-ui/react';
import { useEffect, useRef, useState } from 'react';
import { Field, Key } from '../frame/controls.tsx';
import { sheetHandle } from '../sheet/handle.ts';
import { useProject } from '../project-state/store.ts';

/** Something that can be done from the keyboard, by name or by its key. */
export interface Doing {
  name: string;
  key?: string;
  run: () => void;
  enabled?: boolean;
}

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

const SLICE = 20_000;

/** Rows whose number is, or begins with, what was typed; a slice at a time, so that the page answers meanwhile. */
async function findNumbers(typed: string, most: number, wanted: () => boolean): Promise<number[]> {
  const { tables } = useProject.getState();
  if (!tables || typed === '') return [];
  const exact: number[] = [];
  const begins: number[] = [];
  const { number } = tables.points;
  const sought = typed.toLowerCase();
  for (let row = 0; row < number.length && wanted(); row++) {
    const n = number.get(row).toLowerCase();
    if (n === sought) exact.push(row);
    else if (begins.length < most && n.startsWith(sought)) begins.push(row);
    if (exact.length >= most) break;
    if (row % SLICE === SLICE - 1) await new Promise((r) => setTimeout(r));
  }
  return [...exact, ...begins].slice(0, most);
}

/** One field to reach any point by its number, any line by its name, and anything that can be done. */
export function FindOrDo({ doings }: { doings: Doing[] }) {
  const [typed, setTyped] = useState('');
  const [rows, setRows] = useState<number[]>([]);
  const [at, setAt] = useState(0);
  const [open, setOpen] = useState(false);
  const input = useRef<HTMLInputElement>(null);
  const { tables } = useProject();

  useEffect(() => {
    let wanted = true;
    void findNumbers(typed.trim(), 6, () => wanted).then((found) => wanted && setRows(found));
    setAt(0);
    return () => {
      wanted = false;
    };
  }, [typed, tables]);

  const text = typed.trim().toLowerCase();
  const lines =
    text && tables ? tables.linework.lines.filter((l) => l.key.toLowerCase().startsWith(text)).slice(0, 5) : [];
  const actions = doings
    .filter((d) => d.enabled !== false && d.name.toLowerCase().includes(text))
    .slice(0, text ? 8 : 12);
  const options: { label: string; side: string; run: () => void }[] = [
    ...rows.map((row) => ({
      label: `point ${tables?.points.number.get(row)}`,
      side: tables?.points.description.get(row) ?? '',
      run: () => {
        useProject.getState().select({ kind: 'point', row });
        if (tables) sheetHandle.current?.show(tables.points.x[row], tables.points.y[row]);
      },
    })),
    ...lines.map((l) => ({
      label: `line ${l.key}`,
      side: `${l.rows.length} points`,
      run: () => {
        useProject.getState().select({ kind: 'line', key: l.key });
        if (tables) sheetHandle.current?.fitTo(l.x, l.y);
      },
    })),
    ...actions.map((d) => ({ label: d.name, side: d.key ?? '', run: d.run })),
  ];
  const choose = (i: number): void => {
    options[i]?.run();
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
        onBlur={() => setTimeout(() => setOpen(false), 150)}
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
          width="340px"
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
        >
          {options.map((o, i) => (
            <Option
              key={`${o.label}${i}`}
              role="option"
              aria-selected={i === at}
              onPointerDown={(e) => e.preventDefault()}
              onClick={() => choose(i)}
              onPointerEnter={() => setAt(i)}
            >
              <span>{o.label}</span>
              <Box
                as="span"
                color="slate"
                fontSize="13px"
                whiteSpace="nowrap"
                overflow="hidden"
                textOverflow="ellipsis"
              >
                {o.side}
              </Box>
            </Option>
          ))}
        </chakra.ul>
      ) : null}
      {open && text && options.length === 0 ? (
        <Box
          position="absolute"
          top="30px"
          right="0"
          width="340px"
          zIndex="40"
          bg="leaf"
          border="1px solid"
          borderColor="ink"
          borderRadius="4px"
          p="8px 10px"
          color="slate"
        >
          No point, line or action begins with “{typed}”.
        </Box>
      ) : null}
    </Box>
  );
}
