import { Box, Flex } from '@chakra-ui/react';
import { ArrowDown, ArrowUp, Columns3, Minus, Pin, PinOff, Plus } from 'lucide-react';
import { useEffect, useRef, useState, type ReactNode } from 'react';
import { Act, Cut } from '../controls.tsx';
import type { ColumnChoice } from '#contract';
import { isPinned, isShown, orderOf, useColumnChoices } from './choice.ts';
import { nameOf, type Column } from './column.ts';

const STEP = 16;
const NARROWEST = 32;

/** The button at the end of a table's headings, and the columns to choose from behind it. */
export function ColumnsButton({
  table,
  label,
  columns,
  widths,
}: {
  table: string;
  label: string;
  columns: readonly Column[];
  widths: Readonly<Record<string, number>>;
}) {
  const [open, setOpen] = useState(false);
  const box = useRef<HTMLDivElement>(null);
  useEffect(() => {
    if (!open) return;
    const outside = (e: PointerEvent): void => {
      if (!box.current?.contains(e.target as Node)) setOpen(false);
    };
    // Wherever the focus is: a button that has done its work may be gone with it.
    const escape = (e: KeyboardEvent): void => {
      if (e.key !== 'Escape') return;
      e.stopPropagation();
      setOpen(false);
      box.current?.querySelector('button')?.focus();
    };
    document.addEventListener('pointerdown', outside);
    document.addEventListener('keydown', escape, true);
    return () => {
      document.removeEventListener('pointerdown', outside);
      document.removeEventListener('keydown', escape, true);
    };
  }, [open]);
  return (
    <div ref={box}>
      <button
        type="button"
        className="grid-columns"
        aria-label={`columns of ${label}`}
        title="Columns: choose, move, pin, widen"
        aria-expanded={open}
        onClick={() => setOpen(!open)}
      >
        <Columns3 size={14} aria-hidden />
      </button>
      {open ? <ColumnsPanel table={table} label={label} columns={columns} widths={widths} /> : null}
    </div>
  );
}

/** Columns chosen, moved, pinned and widened, each by a control that a keyboard reaches. */
function ColumnsPanel({ table, label, columns, widths }: Parameters<typeof ColumnsButton>[0]) {
  const choice = useColumnChoices((s) => s.choices[table]) as ColumnChoice | undefined;
  const choose = useColumnChoices((s) => s.choose);
  const order = orderOf(columns, choice);
  const shown = columns.filter((c) => isShown(c, choice)).length;
  const change = (part: ColumnChoice): void => choose(table, { ...choice, ...part });
  const move = (id: string, by: number): void => {
    const to = order.filter((o) => o !== id);
    to.splice(order.indexOf(id) + by, 0, id);
    change({ order: to });
  };
  const widen = (id: string, by: number): void =>
    change({ widths: { ...choice?.widths, [id]: Math.max(NARROWEST, (choice?.widths?.[id] ?? widths[id]) + by) } });
  return (
    <Box
      role="dialog"
      aria-label={`columns of ${label}`}
      position="absolute"
      top="30px"
      right="0"
      zIndex="6"
      width="300px"
      maxHeight="min(420px, calc(100% - 34px))"
      overflow="auto"
      bg="leaf"
      border="1px solid"
      borderColor="ink"
      borderRadius="4px"
      p="6px"
    >
      {order.map((id, i) => {
        const c = columns.find((o) => o.id === id)!;
        const name = nameOf(c);
        const pinned = isPinned(c, choice);
        return (
          <Flex key={id} align="center" height="28px" gap="2px" px="4px">
            <Flex as="label" align="center" gap="6px" flex="1" minWidth="0" fontSize="13px">
              <input
                type="checkbox"
                checked={isShown(c, choice)}
                disabled={isShown(c, choice) && shown === 1}
                onChange={(e) => change({ shown: { ...choice?.shown, [id]: e.target.checked } })}
              />
              <Cut>{name}</Cut>
            </Flex>
            <Small label={`${name} earlier`} disabled={i === 0} onClick={() => move(id, -1)}>
              <ArrowUp size={14} aria-hidden />
            </Small>
            <Small label={`${name} later`} disabled={i === order.length - 1} onClick={() => move(id, 1)}>
              <ArrowDown size={14} aria-hidden />
            </Small>
            <Small label={`${name} narrower`} onClick={() => widen(id, -STEP)}>
              <Minus size={14} aria-hidden />
            </Small>
            <Small label={`${name} wider`} onClick={() => widen(id, STEP)}>
              <Plus size={14} aria-hidden />
            </Small>
            <Small
              label={pinned ? `unpin ${name}` : `pin ${name}`}
              pressed={pinned}
              onClick={() => change({ pinned: { ...choice?.pinned, [id]: !pinned } })}
            >
              {pinned ? <Pin size={14} aria-hidden /> : <PinOff size={14} aria-hidden />}
            </Small>
          </Flex>
        );
      })}
      <Flex justify="flex-end" pt="4px">
        <Act look="quiet" disabled={!choice} onClick={() => choose(table, null)}>
          As they were
        </Act>
      </Flex>
    </Box>
  );
}

const Small = ({
  label,
  pressed,
  disabled,
  onClick,
  children,
}: {
  label: string;
  pressed?: boolean;
  disabled?: boolean;
  onClick: () => void;
  children: ReactNode;
}) => (
  <Act
    look="quiet"
    px="3px"
    width="22px"
    height="24px"
    flexShrink="0"
    aria-label={label}
    title={label}
    aria-pressed={pressed}
    color={pressed === false ? 'slate' : undefined}
    disabled={disabled}
    onClick={onClick}
  >
    {children}
  </Act>
);
