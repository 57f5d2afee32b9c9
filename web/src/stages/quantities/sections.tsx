import { Box, Flex } from '@chakra-ui/react';
import { useEffect, useMemo, useState } from 'react';
import { formatArea, formatChainage, METRES_IN, UNIT_SIGN } from '#core/measure';
import type { Comparison } from '#core/project';
import { chainagesOf, extentOfPieces, lineOfSections, MOST_SKEW, sectionAt, usualSizes, type SectionedSurface } from '#core/quantities'; // prettier-ignore
import { groundFinder, ofTriangles } from '#core/terrain';
import { Act, Aside, Num } from '../../frame/controls.tsx';
import { PaperAct } from '../../frame/paper.tsx';
import { TypedLength } from '../../frame/typed-length.tsx';
import { TypedNumber } from '../../frame/typed-number.tsx';
import { isSettled, useParts, useProject } from '../../project-state/store.ts';
import { MoreSurfaces } from './more-surfaces.tsx';
import type { ComparisonFigures } from './comparison-figures.ts';
import { useNear } from './near.ts';
import { SectionFigure } from './section-figure.tsx';

const FIELD = { width: '64px', height: '24px', px: '4px', fontSize: '12px' };
/** m */
const USUAL_REACH = 10;
const NONE: number[] = [];

/** Sections across a comparison's line: one at a time on a chart that the drawing follows, and all of them as files. */
export function Sections({ comparison, figures }: { comparison: Comparison; figures: ComparisonFigures }) {
  const [open, setOpen] = useState(false);
  return (
    <Box mt="10px" fontSize="13px">
      <Act aria-expanded={open} onClick={() => setOpen(!open)}>
        {open ? 'Hide the sections' : 'Sections …'}
      </Act>
      {open ? <Cut comparison={comparison} figures={figures} /> : null}
    </Box>
  );
}

const MOST_DEGREES = Math.round((MOST_SKEW / Math.PI) * 180);

