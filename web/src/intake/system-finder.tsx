import { Box, chakra, Flex } from '@chakra-ui/react';
import { useQuery } from '@tanstack/react-query';
import { useState, type FormEvent } from 'react';
import { ELLIPSOIDS, METHODS, type CoordinateSystem, type Method, type SystemParameters } from '#core/basis';
import { formatAngle, readAngle } from '#core/measure';
import { api, problemText } from '../frame/api.ts';
import { Act, Aside, Cut, Field, Num } from '../frame/controls.tsx';
import { Choice } from '../frame/sentence.tsx';

const Found = chakra('button', {
  base: {
    display: 'grid',
    gridTemplateColumns: '104px 1fr',
    gap: '2px 10px',
    width: '100%',
    textAlign: 'left',
    border: 0,
    borderTop: '1px solid',
    borderColor: 'rule',
    bg: 'transparent',
    color: 'ink',
    px: '12px',
    py: '5px',
    cursor: 'pointer',
    _hover: { bg: 'wash' },
    _focusVisible: { bg: 'wash' },
  },
});

/** Finds a published system by code, name or area, or defines one by parameters or by a definition. */
export function SystemFinder({
  onChoose,
  onLeave,
  geographic = false,
}: {
  onChoose: (system: CoordinateSystem) => void;
  onLeave: () => void;
  /** Whether systems of latitude and longitude are offered too. */
  geographic?: boolean;
}) {
  const [way, setWay] = useState<'list' | 'parameters' | 'definition'>('list');
  const [find, setFind] = useState('');
  const [problem, setProblem] = useState('');
  const found = useQuery({
    queryKey: ['systems', find],
    queryFn: () => api.findSystems(find),
    enabled: find.trim().length > 1,
    placeholderData: (old) => old,
  });
  const take = (answer: Promise<CoordinateSystem>): void => {
    setProblem('');
    answer.then(
      (system) => {
        if (system.kind === 'geographic' && !geographic)
          return setProblem('This is latitude and longitude. A project needs a plane grid; files may be in degrees.');
        onChoose(system);
      },
      (error: unknown) => setProblem(problemText(error)),
    );
  };
  // Where the eye is: under the button that was pressed, above a list that may be long.
  const alert = problem ? (
    <Box role="alert" color="pole" px="12px" pb="6px">
      {problem}
    </Box>
  ) : null;
  return (
    <Box
      as="section"
      aria-label="choose a system"
      borderTop="1px solid"
      borderColor="pine"
      mt="6px"
      onKeyDown={(e) => {
        e.stopPropagation();
        if (e.key === 'Escape') onLeave();
      }}
    >
      <Flex gap="8px" px="12px" py="8px" align="center" wrap="wrap">
        <Choice
          name="how the system is chosen"
          value={way}
          options={[
            ['list', 'from the published list'],
            ['parameters', 'by its parameters'],
            ['definition', 'by a PROJ definition'],
          ]}
          onChange={setWay}
        />
        {way === 'list' ? (
          <Field
            autoFocus
            flex="1"
            minWidth="160px"
            aria-label="find a system"
            placeholder="code, name or region: 28356, UTM 12, Texas Central"
            value={find}
            onChange={(e) => setFind(e.target.value)}
          />
        ) : (
          <Box flex="1" />
        )}
        <Act onClick={onLeave}>Cancel</Act>
      </Flex>
      {way === 'list' ? alert : null}
      {way === 'list' && find.trim().length > 1 ? (
        <Box maxHeight="230px" overflow="auto">
          {(found.data ?? []).map((s) => (
            <Found key={s.code} onClick={() => take(api.system(s.code))}>
              <Num>{s.code}</Num>
              <Cut fontWeight="600">{s.name}</Cut>
              <Aside>{s.unit}</Aside>
              <Cut color="slate" fontSize="13px">
                {s.area || 'no area stated'}
              </Cut>
            </Found>
          ))}
          {found.data?.length === 0 ? (
            <Box px="12px" py="8px" color="slate">
              No published system has “{find}” in its code, name or region.
            </Box>
          ) : null}
        </Box>
      ) : null}
      {way === 'parameters' ? <ByParameters onMake={(p) => take(api.systemByParameters(p))} /> : null}
      {way === 'definition' ? <ByDefinition onMake={(n, d) => take(api.systemByDefinition(n, d))} /> : null}
      {way === 'list' ? null : alert}
    </Box>
  );
}

function ByDefinition({ onMake }: { onMake: (name: string, definition: string) => void }) {
  const [name, setName] = useState('');
  const [definition, setDefinition] = useState('');
  return (
    <chakra.form
      display="flex"
      flexDirection="column"
      gap="8px"
      px="12px"
      pb="8px"
      onSubmit={(e) => {
        e.preventDefault();
        onMake(name, definition);
      }}
    >
      <Field
        aria-label="name of the system"
        placeholder="name"
        value={name}
        onChange={(e) => setName(e.target.value)}
        maxLength={120}
        required
      />
      <Field
        aria-label="PROJ definition"
        placeholder="+proj=tmerc +lat_0=0 +lon_0=15 +k=0.9996 +x_0=500000 +y_0=0 +ellps=GRS80 +units=m"
        fontFamily="mono"
        value={definition}
        onChange={(e) => setDefinition(e.target.value)}
        maxLength={800}
        required
      />
      <Flex>
        <Act type="submit">Use it</Act>
      </Flex>
    </chakra.form>
  );
}

type Typed = Record<
  | 'name'
  | 'latitude'
  | 'longitude'
  | 'parallel1'
  | 'parallel2'
  | 'azimuth'
  | 'rectifiedAngle'
  | 'scale'
  | 'falseEast'
  | 'falseNorth'
  | 'datum',
  string
