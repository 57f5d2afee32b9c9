import { memo, type MouseEvent } from 'react';
import { CellEditor, type Editing } from './cell-editor.tsx';
import type { Column } from './column.ts';

/** A column where it is laid out: how far from the left edge it stays, px, or undefined where it scrolls. */
export interface Place {
  column: Column;
  stays: number | undefined;
}

/** What a row asks of its table; the same object as long as the table stands. */
export type RowActs = {
  click: (event: MouseEvent, at: number) => void;
  point: (column: string) => void;
  begin: (row: number, column: Column) => void;
  change: (editing: Editing | null) => void;
  finish: (then: 'stay' | 'next') => void;
};

interface RowProps {
  row: number;
  /** Which of the rows shown it is, and px below the top of the table. */
  at: number;
  top: number;
  places: readonly Place[];
  template: string;
  selected: boolean;
  marked: boolean;
  quiet: boolean;
  /** What is typed over in this row. */
  editing: Editing | null;
  /** The column of this row where pasting begins. */
  here: string | null;
  acts: RowActs;
}

/** One row of a table; it is drawn anew only when something of it is another. */
export const GridRow = memo(function GridRow({
  row,
  at,
  top,
  places,
  template,
  selected,
  marked,
  quiet,
  editing,
  here,
  acts,
}: RowProps) {
  return (
    <div
      className={`grid-row${quiet ? ' quiet' : ''}${marked ? ' marked' : ''}`}
      id={`row-${row}`}
      role="row"
      aria-rowindex={at + 1}
      aria-selected={selected || marked}
      style={{ top, gridTemplateColumns: template }}
      onClick={(e) => acts.click(e, at)}
    >
      {places.map(({ column: c, stays }) =>
        editing !== null && editing.column === c.id ? (
          <CellEditor
            key={c.id}
            editing={editing}
            name={c.id}
            numeric={c.numeric ?? false}
            change={acts.change}
            finish={acts.finish}
          />
        ) : (
          <div
            key={c.id}
            className={`grid-cell${c.numeric ? ' numeric' : c.words ? ' words' : ''}${stays === undefined ? '' : ' stays'}${here === c.id ? ' here' : ''}`}
            style={stays === undefined ? undefined : { left: stays }}
            role="gridcell"
            title={c.text(row)}
            onMouseDown={() => acts.point(c.id)}
            onDoubleClick={() => acts.begin(row, c)}
          >
            {c.cell ? c.cell(row) : c.text(row)}
          </div>
        ),
      )}
    </div>
  );
});
