/** A stroke of a symbol in a square from −1 to 1, y up: a course of straight sides, or a circle. */
export type Stroke =
  | { kind: 'course'; places: readonly number[]; closed?: boolean; filled?: boolean }
  | { kind: 'circle'; x: number; y: number; radius: number; filled?: boolean };
