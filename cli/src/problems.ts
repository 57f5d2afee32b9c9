/** Could not: exit 1 with this sentence. */
export class CannotDo extends Error {}

/** Wrong usage: exit 2. */
export class WrongUsage extends Error {}
