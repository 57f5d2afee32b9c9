import { scaleName } from '#core/drawing';
import type { FileSpec, PackageSpec } from '#core/handover';
import { LENGTH_UNITS, type LengthUnit, UNIT_NAME } from '#core/measure';
import { groundOf } from '#core/project';
import { api, ApiProblem, problemText } from '../../frame/api.ts';
import { ColumnOrder } from '../../frame/column-order.tsx';
import { TextSigns } from '../../frame/text-signs.tsx';
import { Act, Aside, Field, Leaf, Pick } from '../../frame/controls.tsx';
import { isSettled, openQueries, useParts, useProject } from '../../project-state/store.ts';
import { type Tables } from '../../project-state/tables.ts';
import { Sample } from './text-sample.tsx';
import { waysOut } from './ways-out.ts';
import { Box, Flex, chakra } from '@chakra-ui/react';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { type ReactNode, useState } from 'react';

type Csv = Extract<FileSpec, { kind: 'csv' }>;
type Dxf = Extract<FileSpec, { kind: 'dxf' }>;

/** What a package’s points file can hold. */
const COLUMNS = ['P', 'N', 'E', 'Z', 'D'] as const;

const Row = ({ children }: { children: ReactNode }) => (
  <Flex align="center" gap="8px" wrap="wrap" minHeight="32px" px="12px">
    {children}
  </Flex>
);
const Check = chakra('label', { base: { display: 'inline-flex', alignItems: 'center', gap: '6px' } });

