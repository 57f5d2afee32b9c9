import { Box, Flex } from '@chakra-ui/react';
import { USUAL_CLEANING, type Cleaned, type FilePart } from '#core/exchange';
import { UNIT_SIGN, type LengthUnit } from '#core/measure';
import { Aside, Tick } from '../frame/controls.tsx';
import { TypedLength } from '../frame/typed-length.tsx';

type Clean = NonNullable<FilePart['clean']>;

const MOST = 10;

/** Lines of a drawing cleaned for a small screen: what is asked for, and what it did. */
export function CleanLines({
  clean,
  cleaned,
  unit,
  onChange,
}: {
  clean: Clean | undefined;
  cleaned: Cleaned | undefined;
  unit: LengthUnit;
  onChange: (clean: Clean | undefined) => void;
}) {
  const of = clean ?? USUAL_CLEANING;
  return (
    <Box mb="6px">
      <Flex gap="10px" align="center" wrap="wrap">
        <Tick
          label="clean its lines"
          on={clean !== undefined}
          set={(on) => onChange(on ? USUAL_CLEANING : undefined)}
        />
        {clean ? (
          <>
            <Length name="join ends within" value={of.join} unit={unit} set={(join) => onChange({ ...of, join })} />
            <Length
              name="straighten within"
              value={of.straight}
              unit={unit}
              set={(straight) => onChange({ ...of, straight })}
            />
            <Tick
              label="without lines at 0 where their layer has elevations"
              on={of.atZero}
              set={(atZero) => onChange({ ...of, atZero })}
            />
          </>
        ) : (
          <Aside>without doubles and lines of no length, joined, straightened</Aside>
        )}
      </Flex>
      {clean && cleaned ? (
        <Box role="status" fontSize="13px" mt="2px">
          {said(cleaned)}
        </Box>
      ) : null}
    </Box>
  );
}

function Length({
  name,
  value,
  unit,
  set,
}: {
  name: string;
  value: number;
  unit: LengthUnit;
  set: (metres: number) => void;
}) {
  return (
    <label>
      <Aside>
        {name} {UNIT_SIGN[unit]}{' '}
      </Aside>
      <TypedLength
        label={name}
        value={value}
        unit={unit}
        least={0}
        most={MOST}
        must={`A length from 0 to ${MOST} m.`}
        set={(metres) => set(metres!)}
        field={{ width: '68px' }}
      />
    </label>
  );
}

function said({ before, after, doubled, noLength, atZero, joined }: Cleaned): string {
  const parts: [number, string][] = [[doubled, 'doubled'], [noLength, 'of no length'], [atZero, 'at elevation 0'], [joined, joined === 1 ? 'end joined' : 'ends joined']]; // prettier-ignore
  const what = parts.flatMap(([n, is]) => (n ? [`${n} ${is}`] : [])).join(', ');
  const lines = (n: number): string => `${n} ${n === 1 ? 'line' : 'lines'}`;
  return `${lines(before.lines)} with ${before.vertices} vertices became ${lines(after.lines)} with ${after.vertices}${what ? `: ${what}` : ''}.`;
}
