import { type Manifest, type PackageSpec, packageSpecSchema } from '#core/handover';
import { z } from 'zod';

export const packageRequestSchema = z.object({ revision: z.int().min(0), spec: packageSpecSchema });

/** Why a package that may have gone out is no longer to be used. */
export const withdrawSchema = z.object({ why: z.string().trim().min(1, 'Say why it is withdrawn.').max(400) });

export interface PackageCard {
  id: string;
  revision: number;
  name: string;
  manifest: Manifest;
  madeAt: string;
  madeBy: string;
  size: number;
  /** What was asked for; null of older ones. */
  spec: PackageSpec | null;
  withdrawn: { at: string; by: string; why: string } | null;
}
