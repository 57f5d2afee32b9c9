import { hashValue } from '#core/kernel';
import type { Basis, Intake } from '#core/project';
import { planKey, readingPlan } from './reading-plan.ts';

/** Raised where the same file is read into something else. */
export const READ_VERSION = 24;

/** The key of what is read of a file: its bytes and how they are read. */
export const readKey = (basis: Basis, intake: Intake): string =>
  hashValue(['read', READ_VERSION, intake.sha256, planKey(readingPlan(basis, intake))]);
