import { useCallback, useEffect, useState, type RefObject } from 'react';

/** Rows drawn beyond what is seen, above and below. */
const OVERSCAN = 6;

/**
 * Which rows of a table of equal rows are in sight. Arithmetic on the scroll position alone, so that a
 * million rows cost no more than thirty. `head` is the height above the first row.
 */
export function useWindow(scroller: RefObject<HTMLElement | null>, count: number, rowHeight: number, head: number) {
  const [top, setTop] = useState(0);
  const [height, setHeight] = useState(600);
  useEffect(() => {
    const element = scroller.current;
    if (!element) return;
    const onScroll = (): void => setTop(element.scrollTop);
    const box = new ResizeObserver(() => setHeight(element.clientHeight));
    element.addEventListener('scroll', onScroll, { passive: true });
    box.observe(element);
    return () => {
      element.removeEventListener('scroll', onScroll);
      box.disconnect();
    };
  }, [scroller]);
  const from = Math.max(0, Math.min(count, Math.floor((top - head) / rowHeight)) - OVERSCAN);
  const to = Math.min(count, Math.ceil((top + height) / rowHeight) + OVERSCAN);
  const scrollTo = useCallback(
    (index: number): void => {
      const element = scroller.current;
      if (!element) return;
      const at = head + index * rowHeight;
      if (at - head < element.scrollTop) element.scrollTop = at - head;
      else if (at + rowHeight > element.scrollTop + element.clientHeight)
        element.scrollTop = at + rowHeight - element.clientHeight;
    },
    [scroller, rowHeight, head],
  );
  return { from, to, total: head + count * rowHeight, scrollTo };
}
