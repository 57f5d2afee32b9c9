import { Box, chakra, Flex, Grid } from '@chakra-ui/react';
import { useState, type ReactNode } from 'react';
import { OwnSymbol } from './own-symbol.tsx';
import { ATTRIBUTE_TYPES, INKS, LABEL_PARTS, LINE_STYLES, SYMBOLS, type Code, type CodeAttribute } from '#core/codes';
import { fromMetres, METRES_IN, UNIT_SIGN, type LengthUnit } from '#core/measure';
import { Act, Aside, Field, Pick, Tick, Two } from '../../frame/controls.tsx';

/** Everything that one code means, to be changed in place. */
export function CodeEditor({
  code,
  unit,
  groups,
  disabled,
  set,
  remove,
}: {
  code: Code;
  unit: LengthUnit;
  groups: string[];
  disabled: boolean;
  set: (part: Partial<Code>) => void;
  remove: () => void;
}) {
  const text = (key: 'name' | 'group' | 'layer' | 'pointLayer' | 'lower', upper = false) => ({
    value: code[key] ?? '',
    disabled,
    onChange: (e: { target: { value: string } }) => {
      const value = upper ? e.target.value.toUpperCase() : e.target.value;
      set({ [key]: value === '' && key !== 'name' && key !== 'layer' ? undefined : value });
    },
  });
  const line = code.kind === 'line';
  return (
    <chakra.fieldset
      border={0}
      m={0}
      p="10px 12px"
      borderTop="1px solid"
      borderColor="ink"
      bg="leaf"
      maxHeight="62%"
      overflow="auto"
      flexShrink={0}
      aria-label={`code ${code.code}`}
    >
      <Grid templateColumns="auto 1fr auto 1fr" gap="5px 10px">
        <Two name="code">
          <Field
            fontFamily="mono"
            aria-label="code"
            disabled={disabled}
            value={code.code}
            onChange={(e) => set({ code: e.target.value.toUpperCase() })}
          />
        </Two>
        <Two name="what it is">
          <Field aria-label={`what ${code.code} is`} {...text('name')} />
        </Two>
        <Two name="marks">
          <Pick
            aria-label={`kind of ${code.code}`}
            disabled={disabled}
            value={code.kind}
            onChange={(e) => set({ kind: e.target.value as Code['kind'] })}
          >
            <option value="point">a point</option>
            <option value="line">a line</option>
          </Pick>
        </Two>
        {line ? (
          <Two name="in the ground">
            <Tick
              label="a breakline of the ground"
              on={code.breakline}
              disabled={disabled}
              set={(breakline) => set({ breakline })}
            />
          </Two>
        ) : null}
        <Two name="group">
          <Field
            list="code-groups"
            placeholder="a new code is drawn as its group"
            aria-label={`group of ${code.code}`}
            {...text('group')}
          />
        </Two>
        <Two name={line ? 'layer of lines' : 'layer'}>
          <Field fontFamily="mono" aria-label={`layer of ${code.code}`} {...text('layer', true)} />
        </Two>
        <Two name="layer of points">
          <Field
            fontFamily="mono"
            placeholder="the same"
            aria-label={`layer of points of ${code.code}`}
            {...text('pointLayer', true)}
          />
        </Two>
        <Two name="ink">
          <Pick
            aria-label={`ink of ${code.code}`}
            disabled={disabled}
            value={code.ink}
            onChange={(e) => set({ ink: e.target.value as Code['ink'] })}
          >
            {INKS.map((k) => (
              <option key={k}>{k}</option>
            ))}
          </Pick>
        </Two>
        {line ? (
          <Two name="line style">
            <Pick
              aria-label={`style of ${code.code}`}
              disabled={disabled}
              value={code.style}
              onChange={(e) => set({ style: e.target.value as Code['style'] })}
            >
              {LINE_STYLES.map((k) => (
                <option key={k}>{k}</option>
              ))}
            </Pick>
          </Two>
        ) : (
          <Two name="symbol">
            <Pick
              aria-label={`symbol of ${code.code}`}
              disabled={disabled}
              value={code.strokes ? 'own' : code.symbol}
              onChange={(e) => set({ symbol: e.target.value as Code['symbol'], strokes: undefined })}
            >
              {code.strokes ? <option value="own">own</option> : null}
              {SYMBOLS.map((k) => (
                <option key={k}>{k}</option>
              ))}
            </Pick>
          </Two>
        )}
        {line ? null : (
          <Two name="size, rotation">
            <Flex gap="6px" align="center">
              <Typed
                label={`size of ${code.code}`}
                value={code.scale ?? 1}
                disabled={disabled}
                min={0.1}
                max={20}
                take={(v) => set({ scale: v === 1 ? undefined : v })}
              />
              <Aside>×</Aside>
              <Typed
                label={`rotation of ${code.code}, degrees`}
                value={((code.rotation ?? 0) / Math.PI) * 180}
                disabled={disabled}
                min={-360}
                max={360}
                take={(v) => set({ rotation: v === 0 ? undefined : (v / 180) * Math.PI })}
              />
              <Aside>°</Aside>
            </Flex>
          </Two>
        )}
        {line ? null : (
          <Two name="own symbol">
            <OwnSymbol code={code} disabled={disabled} set={set} />
          </Two>
        )}
        <Two name="below it">
          <Field
            fontFamily="mono"
            placeholder="none"
            title="The code that is measured below this one in the same place"
            aria-label={`code below ${code.code}`}
            {...text('lower', true)}
          />
        </Two>
        <Two name="labels">
          <Pick
            aria-label={`labels of ${code.code}`}
            disabled={disabled}
            value={code.label === undefined ? 'sheet' : code.label.join(' ')}
            onChange={(e) =>
              set({ label: e.target.value === 'sheet' ? undefined : e.target.value.split(' ').filter(Boolean) })
            }
          >
            {labelChoices(code).map(([value, name]) => (
              <option key={value} value={value}>
                {name}
              </option>
            ))}
          </Pick>
        </Two>
      </Grid>
      <datalist id="code-groups">
        {groups.map((g) => (
          <option key={g} value={g} />
        ))}
      </datalist>
      <Flex gap="16px" mt="8px" wrap="wrap">
        {line ? (
          <Tick
            label="a pipe between chambers"
            on={code.pipe ?? false}
            disabled={disabled}
            set={(v) => set({ pipe: v || undefined })}
          />
        ) : null}
        <Tick label="elevations in the ground" on={code.ground} disabled={disabled} set={(ground) => set({ ground })} />
      </Flex>
      {line ? (
        <Rows
          head={`Offset lines: code, ${UNIT_SIGN[unit]} to the right, ${UNIT_SIGN[unit]} up`}
          add="Add a line"
          disabled={disabled}
          onAdd={() => set({ offsets: [...(code.offsets ?? []), { code: code.code, across: 0.1, height: 0 }] })}
          rows={(code.offsets ?? []).map((o, i) => {
            const put = (part: Partial<typeof o>): void =>
              set({ offsets: code.offsets!.map((v, k) => (k === i ? { ...v, ...part } : v)) });
            return (
              <Flex key={i} gap="6px" align="center">
                <Field
                  width="70px"
                  fontFamily="mono"
                  aria-label={`code of offset ${i + 1}`}
                  disabled={disabled}
                  value={o.code}
                  onChange={(e) => put({ code: e.target.value.toUpperCase() })}
                />
                <Typed
                  label={`offset ${i + 1} to the right`}
                  value={fromMetres(o.across, unit)}
                  disabled={disabled}
                  min={-100}
                  max={100}
                  take={(v) => put({ across: v * METRES_IN[unit] })}
                />
                <Typed
                  label={`offset ${i + 1} up`}
                  value={fromMetres(o.height, unit)}
                  disabled={disabled}
                  min={-100}
                  max={100}
                  take={(v) => put({ height: v * METRES_IN[unit] })}
                />
                <Act
                  look="quiet"
                  aria-label={`without offset ${i + 1}`}
                  disabled={disabled}
                  onClick={() => set({ offsets: nonEmpty(code.offsets!.filter((_, k) => k !== i)) })}
                >
                  ×
                </Act>
              </Flex>
            );
          })}
        />
      ) : null}
      <Rows
        head="Attributes, as name=value"
        add="Add an attribute"
        disabled={disabled}
        onAdd={() => set({ attributes: [...(code.attributes ?? []), { name: 'name', type: 'text' }] })}
        rows={(code.attributes ?? []).map((a, i) => {
          const put = (part: Partial<CodeAttribute>): void =>
            set({ attributes: code.attributes!.map((v, k) => (k === i ? { ...v, ...part } : v)) });
          return (
            <Flex key={i} gap="6px" align="center" wrap="wrap">
              <Field
                width="96px"
                fontFamily="mono"
                aria-label={`name of attribute ${i + 1}`}
                disabled={disabled}
                value={a.name}
                onChange={(e) => put({ name: e.target.value.toLowerCase().replace(/[\s/"=]/g, '') })}
              />
              <Pick
                aria-label={`type of attribute ${i + 1}`}
                disabled={disabled}
                value={a.type}
                onChange={(e) => put({ type: e.target.value as CodeAttribute['type'] })}
              >
                {ATTRIBUTE_TYPES.map((t) => (
                  <option key={t}>{t}</option>
                ))}
              </Pick>
              {a.type === 'choice' ? (
                <Field
                  width="150px"
                  placeholder="one, another"
                  aria-label={`choices of attribute ${i + 1}`}
                  disabled={disabled}
                  defaultValue={(a.choices ?? []).join(', ')}
                  onBlur={(e) => {
                    const choices = e.target.value
                      .split(',')
                      .map((c) => c.trim())
                      .filter(Boolean);
                    if (choices.join() !== (a.choices ?? []).join()) put({ choices });
                  }}
                />
              ) : null}
              <Tick
                label="required"
                on={a.required ?? false}
                disabled={disabled}
                set={(v) => put({ required: v || undefined })}
              />
              <Act
                look="quiet"
                aria-label={`without attribute ${a.name}`}
                disabled={disabled}
                onClick={() => set({ attributes: nonEmpty(code.attributes!.filter((_, k) => k !== i)) })}
              >
                ×
              </Act>
            </Flex>
          );
        })}
      />
      <Flex mt="8px">
        <Act look="quiet" disabled={disabled} onClick={remove}>
          Delete {code.code || 'it'} from the list
        </Act>
      </Flex>
    </chakra.fieldset>
  );
}

const nonEmpty = <T,>(list: T[]): T[] | undefined => (list.length ? list : undefined);

function labelChoices(code: Code): [string, string][] {
  const fixed: [string, string][] = [
    ['sheet', 'as the drawing has them'],
    ['', 'none'],
    ...LABEL_PARTS.map((p): [string, string] => [p, p]),
    ['number elevation', 'number and elevation'],
    ...(code.attributes ?? []).map((a): [string, string] => [a.name, `attribute ${a.name}`]),
  ];
  const own = code.label?.join(' ');
  return own === undefined || fixed.some(([v]) => v === own) ? fixed : [...fixed, [own, own]];
}

function Rows({
  head,
  add,
  rows,
  disabled,
  onAdd,
}: {
  head: string;
  add: string;
  rows: ReactNode[];
  disabled: boolean;
  onAdd: () => void;
}) {
  return (
    <Box mt="8px">
      <Flex align="center" gap="8px">
        <Aside fontSize="12px">{head}</Aside>
        <Act look="quiet" disabled={disabled} onClick={onAdd}>
          {add}
        </Act>
      </Flex>
      {rows}
    </Box>
  );
}

/** A number that is taken when one leaves the field; what cannot be meant goes back to what stood there. */
function Typed({
  label,
  value,
  min,
  max,
  disabled,
  take,
}: {
  label: string;
  value: number;
  min: number;
  max: number;
  disabled: boolean;
  take: (value: number) => void;
}) {
  const shown = String(Number(value.toFixed(4)));
  const [typed, setTyped] = useState<string | null>(null);
  return (
    <Field
      width="64px"
      numeric
      aria-label={label}
      disabled={disabled}
      value={typed ?? shown}
      onChange={(e) => setTyped(e.target.value)}
      onBlur={() => {
        const read = Number((typed ?? shown).replace(',', '.'));
        if (typed !== null && Number.isFinite(read) && read >= min && read <= max) take(read);
        setTyped(null);
      }}
    />
  );
}
