import { Box, chakra, Flex } from '@chakra-ui/react';
import { useCallback, useEffect, useMemo, useRef, useState, type PointerEvent, type ReactNode } from 'react';
import type { Stage } from '#core/project';
import { layerOf } from '#core/linework';
import { formatFixed, formatLength } from '#core/measure';
import { plotSource } from '../project-state/tables.ts';
import { useParts, useProject } from '../project-state/store.ts';
import { extentOf } from './extent.ts';
import { FileKey } from './file-key.tsx';
import { NorthMark, OthersHere } from './furniture.tsx';
import { usePlanGestures } from './gestures.ts';
import { sheetHandle, useSheetHandle } from './handle.ts';
import { drawLabels } from './labels.ts';
import {
  piecesShown,
  useDifference,
  usePreviewMarks,
  useSelectionMarks,
  useSketch,
  useTracedCourse,
  SNAP_PIXELS,
  useVisitors,
  type Visitors,
} from './overlays.ts';
import { layersOf } from './revision-layers.ts';
import { drawSelection, NO_MARKS, type SelectionMarks } from './selection-marks.ts';
import { lookWhile, useLook, type SheetLook } from './look.ts';
import { useSets } from '../project-state/set-columns.ts';
import { plotWork } from '../work/workers.ts';
import type { SheetLabels } from '../work/plot.worker.ts';
import { pickAt } from './picking.ts';
import { useFinePictures } from './picture/fine-pictures.ts';
import { usePictures } from './picture/shown-pictures.ts';
import { heldAt } from '../project-state/snap.ts';
import { addPlace } from './trace-bar.tsx';
import { SheetScene } from './scene.ts';
import { SheetBar } from './sheet-bar.tsx';
import { useSheetView, viewFromText, viewToText } from './view.ts';
import { LEVEL_SLOPE } from '#core/terrain';
import { compass, useGroundLook } from './ground-look.ts';
import { DragReading } from './live/drag-reading.tsx';
import { useEditUnderHand } from './live/under-hand.ts';
import { shiftOf, useVertexDrag } from './live/vertex-drag.ts';
import { SectionPanel } from './section/section-panel.tsx';
import { useSectionLine } from './section/section-line.ts';
import { useSection } from './section/section-store.ts';
import { ViewButtons } from './view-buttons.tsx';
import { TriangleUnder } from './triangle-under.tsx';
import { FirstLegend, OtherCursor, SecondSideHead, useBesideStore, useSecondSide } from './beside.tsx';
import { SurfaceKey, surfaceLook, useSurfacesShown } from './surfaces-shown.tsx';
import { extentOfUnderlays, underlaysShown } from './underlay.ts';

/** A canvas over the drawing that the pointer goes through. */
const Over = chakra('canvas', {
  base: { position: 'absolute', inset: '0', width: '100%', height: '100%', pointerEvents: 'none' },
});

/** Where the rim is touched, triangles follow only once they are computed. */
const COMPUTED_LATER = 'what this changes is computed when you let go';
const SEEN_LATER = 'what this changes is seen in the preview';

/** The view's buttons reach so far over the drawing, CSS pixels. */
const BUTTONS = 290;

/** A place under the hand, its pixel as on the first side, and the side where the hand is not. */
interface Under {
  x: number;
  y: number;
  px: number;
  py: number;
  other: 0 | 1;
}

/** Surfaces that either side shows, those of the first side first. */
const allShown = (key: string): string[] => {
  const [first, second] = JSON.parse(key) as [string[], string | null];
  return second === null || first.includes(second) ? first : [...first, second];
};

