import type { Verb } from '../verb.ts';
import { ADJUST } from './adjust.ts';
import { CHECK_CONTOURS } from './check-contours.ts';
import { COMPARE_DRAWINGS } from './compare-drawings.ts';
import { CONTOURS, HEIGHTS } from './analysis.ts';
import { FACTORS, FIT } from './basis.ts';
import { CONVERT } from './convert.ts';
import { HEAP } from './heap.ts';
import { INSPECT } from './inspect.ts';
import { LINES } from './lines.ts';
import { PAD } from './pad.ts';
import { REDUCE } from './reduce.ts';
import { SURFACE } from './surface.ts';
import { VOLUME } from './volume.ts';

/** Every verb, in the order in which the work goes. */
export const VERBS: readonly Verb[] = [
  INSPECT,
  REDUCE,
  ADJUST,
  FIT,
  FACTORS,
  LINES,
  CHECK_CONTOURS,
  SURFACE,
  CONTOURS,
  HEIGHTS,
  VOLUME,
  HEAP,
  PAD,
  COMPARE_DRAWINGS,
  CONVERT,
];
