export interface ReductionNote {
  kind:
    | 'no-backsight'
    | 'backsight-unknown'
    | 'station-unknown'
    | 'reading-missing'
    | 'zenith-impossible'
    | 'spread'
    | 'typed-differs'
    | 'gnss-poor'
    | 'gnss-spread'
    | 'gnss-left'
    | 'gnss-check'
    | 'level-misclosure'
    | 'level-unreached'
    | 'station-twice'
    | 'face-wrong'
    | 'before-setup'
    | 'turn-unknown'
    | 'spread-wide'
    | 'uncontrolled';
  book: string;
  row: number;
  rows: number[];
  number: string;
  text: string;
  values: number[];
  /** Of readings that differ by too much: which of them points to what else, by row and number. */
  others?: { row: number; number: string }[];
}
