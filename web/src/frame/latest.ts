import { useLayoutEffect, useRef, useState } from 'react';

/** Functions that stay the same from drawing to drawing and do what the last one's would. */
export function useLatest<T extends Record<string, (...args: never[]) => unknown>>(now: T): T {
  const latest = useRef(now);
  useLayoutEffect(() => {
    latest.current = now;
  });
  const [lasting] = useState(
    () =>
      Object.fromEntries(
        Object.keys(now).map((name) => [name, (...args: never[]) => latest.current[name](...args)]),
      ) as T,
  );
  return lasting;
}
