import { Box, Flex } from '@chakra-ui/react';
import { formatArea, formatLength, UNIT_SIGN } from '#core/measure';
import type { Comparison } from '#core/project';
import type { MaterialVolumes } from '#core/quantities';
import { LEAST_UNKNOWN, looseMaterials } from '#core/report';
import { Act, Aside, Num, Pick } from '../../frame/controls.tsx';
import { SmallTable, type SmallColumn } from '../../frame/small-table.tsx';
import { TypedLength } from '../../frame/typed-length.tsx';
import { TypedNumber } from '../../frame/typed-number.tsx';
import { formatVolume, VOLUME_SIGN } from '../../frame/volume-text.ts';
import { useCanChange } from '../../project-state/can.ts';
import { useParts } from '../../project-state/store.ts';
import type { ComparisonFigures } from './comparison-figures.ts';
import { NameField } from './name-field.tsx';

type Material = NonNullable<Comparison['materials']>[number];

interface MaterialsProps {
  comparison: Comparison;
  figures: ComparisonFigures;
  set: (to: Partial<Comparison>) => Promise<boolean>;
}

const FIELD = { height: '22px', px: '4px', fontSize: '12px' };
/** m */
const DEEPEST = 1000;
/** m deeper than the last, to begin with. */
const NEXT = 1;
/** m³ that are rounding. */
const LEAST_VOLUME = 0.005;
const BY_DEPTH = 'depth';

/** The cut by materials that lie one under the other, each with the factor that makes it loose. */
export function Materials({ comparison, figures, set }: MaterialsProps) {
  const can = useCanChange();
  const { materials = [] } = comparison;
  if (!can && materials.length === 0) return null;
  const put = (to: Material[]): void => void set({ materials: to.length ? to : undefined });
  const add = (): void => {
    const depths = materials.flatMap(({ top }) => ('depth' in top ? [top.depth] : []));
    const depth = depths.length ? Math.min(DEEPEST, Math.max(...depths) + NEXT) : 0;
    put([...materials, { name: `Material ${materials.length + 1}`, top: { depth } }]);
  };
  const told = figures.materials;
  return (
    <Box mb="10px" fontSize="13px" role="group" aria-label="the cut by material">
      {told && 'reason' in told ? <Box color="brass">{told.reason}</Box> : null}
      {told && !('reason' in told) ? (
        <MaterialTable comparison={comparison} told={told} put={put} />
      ) : materials.length && can ? (
        <Act height="22px" onClick={() => put(materials.slice(0, -1))}>
          Delete the last material
        </Act>
      ) : null}
      {can ? (
        <Flex gap="6px" align="center" wrap="wrap">
          <Act height="22px" onClick={add} title="the cut by what is dug: topsoil, clay, rock">
            {materials.length ? 'Add a material below' : 'By material …'}
          </Act>
        </Flex>
      ) : null}
    </Box>
  );
}

