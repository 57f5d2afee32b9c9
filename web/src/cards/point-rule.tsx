import { chakra, Flex } from '@chakra-ui/react';
import type { PointRule } from '#core/project';
import { fromMetres, METRES_IN, UNIT_SIGN } from '#core/measure';
import { Act, Field, Two } from '../frame/controls.tsx';
import { useParts } from '../project-state/store.ts';

interface RuleShape {
  /** What the rule is of, for the names of its fields. */
  of: string;
  rule: PointRule;
  disabled: boolean;
  onChange: (rule: PointRule) => void;
}

/** The parts of a rule for points, as rows of a grid of two columns: a part left empty asks nothing. */
export function PointRuleFields({ of, rule, disabled, onChange }: RuleShape) {
  const { state, trace, traced, tell } = useParts('state', 'trace', 'traced', 'tell');
  const doc = state!.document;
  const { unit } = doc.settings;
  const with_ = (part: Partial<PointRule>): void =>
    onChange(Object.fromEntries(Object.entries({ ...rule, ...part }).filter(([, v]) => v !== undefined)));
  const range = (
    name: string,
    now: readonly [number | string, number | string] | undefined,
    read: (text: string) => number | string | null,
    take: (pair: [never, never] | undefined) => void,
    show: (v: number | string) => string = String,
  ) => (
    <Two name={name}>
      <Flex gap="6px" align="center">
        {[0, 1].map((i) => (
          <Field
            key={`${i}${String(now)}`}
            width="96px"
            aria-label={`${name}, ${i === 0 ? 'from' : 'to'}`}
            placeholder={i === 0 ? 'from' : 'to'}
            disabled={disabled}
            defaultValue={now ? show(now[i]) : ''}
            data-pair={name}
            onBlur={(e) => {
              const both = [
                ...e.target.closest('[data-rule]')!.querySelectorAll<HTMLInputElement>(`[data-pair="${name}"]`),
              ].map((f) => f.value.trim());
              // Figures that are shown may be rounded: left as they stand, they are no other rule.
              if (now && both.every((t, k) => t === show(now[k]))) return;
              if (both.every((t) => t === '')) return now ? take(undefined) : undefined;
              if (both.some((t) => t === '')) return;
              const values = both.map(read);
              if (values.some((v) => v === null)) return tell(`“${both.join(' … ')}” is not a range of ${name}.`);
              take(values as never);
            }}
          />
        ))}
      </Flex>
    </Two>
  );
  const number = (text: string): number | null =>
    Number.isFinite(Number(text.replace(',', '.'))) ? Number(text.replace(',', '.')) : null;
  return (
    <chakra.div display="contents" data-rule="">
      <Two name="files">
        <Flex gap="4px 12px" wrap="wrap">
          {doc.intakes
            .filter((i) => i.purpose === 'survey')
            .map((i) => (
              <chakra.label key={i.id} display="inline-flex" gap="5px" alignItems="center" fontSize="13px">
                <input
                  type="checkbox"
                  disabled={disabled}
                  checked={rule.files?.includes(i.id) ?? false}
                  onChange={(e) => {
                    const files = e.target.checked
                      ? [...(rule.files ?? []), i.id]
                      : (rule.files ?? []).filter((f) => f !== i.id);
                    with_({ files: files.length ? files : undefined });
                  }}
                />
                {i.fileName}
              </chakra.label>
            ))}
        </Flex>
      </Two>
      <Two name="codes">
        <Field
          key={String(rule.codes)}
          fontFamily="mono"
          aria-label={`codes of ${of}`}
          placeholder="KT BT* …"
          disabled={disabled}
          defaultValue={(rule.codes ?? []).join(' ')}
          onBlur={(e) => {
            const codes = e.target.value
              .toUpperCase()
              .split(/[\s,;]+/)
              .filter(Boolean);
            if (codes.join() !== (rule.codes ?? []).join()) with_({ codes: codes.length ? codes : undefined });
          }}
        />
      </Two>
      {range('numbers', rule.numbers, number, (numbers) => with_({ numbers }))}
      {range(
        `elevations ${UNIT_SIGN[unit]}`,
        rule.elevations,
        (t) => {
          const v = number(t);
          return v === null ? null : v * METRES_IN[unit];
        },
        (elevations) => with_({ elevations }),
        (v) => String(Number(fromMetres(Number(v), unit).toFixed(3))),
      )}
      {range(
        'dates',
        rule.dates,
        (t) => (/^\d{4}-\d{2}-\d{2}$/.test(t) ? t : null),
        (dates) => with_({ dates }),
      )}
      <Two name="area">
        <Flex gap="6px" align="center">
          <Act
            disabled={disabled || traced !== null}
            onClick={() => trace({ purpose: `the area of ${of}`, places: [], finish: (ring) => with_({ area: ring }) })}
          >
            {rule.area ? 'Draw it again' : 'Draw it'}
          </Act>
          {rule.area ? (
            <Act look="quiet" disabled={disabled} onClick={() => with_({ area: undefined })}>
              Anywhere
            </Act>
          ) : null}
        </Flex>
      </Two>
    </chakra.div>
  );
}
