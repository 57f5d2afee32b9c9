import { Box, Flex } from '@chakra-ui/react';
import { zodResolver } from '@hookform/resolvers/zod';
import { Controller, useForm } from 'react-hook-form';
import { z } from 'zod';
import { ELLIPSOIDS, METHODS, type Method, type SystemParameters } from '#core/basis';
import { formatAngle, readAngle } from '#core/measure';
import { Act, Aside, Field } from '../frame/controls.tsx';
import { described, FieldProblem, Form } from '../frame/form.tsx';
import { Choice } from '../frame/sentence.tsx';

type Ellipsoid = keyof typeof ELLIPSOIDS;

const ANGLES = ['latitude', 'longitude', 'parallel1', 'parallel2', 'azimuth', 'rectifiedAngle'] as const;
const NUMBERS = ['scale', 'falseEast', 'falseNorth'] as const;
type Parameter = (typeof ANGLES)[number] | (typeof NUMBERS)[number];
type Typed = Record<Parameter | 'name' | 'datum', string> & { method: Method; ellipsoid: Ellipsoid };

const PARAMETERS: Record<Method, Parameter[]> = {
  tmerc: ['latitude', 'longitude', 'scale', 'falseEast', 'falseNorth'],
  lcc1: ['latitude', 'longitude', 'scale', 'falseEast', 'falseNorth'],
  lcc2: ['latitude', 'longitude', 'parallel1', 'parallel2', 'falseEast', 'falseNorth'],
  omerc: ['latitude', 'longitude', 'azimuth', 'rectifiedAngle', 'scale', 'falseEast', 'falseNorth'],
  sterea: ['latitude', 'longitude', 'scale', 'falseEast', 'falseNorth'],
  stere: ['latitude', 'longitude', 'scale', 'falseEast', 'falseNorth'],
};
/** What an oblique projection may go without. */
const OPTIONAL = new Set<Parameter>(['azimuth', 'rectifiedAngle']);

