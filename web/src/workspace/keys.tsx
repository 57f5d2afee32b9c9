import { Box, chakra, Flex } from '@chakra-ui/react';
import { useEffect, useState } from 'react';
import { Act, Key } from '../frame/controls.tsx';
import type { Doing } from './finds.ts';

const SWITCH = 'dunrik.single-keys';
const single = (): boolean => localStorage.getItem(SWITCH) !== 'off';

/** Where keys write: a box that is ticked is none. */
const TYPED_INTO = 'input:not([type=checkbox], [type=radio]), textarea, [contenteditable]';

/** Single keys act only outside cells and fields, and can be switched off. */
export function useKeys(doings: Doing[]): void {
  useEffect(() => {
    const onKey = (e: KeyboardEvent): void => {
      const target = e.target as HTMLElement;
      if (target.closest(TYPED_INTO) || e.altKey) return;
      // A list that a value was chosen from lets the preview of that choice be decided.
      if (target.closest('select') && e.key !== 'Enter' && e.key !== 'Escape') return;
      const ctrl = e.ctrlKey || e.metaKey;
      const name = ctrl ? `Ctrl ${e.key.toUpperCase()}` : e.key.length === 1 ? e.key.toUpperCase() : e.key;
      if (!ctrl && e.key.length === 1 && !single()) return;
      // A button that has the focus keeps its own Enter, unless it only led here.
      if (e.key === 'Enter' && target.closest('button, a') && !target.closest('[data-passes-enter]')) return;
      const doing = doings.find((d) => d.key?.toUpperCase() === name.toUpperCase() && d.enabled !== false);
      if (!doing) return;
      e.preventDefault();
      e.stopPropagation();
      doing.run();
    };
    window.addEventListener('keydown', onKey, true);
    return () => window.removeEventListener('keydown', onKey, true);
  }, [doings]);
}

/** All keys, and the switch for single ones. */
export function KeysPanel({ doings, onClose }: { doings: Doing[]; onClose: () => void }) {
  const [on, setOn] = useState(single());
  return (
    <Box
      role="dialog"
      aria-label="keys"
      position="absolute"
      inset="0"
      zIndex="50"
      display="flex"
      alignItems="center"
      justifyContent="center"
      onClick={onClose}
    >
      <Box
        bg="leaf"
        border="1px solid"
        borderColor="ink"
        borderRadius="4px"
        p="18px 22px"
        width="460px"
        maxHeight="80%"
        overflow="auto"
        onClick={(e) => e.stopPropagation()}
      >
        <Flex align="center" mb="8px">
          <chakra.h2 m="0" fontSize="16px" fontWeight="700" flex="1">
            Keys
          </chakra.h2>
          <Act look="quiet" aria-label="close" autoFocus onClick={onClose}>
            ×
          </Act>
        </Flex>
        {doings
          .filter((d) => d.key)
          .map((d) => (
            <Flex key={d.name} justify="space-between" py="3px">
              <span>{d.name}</span>
              <Key>{d.key}</Key>
            </Flex>
          ))}
        <Flex justify="space-between" py="3px">
          <span>step the rows of a table</span>
          <Key>arrows</Key>
        </Flex>
        <Flex justify="space-between" py="3px">
          <span>edit the cell of the row</span>
          <Key>Enter or F2</Key>
        </Flex>
        <chakra.label display="flex" gap="8px" mt="12px">
          <input
            type="checkbox"
            checked={on}
            onChange={(e) => {
              localStorage.setItem(SWITCH, e.target.checked ? 'on' : 'off');
              setOn(e.target.checked);
            }}
          />
          single keys act (outside cells and fields)
        </chakra.label>
      </Box>
    </Box>
  );
}
