import { Box, Flex } from '@chakra-ui/react';
import { useEffect, useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import { formatLength, UNIT_SIGN } from '#core/measure';
import { tracingPrecision } from '#core/pictures';
import type { ProjectDocument, SurfaceRecipe, SurfaceRow } from '#core/project';
import { Act, Aside, Leaf, Pick } from '../../../frame/controls.tsx';
import { TypedLength } from '../../../frame/typed-length.tsx';
import { useParts, useProject } from '../../../project-state/store.ts';
import { fitTo } from '../../../sheet/picture/fit-to.ts';
import { freshId } from '../add-row.tsx';
import { closedCourse, flatTop, outerRing, tracedCourses, tracedPlaces, type TracedPlace } from './traced-rows.ts';
import { VertexElevations } from './vertex-elevations.tsx';

const WHAT = { contour: 'contours', breakline: 'breaklines', spot: 'spot heights' } as const;
type What = keyof typeof WHAT;
const PURPOSE = { contour: 'the contour', breakline: 'the breakline', spot: 'the place of the spot height' } as const;

/** So many vertices of a breakline have fields of their own. */
const MOST_VERTICES = 60;
const ELEVATION = { least: -1e4, most: 1e4, must: 'An elevation.' };
/** Heights between contours: 90 % of what is traced lies within half of them (common practice). */
const SD_OF_INTERVAL = 0.5 / 1.645;

/** Contours, breaklines and spot heights traced over a picture, one after the other, straight into a surface. */
export function Tracing({ doc, recipe, onDone }: { doc: ProjectDocument; recipe: SurfaceRecipe; onDone: () => void }) {
  const { make, busy, trace, traced, select, tell, id: project } = useParts('make', 'busy', 'trace', 'traced', 'select', 'tell', 'id'); // prettier-ignore
  const navigate = useNavigate();
  const { unit } = doc.settings;
  const sign = UNIT_SIGN[unit];
  const [what, setWhat] = useState<What>('contour');
  const [elevation, setElevation] = useState<number | undefined>(undefined);
  const [step, setStep] = useState(1);
  const [over, setOver] = useState(() => doc.pictures.at(-1)?.id ?? '');
  const [asked, setAsked] = useState<{ places: TracedPlace[]; closed: boolean } | null>(null);
  const picture = doc.pictures.find((p) => p.id === over);
  const precision = picture && tracingPrecision(picture, picture.placed);
  useShownTraced(recipe);
  // What is traced next begins where a change ended: the newest figures, not those of when the hand began.
  const now = useRef({ recipe, elevation, step });
  useEffect(() => {
    now.current = { recipe, elevation, step };
  });

  const add = (row: SurfaceRow): Promise<boolean> => make({ op: 'surface.row', surface: recipe.id, row });
  const base = () => ({ id: freshId(), on: true }) as const;
  const line = (as: 'contour' | 'breakline', course: TracedPlace[], closed: boolean): Promise<boolean> =>
    add({ ...base(), kind: 'traced', as, picture: picture?.id ?? null, course, closed });

  const draw = (kind: What): void =>
    trace({
      purpose: PURPOSE[kind],
      places: [],
      finish: () => {},
      course: {
        most: kind === 'spot' ? 1 : null,
        free: true,
        closes: kind !== 'spot',
        also: () => tracedPlaces(now.current.recipe).flatMap(({ x, y }) => [x, y]),
        finish: (places) => void drawn(kind, places),
      },
    });
  const drawn = async (kind: What, places: readonly { x: number; y: number }[]): Promise<void> => {
    const { elevation: z, step: by } = now.current;
    const { places: course, closed } = closedCourse(places);
    if (kind === 'contour') {
      if (z === undefined || !(await line('contour', course.map(({ x, y }) => ({ x, y, z })), closed))) return; // prettier-ignore
      const next = Math.round((z + by) * 1e4) / 1e4;
      setElevation(next);
      now.current.elevation = next;
      draw(kind);
    } else if (places.length > MOST_VERTICES)
      tell(`A breakline is traced with up to ${MOST_VERTICES} vertices: trace it in parts.`);
    else {
      const before = tracedPlaces(now.current.recipe);
      setAsked({ closed, places: course.map(({ x, y }) => ({ x, y, z: before.find((p) => p.x === x && p.y === y)?.z ?? null })) }); // prettier-ignore
    }
  };
  const take = async (course: TracedPlace[], closed: boolean): Promise<void> => {
    const kind = what;
    const [{ x, y, z }] = course;
    const done = kind === 'spot' ? await add({ ...base(), kind: 'spot', x, y, z: z! }) : await line('breakline', course, closed); // prettier-ignore
    if (!done) return;
    setAsked(null);
    draw(kind);
  };

  const measure = async (): Promise<void> => {
    const comparison = {
      id: freshId(),
      name: recipe.name,
      surface: recipe.id,
      against: { base: 'toe' as const },
      within: outerRing(recipe),
      ...(precision ? { sd: { plan: precision.plan, height: Math.abs(step) * SD_OF_INTERVAL, ...(precision.scale ? { scale: precision.scale } : {}) } } : {}), // prettier-ignore
    };
    if (!(await make({ op: 'comparison.set', comparison }))) return;
    void navigate(`/p/${project}/quantities`);
    select({ kind: 'comparison', id: comparison.id });
  };
  const missing = flatTop(recipe);
  const lines = recipe.rows.filter((r) => r.on && (r.kind === 'traced' || r.kind === 'spot')).length;
  return (
    <Leaf head={`Tracing into “${recipe.name}”`} mb="12px" pb="8px">
      <Flex gap="8px" px="12px" wrap="wrap" align="center" role="group" aria-label="tracing">
        {doc.pictures.length > 1 ? (
          <Pick aria-label="over which picture" value={over} maxWidth="180px" onChange={(e) => setOver(e.target.value)}>
            {doc.pictures.map((p) => (
              <option key={p.id} value={p.id}>
                {p.name}
              </option>
            ))}
          </Pick>
        ) : null}
        {picture ? <Act onClick={() => fitTo(picture.matrix, picture)}>Show the picture</Act> : null}
        <Pick
          aria-label="what is traced"
          value={what}
          disabled={traced !== null || asked !== null}
          onChange={(e) => setWhat(e.target.value as What)}
        >
          {(Object.keys(WHAT) as What[]).map((k) => (
            <option key={k} value={k}>
              {WHAT[k]}
            </option>
          ))}
        </Pick>
        {what === 'contour' ? (
          <>
            at
            <TypedLength
              key={`at ${elevation}`}
              label="elevation of the contour"
              value={elevation}
              unit={unit}
              {...ELEVATION}
              set={setElevation}
              field={{ width: '84px' }}
            />
            {sign}, the next by
            <TypedLength
              label="step to the next contour"
              value={step}
              unit={unit}
              least={-1000}
              most={1000}
              must="The height from one contour to the next; − where they fall."
              set={(v) => setStep(v!)}
              field={{ width: '66px' }}
            />
            {sign}
          </>
        ) : null}
        <Act
          look="solid"
          disabled={
            busy || traced !== null || asked !== null || !precision || (what === 'contour' && elevation === undefined)
          }
          onClick={() => draw(what)}
        >
          Trace
        </Act>
      </Flex>
      {asked ? (
        <Box px="12px" pt="6px">
          <VertexElevations
            places={asked.places}
            unit={unit}
            set={(p) => void take(p, asked.closed)}
            tell={tell}
            onCancel={() => setAsked(null)}
          />
        </Box>
      ) : null}
      <Box px="12px" pt="6px">
        <Aside display="block">
          {precision ? (
            <>
              A place is read to {formatLength(precision.plan, unit, 3)} {sign}
              {precision.scale ? `, the scale of the picture is good to ${(100 * precision.scale).toFixed(2)} %` : ''}.
              Each line is held by what was traced before; back at its first vertex it closes.
            </>
          ) : (
            'This picture has no scale yet: fit it by marks or a known length first (Basis, Pictures).'
          )}
        </Aside>
        {missing === null ? null : (
          <Aside display="block" color="brass">
            Nothing is higher than the contour at {formatLength(missing, unit, 2)} {sign}: inside it the surface is
            flat. Trace a spot height on its top.
          </Aside>
        )}
      </Box>
      <Flex gap="6px" px="12px" pt="8px">
        <Act
          disabled={busy || lines < 2}
          title="its volume above the base that its outermost line gives, with the precision of what was traced"
          onClick={() => void measure()}
        >
          Measure as a heap
        </Act>
        <Act onClick={onDone}>Done</Act>
      </Flex>
    </Leaf>
  );
}

/** What was traced lies over the picture while more is traced, and nothing that would cover it. */
function useShownTraced(recipe: SurfaceRecipe): void {
  useEffect(() => {
    const courses = tracedCourses(recipe);
    const places = Float64Array.from(tracedPlaces(recipe).flatMap(({ x, y }) => [x, y]));
    useProject.setState({ sketch: { places, arrows: [], courses, about: 'what was traced' } });
    return () => useProject.setState({ sketch: null });
  }, [recipe]);
  useEffect(() => {
    useProject.setState({ tracing: true });
    return () => useProject.setState({ tracing: false });
  }, []);
}
