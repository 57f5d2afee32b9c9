import { chakra } from '@chakra-ui/react';

/** The hatch that stands for cut or fill on the drawing. */
export const Hatch = ({ kind }: { kind: 'cut' | 'fill' }) => (
  <chakra.svg
    width="12px"
    height="12px"
    viewBox="0 0 12 12"
    display="inline-block"
    verticalAlign="-2px"
    mr="3px"
    color={kind}
    aria-hidden="true"
  >
    <rect x="0.5" y="0.5" width="11" height="11" fill="none" stroke="currentColor" />
    <path
      d={kind === 'cut' ? 'M0 12 12 0M-3 9 9-3M3 15 15 3' : 'M0 0l12 12M-3 3l12 12M3-3l12 12'}
      stroke="currentColor"
      strokeWidth="1.3"
    />
  </chakra.svg>
);
