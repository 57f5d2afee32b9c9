import type { Stage } from '#core/project';

export const STAGES: { stage: Stage; name: string }[] = [
  { stage: 'basis', name: 'Basis' },
  { stage: 'book', name: 'Book' },
  { stage: 'lines', name: 'Lines' },
  { stage: 'ground', name: 'Ground' },
  { stage: 'quantities', name: 'Quantities' },
  { stage: 'handover', name: 'Handover' },
];
