import { type Manifest, packageSpecSchema } from '#core/handover';
import { z } from 'zod';

export const packageRequestSchema = z.object({ revision: z.int().min(0), spec: packageSpecSchema });

export interface PackageCard {
  id: string;
  revision: number;
  name: string;
  manifest: Manifest;
  madeAt: string;
  madeBy: string;
  size: number;
}
