import type { DxfVersion } from '#core/exchange';
import { Account } from './account.ts';

/** Options as the verbs take them; lengths in metres. */
export interface Options {
  json: boolean;
  /** What is not taken from the files of the command. */
  account: Account;
  output?: string;
  order?: string;
  unit?: string;
  /** The sheet of a spreadsheet. */
  sheet?: string;
  toOrder?: string;
  toUnit?: string;
  codes?: string;
  words?: string;
  lines?: string;
  boundary?: string;
  within?: string;
  at?: string;
  against?: string;
  name?: string;
  method?: string;
  dxf: DxfVersion;
  longestSide?: number;
  coincidence?: number;
  interval?: number;
  every?: number;
  level?: number;
  cell?: number;
  spacing?: number;
  decimals?: number;
  textHeight?: number;
  /** Systems by code or definition, of what comes in and what goes out. */
  from?: string;
  to?: string;
  geoid?: string;
  heights?: 'to-orthometric' | 'to-ellipsoidal' | 'ellipsoidal';
  interpolation: 'bilinear' | 'biquadratic';
  /** Datum grid files. */
  grids: string[];
  outsideArea: boolean;
  control?: string;
  /** Layout of a field book in a table or tagged text, a JSON file. */
  layout?: string;
  tolerancePlan?: number;
  toleranceHeight?: number;
  /** The network free in itself, control not holding it. */
  free: boolean;
  refraction?: number;
  factor?: number;
  /** Of a fit: scale solved for or held at 1; seven parameters in space. */
  scale?: 'free' | 'fixed';
  space: boolean;
  projectFactor?: number;
}

export interface Outcome {
  json: unknown;
  text: string;
}
