import { onceFor } from '#core/kernel';
import { NO_POINT } from '#core/terrain';

/** 1 for rows that a surface has as vertices; found once for as long as they stand. Rows behind its end are none. */
export const isInGround = onceFor((point: Uint32Array): Uint8Array => {
  let last = -1;
  for (let v = 0; v < point.length; v++) if (point[v] !== NO_POINT && point[v] > last) last = point[v];
  const out = new Uint8Array(last + 1);
  for (let v = 0; v < point.length; v++) if (point[v] !== NO_POINT) out[point[v]] = 1;
  return out;
});