function MaterialTable({
  comparison,
  told,
  put,
}: Pick<MaterialsProps, 'comparison'> & { told: MaterialVolumes; put: (to: Material[]) => void }) {
  const { settings } = useParts('state').state!.document;
  const can = useCanChange();
  const { unit, areaUnit, volumeUnit } = settings;
  const { materials = [] } = comparison;
  const { materials: volumes, loose } = looseMaterials(comparison, told);
  const rows = volumes.map((volume, i) => ({ volume, i, material: materials[i] as Material | undefined }));
  type Row = (typeof rows)[number];
  const change = (i: number, to: Partial<Material>): void => put(materials.map((m, k) => (k === i ? { ...m, ...to } : m))); // prettier-ignore
  const columns: SmallColumn<Row>[] = [
    {
      id: 'material',
      head: 'material',
      cell: (r) =>
        can ? (
          <NameField key={r.volume.name} width="88px" name={r.volume.name} set={(name) => change(r.i, { name })} />
        ) : (
          r.volume.name
        ),
    },
    {
      id: 'top',
      head: `from ${UNIT_SIGN[unit]}`,
      words: true,
      cell: (r) => (r.material ? <Top material={r.material} except={comparison.surface} set={(top) => change(r.i, { top })} /> : null), // prettier-ignore
    },
    { id: 'cut', head: `cut ${VOLUME_SIGN[volumeUnit]}`, mono: true, cell: (r) => formatVolume(r.volume.cut, settings) }, // prettier-ignore
    { id: 'area', head: 'on', mono: true, title: 'area in plan of the cut that reaches it', style: { whiteSpace: 'nowrap' }, cell: (r) => formatArea(r.volume.area!, areaUnit, unit) }, // prettier-ignore
    {
      id: 'factor',
      head: '×',
      title: 'what a cubic metre of it becomes once it is loose',
      cell: (r) =>
        can ? (
          <TypedNumber
            key={r.volume.factor}
            label={`factor of ${r.volume.name}, loose`}
            value={r.volume.factor}
            least={0.1}
            most={10}
            set={(cut) => change(r.i, { factors: { cut } })}
            field={{ ...FIELD, width: '46px' }}
          />
        ) : (
          <Num>{r.volume.factor}</Num>
        ),
    },
    { id: 'loose', head: 'loose', mono: true, cell: (r) => formatVolume(r.volume.loose, settings) },
    ...(can
      ? [{ id: 'go', head: '', cell: (r: Row) => <Act look="quiet" height="22px" aria-label={`delete ${r.volume.name}`} onClick={() => put(materials.filter((_, k) => k !== r.i))}>Delete</Act> }] // prettier-ignore
      : []),
  ];
  return (
    <Box mb="6px">
      <SmallTable
        label="the cut by material"
        columns={columns}
        rows={rows}
        rowKey={(r) => String(r.i)}
        cellStyle={{ px: '5px', fontSize: '13px' }}
      />
      <Aside display="block" mt="4px">
        {told.above > LEAST_VOLUME ? (
          <>
            Above the first: <Num>{formatVolume(told.above, settings)}</Num> {VOLUME_SIGN[volumeUnit]}.{' '}
          </>
        ) : null}
        Loose in all: <Num>{formatVolume(loose, settings)}</Num> {VOLUME_SIGN[volumeUnit]}.
      </Aside>
      {told.materials
        .filter((m) => m.unknown > LEAST_UNKNOWN)
        .map((m, i) => (
          <Box key={i} color="brass" mt="4px">
            The top of “{m.name}” is not known on {formatArea(m.unknown, areaUnit, unit)} of the cut: what is cut there
            counts to the material above.
          </Box>
        ))}
    </Box>
  );
}

/** Where a material begins: so deep under the ground, or at a surface. */
function Top({
  material: { name, top },
  except,
  set,
}: {
  material: Material;
  except: string;
  set: (top: Material['top']) => void;
}) {
  const { state } = useParts('state');
  const can = useCanChange();
  const { settings, surfaces } = state!.document;
  const { unit } = settings;
  const others = surfaces.filter((s) => s.id !== except);
  if (!can)
    return 'depth' in top ? (
      <>
        <Num>{formatLength(top.depth, unit, 2)}</Num> {UNIT_SIGN[unit]}
      </>
    ) : (
      (surfaces.find((s) => s.id === top.surface)?.name ?? '')
    );
  return (
    <Flex gap="4px" align="center">
      {'depth' in top ? (
        <>
          <TypedLength
            key={top.depth}
            label={`depth of the top of ${name}`}
            value={top.depth}
            unit={unit}
            least={0}
            most={DEEPEST}
            must="A depth of 0 or more."
            set={(depth) => set({ depth: depth ?? 0 })}
            field={{ ...FIELD, width: '48px' }}
          />
        </>
      ) : null}
      <Pick
        aria-label={`top of ${name}`}
        height="22px"
        maxWidth="86px"
        fontSize="12px"
        value={'depth' in top ? BY_DEPTH : top.surface}
        onChange={(e) => set(e.target.value === BY_DEPTH ? { depth: 0 } : { surface: e.target.value })}
      >
        <option value={BY_DEPTH}>depth</option>
        {others.map((s) => (
          <option key={s.id} value={s.id}>
            top: {s.name}
          </option>
        ))}
      </Pick>
    </Flex>
  );
}
