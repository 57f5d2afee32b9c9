/** The stages of the work, in the order in which it goes. */
export type Stage = 'basis' | 'book' | 'lines' | 'ground' | 'quantities' | 'handover';