function Cut({ comparison, figures }: { comparison: Comparison; figures: ComparisonFigures }) {
  const { id, state, tables } = useParts('id', 'state', 'tables');
  const settled = useProject(isSettled);
  const { settings, surfaces } = state!.document;
  const { unit, areaUnit } = settings;
  const pieces = tables!.pieces.get(comparison.id);
  const usual = useMemo(() => {
    if (!pieces?.length) return null;
    const deep = Math.max(figures.deepest.cut?.depth ?? 0, figures.deepest.fill?.depth ?? 0);
    return usualSizes(extentOfPieces(pieces), deep, METRES_IN[unit]);
  }, [pieces, figures, unit]);
  const [spacing, setSpacing] = useState(comparison.methods?.spacing ?? usual?.spacing ?? USUAL_REACH);
  const [reach, setReach] = useState({ left: USUAL_REACH, right: USUAL_REACH });
  const [bends, setBends] = useState(true);
  const [degrees, setDegrees] = useState(0);
  const [times, setTimes] = useState(1);
  const [within, setWithin] = useState<number | undefined>(undefined);
  const [also, setAlso] = useState<string[]>([]);
  const [at, setAt] = useState(0);
  const course = useMemo(() => (pieces?.length ? lineOfSections(comparison.along, extentOfPieces(pieces)) : null), [comparison.along, pieces]); // prettier-ignore
  const chainages = useMemo(() => {
    try {
      return course ? chainagesOf({ course, spacing, bends }) : NONE;
    } catch (error) {
      return error instanceof RangeError ? error.message : NONE;
    }
  }, [course, spacing, bends]);
  const through = useMemo((): SectionedSurface[] => {
    const named = (of: string): SectionedSurface[] => {
      const finder = tables!.finders.get(of);
      return finder ? [{ name: surfaces.find((s) => s.id === of)?.name ?? '', finder }] : [];
    };
    const { against } = comparison;
    const other = 'surface' in against ? named(against.surface) : 'level' in against ? [{ name: 'level', level: against.level }] : []; // prettier-ignore
    return [...named(comparison.surface), ...other, ...also.flatMap(named)];
  }, [comparison, surfaces, tables, also]);
  const near = useNear(within !== undefined);
  const places = typeof chainages === 'string' ? NONE : chainages;
  const here = Math.min(at, places.length - 1);
  // Areas are those of what is compared, inside its boundary.
  const difference = useMemo(() => (pieces?.length ? groundFinder(ofTriangles(pieces)) : null), [pieces]);
  const section = useMemo(() => {
    if (!course || here < 0) return null;
    const cut = sectionAt({ course, ...reach, skew: (degrees / 180) * Math.PI }, places[here], through, difference);
    return near && within !== undefined ? { ...cut, near: near(cut, reach, within) } : cut;
  }, [course, reach, degrees, places, here, through, difference, near, within]);
  // The drawing shows where it stands.
  useEffect(() => {
    if (!section) return;
    const { x, y, ex, ey } = section;
    const across = [x - reach.left * ex, y - reach.left * ey, x + reach.right * ex, y + reach.right * ey];
    useProject.setState({ sketch: { places: new Float64Array(0), arrows: [], courses: [[...course!], across], about: 'where the section stands' } }); // prettier-ignore
    return () => useProject.setState({ sketch: null });
  }, [section, reach, course]);
  if (!course) return <Aside display="block">There is nothing to cut yet.</Aside>;
  const length = (label: string, value: number, least: number, set: (m: number) => void) =>
    <TypedLength key={`${label} ${value}`} label={label} value={value} unit={unit} least={least} most={1e4} must="A length." set={(m) => set(m!)} field={FIELD} />; // prettier-ignore
  const path = (form: string): string => `sections?comparison=${encodeURIComponent(comparison.id)}&form=${form}&spacing=${spacing}&left=${reach.left}&right=${reach.right}&bends=${bends ? 'yes' : 'no'}&skew=${degrees}&times=${times}${within === undefined ? '' : `&near=${within}`}${also.length ? `&also=${also.map(encodeURIComponent).join(',')}` : ''}`; // prettier-ignore
  const step = (by: number): void => setAt((here + by + places.length) % places.length);
  return (
    <Box mt="6px">
      <Flex gap="6px" align="center" wrap="wrap">
        Every {length('distance between sections', spacing, 0.01, setSpacing)} {UNIT_SIGN[unit]},{' '}
        {length('reach to the left', reach.left, 0, (left) => setReach({ ...reach, left }))} to the left and{' '}
        {length('reach to the right', reach.right, 0, (right) => setReach({ ...reach, right }))} to the right
        <label>
          <input type="checkbox" checked={bends} onChange={(e) => setBends(e.target.checked)} /> and where the line
          bends
        </label>
        skewed by{' '}
        <TypedNumber
          label="skew in degrees, the right side ahead"
          value={degrees}
          least={-MOST_DEGREES}
          most={MOST_DEGREES}
          set={setDegrees}
          field={{ ...FIELD, width: '44px' }}
        />
        °
      </Flex>
      <Flex gap="6px" align="center" wrap="wrap" mt="4px">
        with lines and points within{' '}
        <TypedLength
          label="how near points are that are shown"
          value={within}
          unit={unit}
          least={0}
          most={1000}
          must="A length of 0 or more."
          optional
          set={setWithin}
          field={FIELD}
        />{' '}
        {UNIT_SIGN[unit]}
        <MoreSurfaces comparison={comparison} also={also} set={setAlso} />
      </Flex>
      {typeof chainages === 'string' ? <Aside color="brass">{chainages}</Aside> : null}
      {section ? (
        <>
          <Flex align="center" gap="8px" mt="6px">
            <Act height="22px" aria-label="section before" onClick={() => step(-1)}>
              ←
            </Act>
            <Act height="22px" aria-label="next section" onClick={() => step(1)}>
              →
            </Act>
            <Num>{formatChainage(section.chainage, unit, settings.chainage, 2)}</Num>
            <Aside>
              section {here + 1} of {places.length}
            </Aside>
            {section.cut === null ? null : (
              <span>
                cut <Num>{formatArea(section.cut, areaUnit, unit)}</Num>, fill{' '}
                <Num>{formatArea(section.fill!, areaUnit, unit)}</Num>
              </span>
            )}
          </Flex>
          <SectionFigure section={section} />
        </>
      ) : null}
      {settled ? (
        <Flex gap="8px" align="center" wrap="wrap" mt="6px">
          <PaperAct look="plain" project={id} path={path('pdf')}>
            Sheets as PDF
          </PaperAct>
          <PaperAct look="plain" project={id} path={path('profile')}>
            Profile as PDF
          </PaperAct>
          drawn{' '}
          <TypedNumber
            label="times as high as true"
            value={times}
            least={1}
            most={100}
            set={setTimes}
            field={{ ...FIELD, width: '44px' }}
          />{' '}
          times as high
          {(['csv', 'dxf', ...(degrees ? [] : (['xml'] as const))] as const).map((form) => (
            <PaperAct key={form} look="plain" project={id} path={path(form)}>
              {{ csv: 'As CSV', dxf: 'As DXF', xml: 'As LandXML' }[form]}
            </PaperAct>
          ))}
        </Flex>
      ) : (
        <Aside display="block">files come once everything is computed</Aside>
      )}
    </Box>
  );
}
