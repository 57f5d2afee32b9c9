import { Box, chakra, Flex } from '@chakra-ui/react';
import { useState } from 'react';
import { UNIT_SIGN, type FileUnit } from '#core/measure';
import type { KeptHandVolume } from '#core/project';
import { workByHand, type HandKind } from '#core/quantities';
import { Act, Aside, Field, Leaf, Num, Pick } from '../../../frame/controls.tsx';
import { TypedLength } from '../../../frame/typed-length.tsx';
import { formatVolume, VOLUME_SIGN } from '../../../frame/volume-text.ts';
import { useParts } from '../../../project-state/store.ts';
import { CornersFromSurface } from './corners-from-surface.tsx';
import { SectionsFromFile } from './sections-from-file.tsx';

/** What each kind of table is, and what stands in a row of it. */
export const KIND: Record<HandKind, { name: string; row: string; example: string }> = {
  areas: {
    name: 'areas of sections',
    row: 'chainage, cut area, fill area',
    example: '0+000  12.40  0.00\n0+010  15.10  0.35\n0+020  11.80  1.20',
  },
  drawings: {
    name: 'section drawings',
    row: 'chainage, offset (left below 0), ground, design',
    example: '0+000  -6.0  61.20  62.40\n0+000   0.0  61.85  62.40\n0+000   6.0  62.70  62.40',
  },
  corners: {
    name: 'corner heights on a grid',
    row: 'elevations from west to east, the north row first; a dash where there is no corner',
    example: '62.10  62.35  62.50\n61.90  62.20  62.45\n61.60  61.95  -',
  },
};

const SIDE = 10;
const FIELD = { height: '26px', px: '4px', width: '80px' };
/** m */
const HIGHEST = 12_000;

interface HandFormProps {
  /** What is edited; nothing where it is new. */
  volume?: KeptHandVolume;
  /** Called with the id of what was kept, or null. */
  onClose: (id: string | null) => void;
}

/** A table that is typed or pasted, with what it comes to while it is. */
export function HandForm({ volume, onClose }: HandFormProps) {
  const { state, make } = useParts('state', 'make');
  const { settings } = state!.document;
  const [typed, setTyped] = useState<KeptHandVolume>(
    volume ?? {
      id: crypto.randomUUID().slice(0, 8),
      name: '',
      kind: 'areas',
      unit: settings.unit,
      text: '',
      cell: SIDE,
      level: 0,
    },
  );
  const put = (to: Partial<KeptHandVolume>): void => setTyped({ ...typed, ...to });
  const worked = typed.text.trim() ? workByHand(typed) : null;
  const { row, example } = KIND[typed.kind];
  const keep = async (): Promise<void> => {
    const kept = { ...typed, name: typed.name.trim() || `By ${KIND[typed.kind].name}` };
    if (await make({ op: 'volume.hand', id: kept.id, volume: kept })) onClose(kept.id);
  };
  return (
    <Leaf mt="12px" p="12px">
      <Box role="group" aria-label="volume by hand" fontSize="13px">
        <Flex gap="8px" align="center" wrap="wrap">
          From
          <Pick
            aria-label="what is typed"
            value={typed.kind}
            onChange={(e) => put({ kind: e.target.value as HandKind })}
          >
            {Object.entries(KIND).map(([kind, { name }]) => (
              <option key={kind} value={kind}>
                {name}
              </option>
            ))}
          </Pick>
          in
          <Pick
            aria-label="unit of the table"
            value={typed.unit}
            onChange={(e) => put({ unit: e.target.value as FileUnit })}
          >
            {(['m', 'ft', 'usft'] as const).map((unit) => (
              <option key={unit} value={unit}>
                {UNIT_SIGN[unit]}
              </option>
            ))}
          </Pick>
          called
          <Field
            aria-label="name of the volume"
            width="150px"
            maxLength={120}
            value={typed.name}
            onChange={(e) => put({ name: e.target.value })}
          />
          {typed.kind === 'corners' ? (
            <>
              cells of
              <TypedLength
                label="side of a cell"
                value={typed.cell}
                unit={settings.unit}
                least={0.001}
                most={1e5}
                must="A length greater than 0."
                set={(cell) => put({ cell: cell! })}
                field={FIELD}
              />{' '}
              {UNIT_SIGN[settings.unit]}, level
              <TypedLength
                label="level of the cells"
                value={typed.level}
                unit={settings.unit}
                least={-HIGHEST}
                most={HIGHEST}
                must="This is no elevation."
                set={(level) => put({ level: level! })}
                field={FIELD}
              />{' '}
              {UNIT_SIGN[settings.unit]}
            </>
          ) : null}
        </Flex>
        <Aside display="block" mt="6px">
          A row: {row}.
        </Aside>
        {typed.kind === 'drawings' ? (
          <SectionsFromFile onTable={(of) => put({ text: of.text, unit: of.unit ?? typed.unit })} />
        ) : null}
        {typed.kind === 'corners' ? (
          <CornersFromSurface cell={typed.cell} unit={typed.unit} onText={(text) => put({ text })} />
        ) : null}
        <chakra.textarea
          aria-label="rows of the table"
          mt="4px"
          width="100%"
          height="160px"
          p="6px"
          fontFamily="mono"
          fontSize="13px"
          bg="leaf"
          border="1px solid"
          borderColor="slate"
          borderRadius="3px"
          placeholder={example}
          spellCheck={false}
          value={typed.text}
          onChange={(e) => put({ text: e.target.value })}
          onKeyDown={(e) => e.stopPropagation()}
        />
        <Flex gap="8px" align="center" wrap="wrap" mt="6px">
          <Act look="solid" disabled={!worked?.ok} onClick={() => void keep()}>
            Keep
          </Act>
          <Act onClick={() => onClose(volume?.id ?? null)}>Cancel</Act>
          {worked === null ? null : worked.ok ? (
            <span>
              cut <Num>{formatVolume(worked.cut, settings)}</Num>, fill <Num>{formatVolume(worked.fill, settings)}</Num>{' '}
              {VOLUME_SIGN[settings.volumeUnit]}
            </span>
          ) : (
            <Box as="span" color="brass" role="status">
              {worked.reason}
            </Box>
          )}
        </Flex>
      </Box>
    </Leaf>
  );
}