const LABEL: Record<Parameter | 'name' | 'datum', string> = {
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

const isAngle = (field: keyof Typed): boolean => (ANGLES as readonly string[]).includes(field);
const text = z.string().trim();

/** Parameters as people type them, read into degrees and metres; what is wrong is told at its field. */
export const parametersSchema = z
  .object({
    ...(Object.fromEntries([...ANGLES, ...NUMBERS, 'name', 'datum'].map((f) => [f, text])) as Record<Parameter | 'name' | 'datum', typeof text>), // prettier-ignore
    method: z.enum(Object.keys(METHODS) as [Method, ...Method[]]),
    ellipsoid: z.enum(Object.keys(ELLIPSOIDS) as [Ellipsoid, ...Ellipsoid[]]),
  })
  .transform((typed, context): SystemParameters => {
    const values: Partial<Record<Parameter, number>> = {};
    for (const field of PARAMETERS[typed.method]) {
      const said = typed[field];
      if (said === '' && OPTIONAL.has(field)) continue;
      const angle = isAngle(field) && said ? readAngle(said, 'deg') : null;
      const value = angle?.ok ? (angle.radians / Math.PI) * 180 : angle ? NaN : Number(said.replace(',', '.'));
      if (said !== '' && Number.isFinite(value)) values[field] = value;
      else {
        const why =
          angle && !angle.ok ? angle.reason : said === '' ? 'a number is needed' : `“${said}” is not a number`;
        context.addIssue({ code: 'custom', path: [field], message: `${LABEL[field]}: ${why}` });
      }
    }
    const { name, method, ellipsoid, datum } = typed;
    const numbers = datum.split(/[\s,;]+/).map(Number);
    return {
      name: name || METHODS[method],
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
    };
  });

const BEGIN: Typed = { method: 'tmerc', ellipsoid: 'GRS80', name: '', latitude: '0', longitude: '', parallel1: '', parallel2: '', azimuth: '', rectifiedAngle: '', scale: '1', falseEast: '0', falseNorth: '0', datum: '' }; // prettier-ignore

/** Angles as people type them, echoed; a system made of them is checked by the server before it is taken. */
export function ByParameters({ onMake }: { onMake: (p: SystemParameters) => void }) {
  const { register, control, handleSubmit, watch, formState } = useForm<Typed, unknown, SystemParameters>({
    resolver: zodResolver(parametersSchema),
    defaultValues: BEGIN,
  });
  const { errors } = formState;
  const typed = watch();
  return (
    <Form onSubmit={handleSubmit(onMake)} px="12px" pb="8px" display="flex" flexDirection="column" gap="6px">
      <Flex gap="8px" wrap="wrap">
        <Controller
          control={control}
          name="method"
          render={({ field }) => (
            <Choice
              name="projection"
              value={field.value}
              options={(Object.keys(METHODS) as Method[]).map((m) => [m, METHODS[m]] as const)}
              onChange={field.onChange}
            />
          )}
        />
        <Controller
          control={control}
          name="ellipsoid"
          render={({ field }) => (
            <Choice
              name="ellipsoid"
              value={field.value}
              options={(Object.keys(ELLIPSOIDS) as Ellipsoid[]).map((e) => [e, ELLIPSOIDS[e]] as const)}
              onChange={field.onChange}
            />
          )}
        />
      </Flex>
      {(['name', ...PARAMETERS[typed.method], 'datum'] as const).map((field) => (
        <Box key={field}>
          <Flex as="label" align="center" gap="8px">
            <Box width="230px" flexShrink="0" color="slate">
              {LABEL[field]}
            </Box>
            <Field
              width="170px"
              fontFamily="mono"
              maxLength={120}
              {...register(field)}
              {...described(`${field}-problem`, errors[field])}
            />
            <Echo typed={isAngle(field) ? typed[field] : ''} />
          </Flex>
          <FieldProblem id={`${field}-problem`} error={errors[field]} />
        </Box>
      ))}
      <Flex>
        <Act type="submit">Use it</Act>
      </Flex>
    </Form>
  );
}

/** How an angle is understood. */
function Echo({ typed }: { typed: string }) {
  const read = typed.trim() ? readAngle(typed, 'deg') : null;
  return read ? (
    <Aside color={read.ok ? 'slate' : 'pole'}>
      {read.ok ? `= ${formatAngle(read.radians, 'dms', 4)}` : read.reason}
    </Aside>
  ) : null;
}

const definitionSchema = z.object({
  name: z.string().trim().min(1, 'Name the system.').max(120),
  definition: z.string().trim().min(1, 'Type its definition.').max(800),
});

/** A system by its PROJ definition, under a name of one's own. */
export function ByDefinition({ onMake }: { onMake: (name: string, definition: string) => void }) {
  const { register, handleSubmit, formState } = useForm({
    resolver: zodResolver(definitionSchema),
    defaultValues: { name: '', definition: '' },
  });
  const { errors } = formState;
  return (
    <Form
      display="flex"
      flexDirection="column"
      gap="8px"
      px="12px"
      pb="8px"
      onSubmit={handleSubmit((v) => onMake(v.name, v.definition))}
    >
      <Field
        aria-label="name of the system"
        placeholder="name"
        maxLength={120}
        {...register('name')}
        {...described('system-name-problem', errors.name)}
      />
      <FieldProblem id="system-name-problem" error={errors.name} />
      <Field
        aria-label="PROJ definition"
        placeholder="+proj=tmerc +lat_0=0 +lon_0=15 +k=0.9996 +x_0=500000 +y_0=0 +ellps=GRS80 +units=m"
        fontFamily="mono"
        maxLength={800}
        {...register('definition')}
        {...described('definition-problem', errors.definition)}
      />
      <FieldProblem id="definition-problem" error={errors.definition} />
      <Flex>
        <Act type="submit">Use it</Act>
      </Flex>
    </Form>
  );
}
