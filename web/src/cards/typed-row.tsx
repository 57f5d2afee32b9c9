import { Box } from '@chakra-ui/react';
import { useRef, useState, type FormEvent } from 'react';
import { Field, Num } from '../frame/controls.tsx';
import { Row } from './card-frame.tsx';

/**
 * A value of a card, typed over in place: taken on Enter or on leaving the field, let be on Escape. `onTake` says
 * what is wrong with it, or null when it took it.
 */
export function TypedRow({
  name,
  value,
  canEdit,
  width,
  onTake,
}: {
  name: string;
  value: string;
  canEdit: boolean;
  width: string;
  onTake: (typed: string) => string | null;
}) {
  const [typed, setTyped] = useState<string | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const input = useRef<HTMLInputElement>(null);
  const leaving = useRef(false);
  // The field is left, so that Enter and Escape decide on the preview; leaving it this way takes nothing again.
  const leave = (): void => {
    setTyped(null);
    setProblem(null);
    leaving.current = true;
    input.current?.blur();
    leaving.current = false;
  };
  const submit = (event?: FormEvent): void => {
    event?.preventDefault();
    if (leaving.current || typed === null) return;
    const wrong = typed === value ? null : onTake(typed);
    if (wrong === null) leave();
    else setProblem(wrong);
  };
  return (
    <>
      <Row name={name}>
        {canEdit ? (
          <form onSubmit={submit}>
            <Field
              ref={input}
              fontFamily="mono"
              textAlign="right"
              width={width}
              borderColor={typed === null ? 'transparent' : 'pine'}
              bg={typed === null ? 'transparent' : 'leaf'}
              aria-label={name}
              aria-invalid={problem !== null}
              value={typed ?? value}
              placeholder="none"
              onFocus={() => setTyped(value)}
              onChange={(e) => setTyped(e.target.value)}
              onBlur={() => submit()}
              onKeyDown={(e) => {
                e.stopPropagation();
                if (e.key === 'Escape') leave();
              }}
            />
          </form>
        ) : (
          <Num>{value || 'none'}</Num>
        )}
      </Row>
      {problem ? (
        <Box role="alert" color="pole" fontSize="12px">
          {problem}
        </Box>
      ) : null}
    </>
  );
}
