import { z } from 'zod';

/** Coordinates in metres that are places on earth. */
export const coordinate = z.number().min(-1e8).max(1e8);
export const elevation = z.number().min(-1e5).max(1e5);
export const shortText = z.string().trim().min(1).max(120);
export const sha256 = z.string().regex(/^[0-9a-f]{64}$/);

export const unitSchema = z.enum(['m', 'ft', 'usft']);
