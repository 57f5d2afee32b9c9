import { useCallback, useEffect, useRef, useState } from 'react';
import { afterPaint } from '../after-paint.ts';
import { useLatest } from '../latest.ts';

interface Stepping {
  /** The row one stands on: the selected one, or the one just stepped to. */
  current: number | null;
  /** Stands on a row at once; it becomes the selected one when that is painted. */
  step: (row: number) => void;
  /** What was stepped to becomes the selected row now, before anything else is done with it. */
  settle: () => void;
}

/**
 * A step by key draws its row first: the card, the marks on the drawing and whatever else follows the selection come with
 * the frame after it. Of several steps within one frame the last is selected.
 */
export function useStepping(selected: number | null, onSelect: (row: number) => void): Stepping {
  const [stepped, setStepped] = useState<number | null>(null);
  const waiting = useRef<{ row: number; cancel: () => void } | null>(null);
  const { select } = useLatest({ select: onSelect });
  const settle = useCallback((): void => {
    const step = waiting.current;
    if (!step) return;
    step.cancel();
    waiting.current = null;
    select(step.row);
    setStepped(null);
  }, [select]);
  const step = useCallback(
    (row: number): void => {
      setStepped(row);
      if (waiting.current) waiting.current.row = row;
      else waiting.current = { row, cancel: afterPaint(settle) };
    },
    [settle],
  );
  // A table that is left with a step on its way still selects that row.
  useEffect(() => settle, [settle]);
  return { current: stepped ?? selected, step, settle };
}
