import { Box, Flex } from '@chakra-ui/react';
import { useQuery } from '@tanstack/react-query';
import { useEffect, useMemo, useState } from 'react';
import type { ProjectDocument } from '#core/project';
import { fileStem } from '#core/exchange';
import { surfaceCsv, surfaceReport, type SurfaceFitness } from '#core/report';
import { Act, Aside, Pick } from '../../frame/controls.tsx';
import { saveText } from '../../frame/download.ts';
import { PaperAct } from '../../frame/paper.tsx';
import { ReportTableView } from '../../frame/report-table.tsx';
import { isSettled, useParts, useProject } from '../../project-state/store.ts';
import { useSurfacesShown } from '../../sheet/surfaces-shown.tsx';
import { sheetWork } from '../../work/workers.ts';

/** Whether a surface is fit to use, for whoever has to say so: what was looked at, what was found, what it is made from. */
export function FitToUse({ doc, surface }: { doc: ProjectDocument; surface: string }) {
  const { tables, id } = useParts('tables', 'id');
  const settled = useProject(isSettled);
  const view = useSurfacesShown()!;
  const [mapped, setMapped] = useState(false);
  const triangles = tables?.surfaces.get(surface);
  const hash = tables?.stages.surfaces[surface] ?? '';
  const { data: fitness, isPending } = useQuery({
    queryKey: ['fitness', hash],
    queryFn: () => sheetWork().fitness(triangles!),
    enabled: triangles !== undefined,
    staleTime: Infinity,
  });
  useErrorMap(mapped ? (fitness ?? null) : null);
  const report = useMemo(() => {
    const built = tables?.summary.surfaces.find((s) => s.id === surface);
    if (!tables || !built || !fitness) return null;
    const { points } = tables;
    const places = { x: points.x, y: points.y, z: points.z, number: (row: number) => points.number.get(row) };
    return surfaceReport(doc, built, fitness, tables.summary.queries, places);
  }, [doc, tables, surface, fitness]);
  return (
    <>
      <Flex gap="8px" align="center" mb="8px" wrap="wrap">
        <Pick aria-label="surface that is looked at" value={surface} onChange={(e) => view.stand(e.target.value)}>
          {doc.surfaces.map((s) => (
            <option key={s.id} value={s.id}>
              {s.name}
            </option>
          ))}
        </Pick>
        <Act aria-pressed={mapped} disabled={!fitness?.map} onClick={() => setMapped(!mapped)}>
          Show the weak parts
        </Act>
        <Box flex="1" />
        <Act
          look="quiet"
          disabled={!report}
          onClick={() => saveText(`${fileStem(report!.title, 'statistics')}.csv`, surfaceCsv(report!))}
        >
          As CSV
        </Act>
        {settled ? (
          <PaperAct project={id} path={`surface-report?surface=${encodeURIComponent(surface)}`}>
            As PDF
          </PaperAct>
        ) : (
          <Aside>its PDF comes once everything is computed</Aside>
        )}
      </Flex>
      <Box bg="leaf" border="1px solid" borderColor="rule" borderRadius="4px" role="region" aria-label="fit to use">
        {report ? (
          <>
            <Box px="8px" py="8px">
              <b>{report.title}</b>
              {report.about.map((a) => (
                <Box key={a}>{a}</Box>
              ))}
            </Box>
            {report.tables.map((t, i) => (
              <ReportTableView key={`${hash} ${i}`} table={t} />
            ))}
          </>
        ) : (
          <Box px="8px" py="8px" color="slate">
            {isPending && triangles ? 'looking at every point without it …' : 'nothing to look at yet'}
          </Box>
        )}
      </Box>
    </>
  );
}

/** Outlines the parts of the site where the error without a point is above what is usual. */
function useErrorMap(fitness: SurfaceFitness | null): void {
  useEffect(() => {
    if (!fitness?.map) return;
    const { x, y, cell, columns, rmse } = fitness.map;
    const usual = fitness.leftOut?.rmse ?? 0;
    const courses = [...rmse.keys()]
      .filter((i) => rmse[i] > usual)
      .map((i) => {
        const [w, s] = [x + (i % columns) * cell, y + Math.floor(i / columns) * cell];
        return [w, s, w + cell, s, w + cell, s + cell, w, s + cell, w, s];
      });
    useProject.setState({
      sketch: { places: new Float64Array(), arrows: [], courses, about: 'parts where the surface says least' },
    });
    return () => useProject.setState({ sketch: null });
  }, [fitness]);
}
