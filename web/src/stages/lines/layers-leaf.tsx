import { Box, chakra, Flex } from '@chakra-ui/react';
import { useEffect, useState } from 'react';
import { INKS, LABEL_PARTS } from '#core/codes';
import { LABEL_CORNERS, type LabelPart } from '#core/project';
import { FEET_PER_INCH, METRIC_SCALES, scaleName, type Layer } from '#core/drawing';
import { Aside, Field, Leaf, Num, Pick } from '../../frame/controls.tsx';
import { SmallTable } from '../../frame/small-table.tsx';
import { useParts } from '../../project-state/store.ts';
import { plotSource, type Tables } from '../../project-state/tables.ts';
import { plotWork } from '../../work/workers.ts';

const CORNER: Record<(typeof LABEL_CORNERS)[number], string> = {
  'up-right': 'above, right',
  'down-right': 'below, right',
  'up-left': 'above, left',
  'down-left': 'below, left',
};

/** How all is drawn: plot scale, labels, layers. What is seen is what is exported. */
export function LayersLeaf({ tables }: { tables: Tables }) {
  const { state, make, busy } = useParts('state', 'make', 'busy');
  const doc = state!.document;
  const { drawing, settings } = doc;
  const canEdit = !busy && (state!.project.role === 'owner' || state!.project.role === 'surveyor');
  const [layers, setLayers] = useState<Layer[]>([]);
  useEffect(() => {
    let wanted = true;
    plotWork()
      .layers(plotSource(tables, state!.project.id), doc)
      .then(
        (list) => wanted && setLayers(list),
        () => undefined,
      );
    return () => {
      wanted = false;
    };
    // eslint-disable-next-line react-hooks/exhaustive-deps -- of the project only its id is asked, which stays
  }, [doc, tables]);
  const scales = settings.unit === 'm' ? METRIC_SCALES : FEET_PER_INCH.map((f) => f * 12);
  const look = (layer: Layer, part: object): void => {
    const own = { ...doc.drawing.layers[layer.name], ...part };
    const kept = Object.fromEntries(Object.entries(own).filter(([, v]) => v !== undefined));
    void make({ op: 'drawing.layer', layer: layer.name, look: Object.keys(kept).length ? kept : null });
  };
  const label = (part: LabelPart, set: object): void =>
    void make({
      op: 'drawing.set',
      drawing: { labels: { ...drawing.labels, [part]: { ...drawing.labels[part], ...set } } },
    });
  return (
    <Flex direction="column" gap="10px" height="100%" minHeight="0" overflow="auto">
      <Leaf head="On paper">
        <Flex gap="14px" p="2px 12px 10px" wrap="wrap" align="center" fontSize="13px">
          <chakra.label display="inline-flex" gap="6px" alignItems="center">
            plot scale
            <Pick
              aria-label="plot scale"
              disabled={!canEdit}
              value={settings.plotScale}
              onChange={(e) => void make({ op: 'settings.set', settings: { plotScale: Number(e.target.value) } })}
            >
              {[...new Set([...scales, settings.plotScale])]
                .sort((a, b) => a - b)
                .map((s) => (
                  <option key={s} value={s}>
                    {scaleName(s, settings.unit)}
                  </option>
                ))}
            </Pick>
          </chakra.label>
          <Size
            name="symbols mm"
            value={drawing.symbolSize}
            disabled={!canEdit}
            set={(symbolSize) => void make({ op: 'drawing.set', drawing: { symbolSize } })}
          />
          <Size
            name="lines mm"
            value={drawing.lineWidth}
            disabled={!canEdit}
            set={(lineWidth) => void make({ op: 'drawing.set', drawing: { lineWidth } })}
          />
        </Flex>
      </Leaf>
      <Leaf head="Labels beside points, unless their code says otherwise">
        <SmallTable
          label="labels"
          rows={LABEL_PARTS}
          rowKey={(part) => part}
          columns={[
            {
              id: 'label',
              head: 'Label',
              cell: (part) => (
                <chakra.label display="inline-flex" gap="6px" alignItems="center">
                  <input
                    type="checkbox"
                    disabled={!canEdit}
                    checked={drawing.labels[part].on}
                    onChange={(e) => label(part, { on: e.target.checked })}
                  />
                  {part}
                </chakra.label>
              ),
            },
            {
              id: 'layer',
              head: 'Layer',
              words: true,
              cell: (part) => (
                <Field
                  key={drawing.labels[part].layer}
                  fontFamily="mono"
                  width="140px"
                  aria-label={`layer of ${part} labels`}
                  disabled={!canEdit}
                  defaultValue={drawing.labels[part].layer}
                  maxLength={31}
                  onBlur={(e) =>
                    e.target.value.trim() &&
                    e.target.value !== drawing.labels[part].layer &&
                    label(part, { layer: e.target.value.trim().toUpperCase() })
                  }
                />
              ),
            },
            {
              id: 'place',
              head: 'Place',
              words: true,
              cell: (part) => (
                <Pick
                  aria-label={`place of ${part} labels`}
                  disabled={!canEdit}
                  value={drawing.labels[part].corner}
                  onChange={(e) => label(part, { corner: e.target.value })}
                >
                  {LABEL_CORNERS.map((c) => (
                    <option key={c} value={c}>
                      {CORNER[c]}
                    </option>
                  ))}
                </Pick>
              ),
            },
            {
              id: 'letters',
              head: 'Letters mm',
              words: true,
              cell: (part) => (
                <Size
                  label={`size of ${part} labels, mm`}
                  value={drawing.labels[part].size}
                  disabled={!canEdit}
                  set={(size) => label(part, { size })}
                />
              ),
            },
          ]}
        />
        <Box p="4px 12px 8px" color="slate" fontSize="12px">
          A label is moved by hand on its point’s card. {Object.keys(drawing.moved).length || 'None'} moved so far.
        </Box>
      </Leaf>
      <Leaf head="Layers">
        <SmallTable
          label="layers"
          rows={layers}
          rowKey={(l) => l.name}
          columns={[
            {
              id: 'layer',
              head: 'Layer',
              mono: true,
              by: (l) => l.name,
              style: { fontSize: '12px' },
              cell: (l) => (
                <>
                  {l.name}
                  {l.labels ? <Aside fontSize="11px"> labels</Aside> : null}
                </>
              ),
            },
            { id: 'points', head: 'Points', by: (l) => l.points, cell: (l) => <Num>{l.points || ''}</Num> },
            { id: 'lines', head: 'Lines', by: (l) => l.lines, cell: (l) => <Num>{l.lines || ''}</Num> },
            {
              id: 'seen',
              head: 'Seen',
              words: true,
              cell: (l) => (
                <input
                  type="checkbox"
                  aria-label={`${l.name} is visible`}
                  disabled={!canEdit}
                  checked={l.visible}
                  onChange={(e) => look(l, { visible: e.target.checked ? undefined : false })}
                />
              ),
            },
            {
              id: 'locked',
              head: 'Locked',
              words: true,
              cell: (l) => (
                <input
                  type="checkbox"
                  aria-label={`${l.name} is locked`}
                  disabled={!canEdit}
                  checked={l.locked}
                  onChange={(e) => look(l, { locked: e.target.checked || undefined })}
                />
              ),
            },
            {
              id: 'ink',
              head: 'Ink',
              words: true,
              cell: (l) => (
                <Pick
                  aria-label={`ink of layer ${l.name}`}
                  disabled={!canEdit}
                  value={l.ink ?? ''}
                  onChange={(e) => look(l, { ink: e.target.value || undefined })}
                >
                  <option value="">of its codes</option>
                  {INKS.map((k) => (
                    <option key={k}>{k}</option>
                  ))}
                </Pick>
              ),
            },
            {
              id: 'width',
              head: 'Lines mm',
              words: true,
              cell: (l) => (
                <Size
                  label={`width of lines on ${l.name}, mm`}
                  value={l.width}
                  disabled={!canEdit}
                  set={(width) => look(l, { width: width === drawing.lineWidth ? undefined : width })}
                />
              ),
            },
          ]}
        />
      </Leaf>
    </Flex>
  );
}

/** A size in millimetres, taken when one leaves the field. */
export function Size({
  name,
  label,
  value,
  disabled,
  set,
}: {
  name?: string;
  label?: string;
  value: number;
  disabled: boolean;
  set: (mm: number) => void;
}) {
  return (
    <chakra.label display="inline-flex" gap="6px" alignItems="center">
      {name}
      <Field
        key={value}
        width="58px"
        numeric
        aria-label={label ?? name}
        disabled={disabled}
        defaultValue={String(value)}
        onBlur={(e) => {
          const read = Number(e.target.value.replace(',', '.'));
          if (Number.isFinite(read) && read >= 0.05 && read <= 20 && read !== value) set(read);
          else e.target.value = String(value);
        }}
      />
    </chakra.label>
  );
}
