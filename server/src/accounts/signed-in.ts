import type { Request } from 'express';

/** The signed-in account of a request that needSession has let through. */
export const accountOf = (request: Request): string => request.session.accountId!;
