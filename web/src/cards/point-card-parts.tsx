import { Box } from '@chakra-ui/react';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { gridToGround } from '#core/basis';
import { detailText } from '#core/project';
import { formatAngle, formatLength, toMetres, UNIT_SIGN } from '#core/measure';
import { api, problemText } from '../frame/api.ts';
import { when } from '../frame/page.tsx';
import { Act, Aside, Num } from '../frame/controls.tsx';
import { formatVolume, VOLUME_SIGN } from '../frame/volume-text.ts';
import type { volumesThrough } from '../project-state/used-by.ts';
import { Row, Section } from './card-frame.tsx';
import { useParts, useProject } from '../project-state/store.ts';

/** Everything that was done to a point and to the file it came in, oldest first. */
export function History({ pointKey, revision }: { pointKey: string; revision: number }) {
  const id = useProject((p) => p.id);
  const [open, setOpen] = useState(false);
  const history = useQuery({
    queryKey: ['history', id, pointKey, revision],
    queryFn: () => api.history(id, pointKey),
    enabled: open,
  });
  return (
    <>
      <Act look="quiet" px="0" aria-expanded={open} onClick={() => setOpen(!open)}>
        {open ? 'fold its history' : 'its history …'}
      </Act>
      {open ? (
        <Box as="ol" m="0" p="0" listStyleType="none" fontSize="13px" aria-label="history of the point">
          {history.isError ? <Box color="pole">{problemText(history.error)}</Box> : null}
          {(history.data?.entries ?? []).map((e) => (
            <Box as="li" key={e.revision} py="2px">
              <Num color="slate">{e.revision}</Num> {e.by} {e.kind === 'do' && e.details?.length ? null : e.what}
              {(e.kind === 'do' ? e.details : undefined)?.map((d) => (
                <Box key={d.name}>{`${d.field}: ${detailText(d)}`}</Box>
              ))}
              {e.why ? <Aside display="block">because {e.why}</Aside> : null}
              <Aside display="block" fontSize="12px">
                {when(e.at)}
              </Aside>
            </Box>
          ))}
          {history.data?.entries.length === 0 ? <Aside>not changed</Aside> : null}
        </Box>
      ) : null}
    </>
  );
}

/** Where a point is on earth, and what the grid does to lengths and directions there. */
export function OnEarth({ row }: { row: number }) {
  const { id, state, tables } = useParts('id', 'state', 'tables');
  const { settings: s, basis } = state!.document;
  const { points } = tables!;
  const [x, y, z] = [points.x[row], points.y[row], points.z[row]];
  const answer = useQuery({
    queryKey: ['factors', id, state!.revision, x, y, z],
    queryFn: () => api.factors(id, [[x, y, Number.isNaN(z) ? null : z]]),
  });
  const at = answer.data?.list[0];
  if (!at) return null;
  const { factors: f } = at;
  const degree = Math.PI / 180;
  const rows: [string, string][] = [
    ['latitude', formatAngle(f.latitude * degree, s.angle, 5)],
    ['longitude', formatAngle(f.longitude * degree, s.angle, 5)],
    ['convergence', formatAngle(f.convergence, s.angle, Math.max(1, s.angleDecimals))],
    ['point scale', f.pointScale.toFixed(8)],
    ['combined factor', f.combined.toFixed(8)],
  ];
  if (at.geoidHeight !== null) rows.push([`geoid ${UNIT_SIGN[s.unit]}`, formatLength(at.geoidHeight, s.unit, 3)]);
  if (basis.factor !== 1 && basis.base) {
    const ground = gridToGround(basis.base, basis.factor, { x, y });
    const places: [string, string][] = [
      [`ground east ${UNIT_SIGN[s.unit]}`, formatLength(ground.x, s.unit, s.decimals)],
      [`ground north ${UNIT_SIGN[s.unit]}`, formatLength(ground.y, s.unit, s.decimals)],
    ];
    rows.push(...(s.order === 'EN' ? places : places.reverse()));
  }
  return (
    <Section>
      <Aside>on earth, on the grid’s datum</Aside>
      {rows.map(([name, value]) => (
        <Row key={name} name={name}>
          <Num fontSize="12px">{value}</Num>
        </Row>
      ))}
    </Section>
  );
}

/** A slip that is made easily, in the project’s unit. */
const SLIP = 0.1;

/** Volumes that a point has a part in, and what it would do to each were it a tenth too high. */
export function VolumesThrough({ volumes }: { volumes: ReturnType<typeof volumesThrough> }) {
  const { state, select } = useParts('state', 'select');
  const { settings } = state!.document;
  return (
    <>
      {volumes.map(({ comparison: { id, name }, byMetre }) => {
        const by = toMetres(SLIP, settings.unit) * byMetre;
        return (
          <Box key={id} fontSize="13px">
            <Act look="quiet" px="0" onClick={() => select({ kind: 'comparison', id })}>
              volume “{name}”
            </Act>{' '}
            <Aside>
              {SLIP} {UNIT_SIGN[settings.unit]} too high: cut − fill {by > 0 ? '+' : ''}
              <Num>{formatVolume(by, settings)}</Num> {VOLUME_SIGN[settings.volumeUnit]}
            </Aside>
          </Box>
        );
      })}
    </>
  );
}
