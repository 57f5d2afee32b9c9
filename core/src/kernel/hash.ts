import { sha256 } from '@noble/hashes/sha2.js';
import { bytesToHex } from '@noble/hashes/utils.js';
import { onceFor } from './once.ts';

/** SHA-256 of bytes, in lower-case hexadecimal. */
export function hashBytes(bytes: Uint8Array): string {
  return bytesToHex(sha256(bytes));
}

/** SHA-256 of a plain value, the same whatever order its object keys were set in. */
export function hashValue(value: unknown): string {
  return hashBytes(new TextEncoder().encode(canonical(value)));
}

function canonical(value: unknown): string {
  if (Array.isArray(value)) return `[${value.map(canonical).join(',')}]`;
  if (value !== null && typeof value === 'object') {
    const entries = Object.entries(value)
      .filter(([, v]) => v !== undefined)
      .sort(([a], [b]) => (a < b ? -1 : a > b ? 1 : 0));
    return `{${entries.map(([k, v]) => `${JSON.stringify(k)}:${canonical(v)}`).join(',')}}`;
  }
  return JSON.stringify(value) ?? 'null';
}

/** SHA-256 of a plain object that is never altered, made once: of a large document only what is new is read. */
export const hashOnce = onceFor((value: object): string => hashValue(value));
