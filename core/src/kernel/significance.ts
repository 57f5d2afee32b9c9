/** Of normal deviates one in a thousand is larger, either way (tables of the normal distribution). */
export const CRITICAL = 3.29;
