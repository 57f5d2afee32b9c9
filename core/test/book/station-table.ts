import type { BookLayout } from '#core/book';

/** A table that names its station in every row, as instruments write them. */
export const STATION_TABLE: BookLayout = {
  split: 'separator',
  separator: ';',
  decimal: ',',
  skipRows: 1,
  unit: 'm',
  angle: 'gon',
  vertical: 'zenith',
  order: 'EN',
  tag: null,
  backsight: 'first',
  rows: [
    {
      tag: '',
      kind: 'shot',
      fields: (['station', 'hi', 'number', 'circle', 'zenith', 'dist', 'th', 'code'] as const).map((role, column) => ({
        role,
        at: { column },
      })),
    },
  ],
};