>;

const FIELDS: Record<Method, (keyof Typed)[]> = {
  tmerc: ['latitude', 'longitude', 'scale', 'falseEast', 'falseNorth'],
  lcc1: ['latitude', 'longitude', 'scale', 'falseEast', 'falseNorth'],
  lcc2: ['latitude', 'longitude', 'parallel1', 'parallel2', 'falseEast', 'falseNorth'],
  omerc: ['latitude', 'longitude', 'azimuth', 'rectifiedAngle', 'scale', 'falseEast', 'falseNorth'],
  sterea: ['latitude', 'longitude', 'scale', 'falseEast', 'falseNorth'],
  stere: ['latitude', 'longitude', 'scale', 'falseEast', 'falseNorth'],
};

const LABEL: Record<keyof Typed, string> = {
  name: 'name',
  latitude: 'latitude of the origin',
  longitude: 'longitude of the origin',
  parallel1: 'first standard parallel',
  parallel2: 'second standard parallel',
  azimuth: 'azimuth of the initial line',
  rectifiedAngle: 'angle from rectified to skew grid',
  scale: 'scale factor',
  falseEast: 'false easting m',
  falseNorth: 'false northing m',
  datum: 'three or seven datum parameters, or a grid file’s name',
};

/** Angles as people type them, echoed; a system made of them is checked by the server before it is taken. */
function ByParameters({ onMake }: { onMake: (p: SystemParameters) => void }) {
  const [method, setMethod] = useState<Method>('tmerc');
  const [ellipsoid, setEllipsoid] = useState<keyof typeof ELLIPSOIDS>('GRS80');
  const [typed, setTyped] = useState<Typed>({
    name: '',
    latitude: '0',
    longitude: '',
    parallel1: '',
    parallel2: '',
    azimuth: '',
    rectifiedAngle: '',
    scale: '1',
    falseEast: '0',
    falseNorth: '0',
    datum: '',
  });
  const [problem, setProblem] = useState('');
  const angular = (field: keyof Typed): boolean =>
    ['latitude', 'longitude', 'parallel1', 'parallel2', 'azimuth', 'rectifiedAngle'].includes(field);
  const submit = (event: FormEvent): void => {
    event.preventDefault();
    const values: Partial<Record<keyof Typed, number>> = {};
    for (const field of FIELDS[method]) {
      const text = typed[field].trim();
      if (text === '' && (field === 'rectifiedAngle' || field === 'azimuth')) continue;
      const angle = angular(field) ? readAngle(text, 'deg') : null;
      if (angle && !angle.ok) return setProblem(`${LABEL[field]}: ${angle.reason}`);
      const value = angle ? (angle.radians / Math.PI) * 180 : Number(text.replace(',', '.'));
      if (text === '' || !Number.isFinite(value)) return setProblem(`${LABEL[field]}: “${text}” is not a number.`);
      values[field] = value;
    }
    const datum = typed.datum.trim();
    const numbers = datum.split(/[\s,;]+/).map(Number);
    setProblem('');
    onMake({
      name: typed.name.trim() || METHODS[method],
      method,
      latitude: values.latitude!,
      longitude: values.longitude!,
      parallel1: values.parallel1,
      parallel2: values.parallel2,
      azimuth: values.azimuth,
      rectifiedAngle: values.rectifiedAngle,
      scale: values.scale ?? 1,
      falseEast: values.falseEast!,
      falseNorth: values.falseNorth!,
      ellipsoid,
      datum:
        datum === ''
          ? { kind: 'same' }
          : numbers.every(Number.isFinite)
            ? { kind: 'parameters', values: numbers }
            : { kind: 'grid', file: datum },
    });
  };
  return (
    <chakra.form onSubmit={submit} px="12px" pb="8px" display="flex" flexDirection="column" gap="6px">
      <Flex gap="8px" wrap="wrap">
        <Choice
          name="projection"
          value={method}
          options={(Object.keys(METHODS) as Method[]).map((m) => [m, METHODS[m]] as const)}
          onChange={setMethod}
        />
        <Choice
          name="ellipsoid"
          value={ellipsoid}
          options={(Object.keys(ELLIPSOIDS) as (keyof typeof ELLIPSOIDS)[]).map((e) => [e, ELLIPSOIDS[e]] as const)}
          onChange={setEllipsoid}
        />
      </Flex>
      {(['name', ...FIELDS[method], 'datum'] as (keyof Typed)[]).map((field) => (
        <Parameter
          key={field}
          label={LABEL[field]}
          angular={angular(field)}
          value={typed[field]}
          onChange={(value) => setTyped({ ...typed, [field]: value })}
        />
      ))}
      {problem ? (
        <Box role="alert" color="pole">
          {problem}
        </Box>
      ) : null}
      <Flex>
        <Act type="submit">Use it</Act>
      </Flex>
    </chakra.form>
  );
}

function Parameter({
  label,
  angular,
  value,
  onChange,
}: {
  label: string;
  angular: boolean;
  value: string;
  onChange: (value: string) => void;
}) {
  const read = angular && value.trim() !== '' ? readAngle(value, 'deg') : null;
  return (
    <Flex as="label" align="center" gap="8px">
      <Box width="230px" flexShrink="0" color="slate">
        {label}
      </Box>
      <Field value={value} onChange={(e) => onChange(e.target.value)} width="170px" fontFamily="mono" />
      {read ? (
        <Aside color={read.ok ? 'slate' : 'pole'}>
          {read.ok ? `= ${formatAngle(read.radians, 'dms', 4)}` : read.reason}
        </Aside>
      ) : null}
    </Flex>
  );
}