export function NewPackage({ tables }: { tables: Tables }) {
  const { state, id } = useParts('state', 'id');
  const settled = useProject(isSettled);
  const queries = useQueryClient();
  const settings = state!.document.settings;
  const [name, setName] = useState('Design office');
  const [unit, setUnit] = useState<LengthUnit>(settings.unit);
  const [csv, setCsv] = useState<Csv>({
    kind: 'csv',
    order: settings.order === 'EN' ? ['P', 'E', 'N', 'Z', 'D'] : ['P', 'N', 'E', 'Z', 'D'],
    decimals: 3,
    separator: ',',
    headings: true,
    control: true,
  });
  const [dxf, setDxf] = useState<Dxf>({
    kind: 'dxf',
    version: '2000',
    decimals: 4,
    parts: { points: true, lines: true, contours: true, surface: true },
    textHeight: 0.5,
    textMm: 1.8,
  });
  const [coordinates, setCoordinates] = useState('grid');
  /** Last time’s coordinates cannot be had any more. */
  const [lost, setLost] = useState(false);
  const ways = waysOut(state!.document);
  const way = ways.find((w) => w.value === coordinates) ?? ways[0];
  const [kinds, setKinds] = useState({ csv: true, dxf: true, landxml: true });
  const { surfaces } = state!.document;
  // The one surface of the LandXML file; none for all.
  const [one, setOne] = useState('');
  const earlier = useQuery({ queryKey: ['packages', id], queryFn: () => api.packages(id), enabled: id !== '' });
  const before = earlier.data?.find((p) => p.name === name.trim() && p.spec)?.spec;
  /** As the last package of this name was asked for. */
  const asBefore = (spec: PackageSpec): void => {
    setUnit(spec.unit);
    const same = ways.find((w) => JSON.stringify(w.coordinates) === JSON.stringify(spec.coordinates));
    setCoordinates(same?.value ?? 'grid');
    setLost(!same);
    const of = <K extends FileSpec['kind']>(kind: K) =>
      spec.files.find((f): f is Extract<FileSpec, { kind: K }> => f.kind === kind);
    const [text, drawing, xml] = [of('csv'), of('dxf'), of('landxml')];
    if (text) setCsv(text);
    if (drawing) setDxf(drawing);
    setOne(xml?.surfaces?.length === 1 ? xml.surfaces[0] : '');
    setKinds({ csv: text !== undefined, dxf: drawing !== undefined, landxml: xml !== undefined });
  };
  const make = useMutation({
    mutationFn: (partial: boolean) => {
      const files: FileSpec[] = [];
      if (kinds.csv) files.push(csv);
      if (kinds.dxf && !way.onlyText) files.push(dxf);
      if (kinds.landxml && !way.onlyText)
        files.push({ kind: 'landxml', decimals: 4, ...(one === '' ? {} : { surfaces: [one] }) });
      return api.makePackage(id, state!.revision, {
        name,
        unit,
        coordinates: way.coordinates,
        files,
        ...(partial ? { partial } : {}),
      });
    },
    onSuccess: () => void queries.invalidateQueries({ queryKey: ['packages', id] }),
  });
  const couldBe = make.error instanceof ApiProblem ? (make.error.body.couldBe ?? []) : [];
  const open = openQueries(tables.summary.queries);
  const stops = open.filter((q) => q.weight === 'stop').length;
  const nothing = !kinds.csv && (way.onlyText || (!kinds.dxf && !kinds.landxml));
  const part = (key: Exclude<keyof Dxf['parts'], 'of'>, label: string) => (
    <Check key={key}>
      <input
        type="checkbox"
        checked={dxf.parts[key] ?? false}
        onChange={(e) => setDxf({ ...dxf, parts: { ...dxf.parts, [key]: e.target.checked } })}
      />{' '}
      {label}
    </Check>
  );
  return (
    <Leaf head="A new package" mb="12px" pb="10px">
      <Row>
        For
        <Field
          aria-label="name of the package"
          width="170px"
          value={name}
          maxLength={80}
          onChange={(e) => setName(e.target.value)}
        />
        in
        <Pick aria-label="unit of the package" value={unit} onChange={(e) => setUnit(e.target.value as LengthUnit)}>
          {LENGTH_UNITS.map((u) => (
            <option key={u} value={u}>
              {UNIT_NAME[u]}
            </option>
          ))}
        </Pick>
        <Aside>of revision {state!.revision}</Aside>
        {before ? <Act onClick={() => asBefore(before)}>As last time</Act> : null}
      </Row>
      {lost ? (
        <Row>
          <Box role="status" color="brass">
            Last time it went out in coordinates that this project no longer has. It would go out in {way.name}.
          </Box>
        </Row>
      ) : null}
      {ways.length > 1 ? (
        <Row>
          In
          <Pick
            aria-label="coordinates of the package"
            value={way.value}
            onChange={(e) => {
              setCoordinates(e.target.value);
              setLost(false);
            }}
          >
            {ways.map((w) => (
              <option key={w.value} value={w.value}>
                {w.name}
              </option>
            ))}
          </Pick>
          {way.onlyText ? <Aside>points as text only</Aside> : null}
        </Row>
      ) : null}

      <Row>
        <Check fontWeight="600">
          <input type="checkbox" checked={kinds.csv} onChange={(e) => setKinds({ ...kinds, csv: e.target.checked })} />{' '}
          Points as text
        </Check>
        <ColumnOrder order={csv.order} of={COLUMNS} onChange={(order) => setCsv({ ...csv, order })} />
        <Pick
          aria-label="decimals of the points"
          value={csv.decimals}
          onChange={(e) => setCsv({ ...csv, decimals: Number(e.target.value) })}
        >
          {[2, 3, 4].map((d) => (
            <option key={d} value={d}>
              {d} decimals
            </option>
          ))}
        </Pick>
        <TextSigns
          label="separator"
          signs={{ separator: csv.separator, decimal: csv.decimal ?? '.', none: csv.none ?? '' }}
          onChange={(part) => setCsv({ ...csv, ...part })}
        />
        <Check>
          <input
            type="checkbox"
            checked={csv.headings}
            onChange={(e) => setCsv({ ...csv, headings: e.target.checked })}
          />{' '}
          headings
        </Check>
        <Check>
          <input
            type="checkbox"
            checked={csv.control}
            onChange={(e) => setCsv({ ...csv, control: e.target.checked })}
          />{' '}
          with control
        </Check>
      </Row>
      {kinds.csv && way.value === 'grid' ? <Sample tables={tables} csv={csv} unit={unit} /> : null}

      <Row>
        <Check fontWeight="600">
          <input
            type="checkbox"
            disabled={way.onlyText}
            checked={kinds.dxf && !way.onlyText}
            onChange={(e) => setKinds({ ...kinds, dxf: e.target.checked })}
          />{' '}
          Drawing, DXF
        </Check>
        <Pick
          aria-label="version of the drawing"
          value={dxf.version}
          onChange={(e) => setDxf({ ...dxf, version: e.target.value as Dxf['version'] })}
        >
          <option value="2000">version 2000</option>
          <option value="R12">version R12, for old readers</option>
        </Pick>
        <Pick
          aria-label="height of texts in the drawing"
          value={dxf.textMm ?? 'units'}
          onChange={(e) => {
            const { textMm: _, ...rest } = dxf;
            setDxf(e.target.value === 'units' ? rest : { ...rest, textMm: Number(e.target.value) });
          }}
        >
          {[1.8, 2.5, 3.5].map((mm) => (
            <option key={mm} value={mm}>
              texts {mm} mm at {scaleName(settings.plotScale, settings.unit)}
            </option>
          ))}
          <option value="units">texts 0.5 drawing units</option>
        </Pick>
        {part('points', 'points')}
        {part('lines', 'lines')}
        {part('contours', 'contours')}
        {part('surface', 'surface as 3D faces')}
        {surfaces.length > 1 && (dxf.parts.contours || dxf.parts.surface) ? (
          <Pick
            aria-label="surface in the drawing"
            maxWidth="210px"
            value={dxf.parts.of ?? groundOf(state!.document).id}
            onChange={(e) => setDxf({ ...dxf, parts: { ...dxf.parts, of: e.target.value } })}
          >
            {surfaces.map((s) => (
              <option key={s.id} value={s.id}>
                of {s.name}
              </option>
            ))}
          </Pick>
        ) : null}
        {part('symbols', 'symbols with attributes')}
        {part('labels', 'labels as on paper')}
      </Row>
      <Row>
        <Check fontWeight="600">
          <input
            type="checkbox"
            disabled={way.onlyText}
            checked={kinds.landxml && !way.onlyText}
            onChange={(e) => setKinds({ ...kinds, landxml: e.target.checked })}
          />{' '}
          LandXML 1.2
        </Check>
        <Aside>points, breaklines,</Aside>
        {surfaces.length > 1 ? (
          <Pick
            aria-label="surfaces in the LandXML file"
            maxWidth="210px"
            value={one}
            onChange={(e) => setOne(e.target.value)}
          >
            <option value="">all surfaces</option>
            {surfaces.map((s) => (
              <option key={s.id} value={s.id}>
                {s.name}
              </option>
            ))}
          </Pick>
        ) : (
          <Aside>surface</Aside>
        )}
      </Row>

      {stops > 0 ? (
        <Row>
          <Box color="brass">
            {stops} unresolved stop {stops === 1 ? 'query' : 'queries'}; the manifest names{' '}
            {stops === 1 ? 'it' : 'them'}.
          </Box>
        </Row>
      ) : null}
      <Row>
        <Act
          look="solid"
          size="tall"
          disabled={nothing || !settled || make.isPending || !name.trim()}
          onClick={() => make.mutate(false)}
        >
          {make.isPending ? 'Writing and reading back …' : 'Create the package'}
        </Act>
        {make.isError ? (
          <Box role="alert" color="pole">
            {problemText(make.error)}{' '}
            {couldBe.length ? (
              <Act onClick={() => make.mutate(true)}>Make it with {couldBe.join(', ')} only</Act>
            ) : null}
          </Box>
        ) : nothing ? (
          <Aside>Choose at least one file.</Aside>
        ) : null}
      </Row>
    </Leaf>
  );
}
