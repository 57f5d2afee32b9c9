import { packColumns, unpackColumns, type Columns } from '#core/kernel';

// What lies between two surfaces, as one block of typed columns.

const f64 = (c: Columns, name: string): Float64Array => c[name] as Float64Array;

export const packPieces = (pieces: Float64Array): Uint8Array => packColumns({ pieces });
export const unpackPieces = (block: Uint8Array): Float64Array => f64(unpackColumns(block), 'pieces');
