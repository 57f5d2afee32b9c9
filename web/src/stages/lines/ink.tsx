import { chakra } from '@chakra-ui/react';
import { STYLE_DASHES, strokePath, strokesOf, type Code } from '#core/codes';

/** How a code's lines are drawn. */
export const InkLine = ({ code }: { code: Pick<Code, 'ink' | 'style'> | undefined }) => (
  <chakra.svg
    width="38px"
    height="10px"
    display="inline-block"
    verticalAlign="middle"
    color={code?.ink ?? 'pole'}
    role="img"
    aria-label={code ? `${code.ink}, ${code.style}` : 'unknown'}
  >
    <path
      d="M0 5h38"
      stroke="currentColor"
      strokeWidth="2"
      strokeDasharray={
        code
          ? STYLE_DASHES[code.style].length
            ? STYLE_DASHES[code.style].map((mm) => mm * 3.4).join(' ')
            : undefined
          : '3 3'
      }
    />
  </chakra.svg>
);

/** How a code's points are drawn. */
export const InkSymbol = ({ code }: { code: Pick<Code, 'ink' | 'symbol' | 'strokes' | 'rotation'> }) => (
  <chakra.svg
    width="18px"
    height="18px"
    viewBox="-1.1 -1.1 2.2 2.2"
    display="inline-block"
    verticalAlign="middle"
    color={code.ink}
    role="img"
    aria-label={`${code.ink}, ${code.strokes ? 'own symbol' : code.symbol}`}
  >
    <g transform={code.rotation ? `rotate(${(code.rotation / Math.PI) * 180})` : undefined}>
      {strokesOf(code).map((s, i) => (
        <path
          key={i}
          d={strokePath(s)}
          stroke="currentColor"
          strokeWidth="0.16"
          fill={s.filled ? 'currentColor' : 'none'}
        />
      ))}
    </g>
  </chakra.svg>
);
