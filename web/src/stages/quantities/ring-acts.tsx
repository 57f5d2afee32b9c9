import { useState } from 'react';
import { Act, Pick } from '../../frame/controls.tsx';
import { useParts } from '../../project-state/store.ts';
import { TypedRing } from './typed-ring.tsx';
import { closedLines, ringOfLine } from './closed-lines.ts';

interface RingActsProps {
  /** What is drawn, as a sentence goes on with it. */
  purpose: string;
  /** On the button. */
  draw: string;
  /** Of the list of closed lines, for a screen reader. */
  pick: string;
  /** The ring, x, y …, and the code of the line that it was, where it was one. */
  onRing: (ring: number[], code: string | null) => void;
  height?: string;
}

/** A ring that is drawn, typed, or a closed line of the project as it runs now. */
export function RingActs({ purpose, draw, pick, onRing, height }: RingActsProps) {
  const { tables, trace, traced } = useParts('tables', 'trace', 'traced');
  const lines = closedLines(tables!);
  const [typing, setTyping] = useState(false);
  return (
    <>
      <Act
        disabled={traced !== null}
        height={height}
        onClick={() => trace({ purpose, places: [], finish: (ring) => onRing(ring, null) })}
      >
        {draw}
      </Act>
      <Act
        height={height}
        aria-expanded={typing}
        title={`coordinates of the corners of ${purpose}`}
        onClick={() => setTyping(!typing)}
      >
        Type …
      </Act>
      {lines.length ? (
        <Pick
          aria-label={pick}
          height={height}
          width="150px"
          value=""
          onChange={(e) => {
            const line = lines.find((l) => l.key === e.target.value);
            if (line) onRing(ringOfLine(line), line.code + line.lineNumber);
          }}
        >
          <option value="">or a closed line …</option>
          {lines.map((l) => (
            <option key={l.key} value={l.key}>
              {l.key}
            </option>
          ))}
        </Pick>
      ) : null}
      {typing ? (
        <TypedRing what={purpose} onRing={(ring) => onRing(ring, null)} onClose={() => setTyping(false)} />
      ) : null}
    </>
  );
}
