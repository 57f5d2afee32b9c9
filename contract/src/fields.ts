import { z } from 'zod';

// Fields that several requests have.

export const name = z.string().trim().min(1, 'A name is needed.').max(120);
export const uuid = z.uuid();
