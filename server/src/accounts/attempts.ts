import { rateLimit, type Options, type RateLimitRequestHandler } from 'express-rate-limit';
import { Refusal } from '../http/problems.ts';

/** So many attempts in a quarter of an hour, of one address or by another key; a sentence for those beyond. */
export const attempts = (
  limit: number,
  { whose = '', ...how }: Partial<Pick<Options, 'keyGenerator' | 'skipSuccessfulRequests' | 'standardHeaders'>> & { whose?: string } = {}, // prettier-ignore
): RateLimitRequestHandler =>
  rateLimit({
    windowMs: 15 * 60 * 1000,
    limit,
    standardHeaders: true,
    legacyHeaders: false,
    handler: () => {
      throw new Refusal(429, `Too many attempts${whose}. Wait a quarter of an hour, then try again.`);
    },
    ...how,
  });
