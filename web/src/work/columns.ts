import { joinedText, unpackColumns, type StringColumn } from '#core/kernel';

/** Strings of a column, decoded when somebody looks at the first of them. */
export class LazyText {
  private joined: ReturnType<typeof joinedText> | null = null;

  constructor(private readonly column: StringColumn) {}

  get length(): number {
    return this.column.offsets.length - 1;
  }

  get(i: number): string {
    const { text, starts } = (this.joined ??= joinedText(this.column));
    return text.slice(starts[i], starts[i + 1]);
  }
}

/** The project's points as the page holds them: metres, columns. */
export interface PointColumns {
  intake: Uint32Array;
  fileRow: Uint32Array;
  x: Float64Array;
  y: Float64Array;
  z: Float64Array;
  state: Uint8Array;
  edited: Uint8Array;
  light: Uint8Array;
  /** Standard deviations, m; NaN where nothing is known of them. */
  sdPlan: Float32Array;
  sdHeight: Float32Array;
  /** Day of the observation, year month day as one number; 0 where none was said. */
  date: Uint32Array;
  number: LazyText;
  description: LazyText;
}

export function pointColumns(block: Uint8Array): PointColumns {
  const c = unpackColumns(block);
  return {
    intake: c.intake as Uint32Array,
    fileRow: c.fileRow as Uint32Array,
    x: c.x as Float64Array,
    y: c.y as Float64Array,
    z: c.z as Float64Array,
    state: c.state as Uint8Array,
    edited: c.edited as Uint8Array,
    light: c.light as Uint8Array,
    sdPlan: c.sdPlan as Float32Array,
    sdHeight: c.sdHeight as Float32Array,
    date: c.date as Uint32Array,
    number: new LazyText(c.number as StringColumn),
    description: new LazyText(c.description as StringColumn),
  };
}
