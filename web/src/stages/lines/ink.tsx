import { chakra } from '@chakra-ui/react';
import type { Code, LineStyle } from '#core/codes';

const DASH: Record<LineStyle, string | undefined> = {
  solid: undefined,
  dashed: '7 5',
  dotted: '1.6 4.4',
  'long-dashed': '14 5',
  'dash-dot': '10 4 2 4',
};

/** How a code's lines are drawn. */
export const InkLine = ({ code }: { code: Code | undefined }) => (
  <chakra.svg
    width="38px"
    height="10px"
    display="inline-block"
    verticalAlign="middle"
    color={code?.ink ?? 'pole'}
    role="img"
    aria-label={code ? `${code.ink}, ${code.style}` : 'unknown'}
  >
    <path d="M0 5h38" stroke="currentColor" strokeWidth="2" strokeDasharray={code ? DASH[code.style] : '3 3'} />
  </chakra.svg>
);