/** The drawing is taken to rest when nothing moved it for so long, ms. */
const STILL = 400;
/** The drawing: plan or 3D, always there, always showing what the ledger shows. */
export function Sheet({
  stage,
  visitors,
  children,
}: {
  stage: Stage;
  visitors: Visitors | null;
  children?: ReactNode;
}) {
  const host = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const labels = useRef<HTMLCanvasElement>(null);
  const selected = useRef<HTMLCanvasElement>(null);
  const marks = useRef<SelectionMarks>(NO_MARKS);
  const scene = useRef<SheetScene | null>(null);
  const [ready, setReady] = useState<'starting' | 'yes' | 'no'>('starting');
  const [cursor, setCursor] = useState<Under | null>(null);
  const [scale, setScale] = useState(0.2);
  // How many times as large the ellipses of what is selected are drawn; 0 without any.
  const [ellipseTimes, setEllipseTimes] = useState(0);
  const [colours, setColours] = useState(0);
  const { state, tables, traced, trace } = useParts('state', 'tables', 'traced', 'trace');
  const { looks, spatial } = useLook();
  const { look: groundLook } = useGroundLook();
  const [plotted, setPlotted] = useState<SheetLabels | null>(null);
  const tracing = useProject((p) => p.tracing);
  const look = useMemo(() => lookWhile(looks[stage], tracing), [looks, stage, tracing]);
  const shownSets = useSets((state?.document.pointSets ?? []).filter((p) => p.ink !== null || p.hidden));
  // What layers look like changes nothing that is computed, yet all that is drawn.
  const layerLook = useMemo(
    () => JSON.stringify(state?.document.drawing.layers ?? {}),
    [state?.document.drawing.layers],
  );
  const settings = state?.document.settings;
  const shown = useSurfacesShown()?.shown ?? [];
  const hasSurfaces = look.contours || look.triangles || look.tints;
  const wanted = useSecondSide(shown);
  const second = hasSurfaces ? wanted : null;
  const { set: setBeside } = useBesideStore();
  const shownKey = JSON.stringify([shown, second?.surface ?? null]);
  const secondKey = JSON.stringify(second);
  const fitted = useRef('');
  // What each layer of the revision was made from.
  const drawnFrom = useRef(new Map<string, string>());
  const others = useRef<HTMLDivElement>(null);
  const stageNow = useRef(stage);
  stageNow.current = stage;

  const placeOthers = (s: SheetScene): void => {
    const list = useProject.getState().others;
    for (const mark of others.current?.querySelectorAll<HTMLElement>('[data-account]') ?? []) {
      const place = list[mark.dataset.account ?? '']?.place;
      const at = place ? s.toScreen({ ...place, z: s.origin.z + s.meanElevation }) : null;
      const seen = at && !at.behind && at.x > 0 && at.y > 0 && at.x < s.sides[0].width && at.y < s.element.clientHeight;
      mark.style.display = seen ? '' : 'none';
      if (at) mark.style.transform = `translate(${at.x - 12}px, ${at.y - 12}px)`;
    }
  };
  const othersNow = useProject((p) => p.others);
  useEffect(() => {
    if (scene.current) placeOthers(scene.current);
  }, [othersNow, ready]);

  // The scene lives as long as the canvas.
  useEffect(() => {
    try {
      scene.current = new SheetScene(canvas.current!);
      setReady('yes');
    } catch {
      setReady('no');
      return;
    }
    for (const over of [labels.current!, selected.current!]) over.getContext('2d', { willReadFrequently: true });
    useSheetView.setState({ view: null });
    const box = new ResizeObserver(() => {
      const { width, height } = host.current!.getBoundingClientRect();
      scene.current?.resize(width, height);
      const ratio = window.devicePixelRatio;
      for (const over of [labels.current!, selected.current!]) {
        over.width = width * ratio;
        over.height = height * ratio;
      }
    });
    box.observe(host.current!);
    const recolour = (): void => setColours((c) => c + 1);
    window.addEventListener('dunrik-colours', recolour);
    const drawn = drawnFrom.current;
    return () => {
      box.disconnect();
      window.removeEventListener('dunrik-colours', recolour);
      scene.current?.dispose();
      drawn.clear();
      scene.current = null;
    };
  }, []);

  useEffect(() => {
    const s = scene.current;
    if (!s) return;
    let still: ReturnType<typeof setTimeout> | undefined;
    s.onDrawn = () => {
      setScale(s.scale);
      clearTimeout(still);
      if (fitted.current) still = setTimeout(() => useSheetView.getState().seen(viewToText(s.viewed)), STILL);
      placeOthers(s);
      if (selected.current) drawSelection(selected.current, s, marks.current);
      if (labels.current && settings) {
        const [first, beside] = JSON.parse(shownKey) as [string[], string | null];
        const drawn = state
          ? [first, beside ? [beside] : []].map((ids) => ids.map((id) => ({ id, ink: surfaceLook(state.document, id).ink }))) // prettier-ignore
          : [];
        const under = tables && state && look.underlay ? underlaysShown(tables, state.document) : [];
        drawLabels(
          labels.current,
          s,
          tables,
          look,
          settings,
          plotted,
          drawn,
          under,
          look.difference ? piecesShown() : null,
        );
      }
    };
    s.draw();
    return () => clearTimeout(still);
    // eslint-disable-next-line react-hooks/exhaustive-deps -- the document comes with its tables
  }, [tables, look, settings, ready, plotted, shownKey]);

  // Labels by the drawing's rules, worked out once for a revision.
  useEffect(() => {
    if (!tables || !state || !look.plotted) return;
    let wanted = true;
    plotWork()
      .labels(plotSource(tables, state.project.id), state.document)
      .then(
        (made) => wanted && setPlotted(made),
        () => undefined,
      );
    return () => {
      wanted = false;
    };
    // eslint-disable-next-line react-hooks/exhaustive-deps -- of the document only what labels depend on
  }, [tables, look.plotted, state?.document.drawing, state?.document.settings.plotScale]);

  // The local origin follows the first data that comes.
  useEffect(() => {
    const s = scene.current;
    if (!s || !tables) return;
    const extent =
      extentOf(tables.points.x, tables.points.y, tables.points.state) ??
      (state && extentOfUnderlays(underlaysShown(tables, state.document)));
    const ground = tables.summary.surfaces.find((g) => g.id === tables.groundId)!;
    const key = state?.project.id ?? '';
    if (extent && fitted.current !== key) {
      Object.assign(s.origin, {
        x: Math.round((extent[0] + extent[2]) / 2),
        y: Math.round((extent[1] + extent[3]) / 2),
        z: Number.isFinite(ground?.lowest) ? Math.floor(ground.lowest) : 0,
      });
      s.meanElevation = Number.isFinite(ground?.lowest) ? (ground.lowest + ground.highest) / 2 - s.origin.z : 0;
      fitted.current = key;
      const wanted = viewFromText(useSheetView.getState().wanted);
      if (wanted) sheetHandle.current?.look(wanted);
      else s.fit(...extent);
    }
    s.recolour();
    // One layer a task, so that the page answers between them however large the survey is.
    let wanted = true;
    void (async () => {
      await s.ready;
      const about = `${colours} ${s.origin.x} ${s.origin.y} ${s.origin.z}`;
      for (const [name, make, order, hangsOn] of layersOf(
        tables,
        state,
        s,
        shownSets,
        look.files,
        allShown(shownKey),
        look.flow,
      )) {
        if (drawnFrom.current.get(name) === `${about} ${hangsOn}`) continue;
        await new Promise((r) => setTimeout(r));
        if (!wanted || scene.current !== s) return;
        const made = await make();
        if (!wanted || scene.current !== s) return;
        s.setLayer(name, made, order);
        drawnFrom.current.set(name, `${about} ${hangsOn}`);
        const now = lookWhile(useLook.getState().looks[stageNow.current], useProject.getState().tracing);
        if (name in now) s.showLayer(name, now[name as keyof SheetLook]);
      }
    })();
    return () => {
      wanted = false;
    };
    // eslint-disable-next-line react-hooks/exhaustive-deps -- layers are rebuilt for a revision or for other colours, not for every document object
  }, [tables, colours, ready, layerLook, shownSets, look.files, look.flow, shownKey]);

  useEffect(() => {
    const s = scene.current;
    if (!s) return;
    for (const name of ['points', 'lines', 'underlay', 'triangles', 'contours', 'tints', 'flow', 'difference'] as const)
      s.showLayer(name, look[name]);
  }, [look, tables, colours, ready]);

  const over = { scene, ready, colours };
  useDifference(over, look.difference);
  const showSelection = useCallback((next: SelectionMarks): void => {
    marks.current = next;
    if (scene.current && selected.current) drawSelection(selected.current, scene.current, next);
  }, []);
  useSelectionMarks(over, showSelection, setEllipseTimes);
  usePictures(over);
  useFinePictures(over);
  usePreviewMarks(over);
  useSketch(over);
  useVisitors(over, visitors);

  const held = useTracedCourse(over, traced ? cursor : null);

  useEffect(() => {
    scene.current?.setGroundLook(groundLook);
  }, [groundLook, ready]);

  useEffect(() => {
    scene.current?.setSides((JSON.parse(shownKey) as [string[]])[0], JSON.parse(secondKey) as typeof second);
  }, [shownKey, secondKey, ready]);

  useEffect(() => {
    scene.current?.setSpatial(spatial);
  }, [spatial, ready]);

  useSheetHandle(scene, ready);
  usePlanGestures(scene, ready === 'yes');

  const { drag, onPointerDownCapture } = useVertexDrag(scene, stage === 'ground' && ready === 'yes');
  const underHand = useEditUnderHand(scene, ready === 'yes');
  const project = state?.project.id ?? '';
  const { courses, put } = useSection();
  const cut = hasSurfaces && courses[project] !== undefined;
  const takeSectionLine = useSectionLine(scene, ready === 'yes', hasSurfaces);
  const section = (): void => {
    if (cut) return put(project, null);
    const finish = (places: readonly { x: number; y: number }[]): void => put(project, places.flatMap((p) => [p.x, p.y])); // prettier-ignore
    trace({ purpose: 'the line of the section', places: [], finish: () => {}, course: { most: null, free: true, finish } }); // prettier-ignore
  };

  const place = (e: PointerEvent): Under => {
    const box = canvas.current!.getBoundingClientRect();
    const [raw, py] = [e.clientX - box.left, e.clientY - box.top];
    const px = scene.current!.onFirst(raw);
    return { ...scene.current!.toPlan(px, py), px, py, other: raw === px ? 1 : 0 };
  };
  const press = useRef<{ px: number; py: number } | null>(null);
  const release = (e: PointerEvent): void => {
    const s = scene.current;
    if (!s || !press.current || e.button !== 0) return;
    const at = place(e);
    const moved = Math.hypot(at.px - press.current.px, at.py - press.current.py) > 4;
    press.current = null;
    if (moved || !tables) return;
    if (traced) {
      addPlace(
        traced,
        traced.course
          ? heldAt(traced.course, traced.places, tables, at, SNAP_PIXELS * s.scale)
          : { x: at.x, y: at.y, by: 'free', row: -1 },
      );
      return;
    }
    useProject.getState().select(pickAt(s, tables, look, at.px, at.py, untouched));
  };

  const [drawn, codeList] = [state?.document.drawing, state?.document.codeList];
  const untouched = useMemo(() => {
    if (!drawn || !codeList) return undefined;
    const { layers } = drawn;
    const byCode = new Map(codeList.codes.map((c) => [c.code.toUpperCase(), c]));
    return (line: { code: string }): boolean => {
      const own = layers[layerOf(byCode.get(line.code))] as (typeof layers)[string] | undefined;
      return own !== undefined && (own.locked === true || own.visible === false);
    };
  }, [drawn, codeList]);

  const ground = cursor && tables ? tables.ground.at(cursor.x, cursor.y) : null;
  const unit = settings?.unit ?? 'm';
  const coordinates =
    cursor && settings ? [`E ${formatLength(cursor.x, unit, 2)}`, `N ${formatLength(cursor.y, unit, 2)}`] : [];
  if (settings?.order === 'NE') coordinates.reverse();

  return (
    <Flex direction="column" height="100%" minHeight="0" position="relative" bg="leaf">
      <Box ref={host} position="relative" flex="1" minHeight="0" overflow="hidden" role="region" aria-label="sheet">
        <Box
          position="absolute"
          inset="0"
          overflow="hidden"
          cursor={traced ? 'crosshair' : 'default'}
          style={{ touchAction: 'none' }}
          onPointerDownCapture={(e) => {
            for (const take of [underHand.onPointerDownCapture, takeSectionLine, onPointerDownCapture])
              if (!e.isPropagationStopped()) take(e);
          }}
          onPointerDown={(e) => {
            const at = place(e);
            press.current = { px: at.px, py: at.py };
          }}
          // While the sheet is dragged the same place stays under the hand: there is nothing to say anew.
          onPointerMove={(e) => ready === 'yes' && !press.current && setCursor(spatial ? null : place(e))}
          onPointerLeave={() => {
            press.current = null;
            setCursor(null);
          }}
          onPointerUp={release}
        >
          <chakra.canvas ref={canvas} display="block" />
        </Box>
        <Over ref={selected} aria-hidden="true" />
        <Over ref={labels} aria-hidden="true" />
        {ready === 'no' ? (
          <Box position="absolute" inset="0" p="40px" color="slate">
            This browser has no WebGL, so the drawing cannot be shown. The tables, the queries and everything that is
            computed work without it.
          </Box>
        ) : null}
        <ViewButtons
          hasSurfaces={hasSurfaces}
          besides={second !== null}
          cuts={cut}
          onBeside={() => setBeside({ on: !second })}
          onSection={section}
        />
        {second ? (
          <SecondSideHead
            second={second}
            shown={allShown(shownKey)}
            tints={look.tints}
            below={scene.current !== null && scene.current.sides[0].width < BUTTONS}
          />
        ) : null}
        {second && cursor && !spatial && scene.current ? (
          <OtherCursor left={scene.current.sides[cursor.other]!.left + cursor.px} y={cursor.py} />
        ) : null}
        {look.triangles && ground && !traced && !drag && scene.current ? (
          <TriangleUnder scene={scene.current} at={ground.triangle} />
        ) : null}
        {look.files ? <FileKey /> : null}
        {hasSurfaces ? <SurfaceKey below={look.files} /> : null}
        {look.tints ? <FirstLegend shown={allShown(shownKey)} split={second !== null} /> : null}
        <DragReading
          by={drag ? shiftOf(drag) : underHand.by}
          change={drag ? drag.change : underHand.change}
          otherwise={drag ? COMPUTED_LATER : underHand.isAsked ? SEEN_LATER : 'drag the mark, or type the figures'}
        />
        {spatial ? null : <NorthMark />}
        <OthersHere ref={others} />
        {children}
      </Box>
      {cut ? <SectionPanel shown={allShown(shownKey)} /> : null}
      <SheetBar
        stage={stage}
        spatial={spatial}
        scale={scale}
        unit={unit}
        reading={
          coordinates.join('   ') +
          (ground
            ? `   elev ${formatLength(ground.elevation, unit, 2)}   slope ${formatFixed(ground.slope * 100, 1)} %${ground.slope > LEVEL_SLOPE ? ` to ${compass(ground.fallsTo)}` : ''}`
            : '')
        }
        held={held}
        ellipseTimes={ellipseTimes}
      />
    </Flex>
  );
}
