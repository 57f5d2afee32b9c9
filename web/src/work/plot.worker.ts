import Flatbush from 'flatbush';
import regular from '@fontsource/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-400-normal.woff2?url';
import bold from '@fontsource/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-700-normal.woff2?url';
import mono from '@fontsource/ibm-plex-mono/files/ibm-plex-mono-latin-400-normal.woff2?url';
import { expose, transfer } from 'comlink';
import { codeReader, type Plot, type PointSet, type ProjectDocument } from '#core/project';
import { pairsOf, pipeRuns } from '#core/queries';
import {
  membersOf,
  setPointsOf,
  STATE,
  unpackContours,
  unpackLineColumns,
  unpackPoints,
  unpackSurface,
  type PointTable,
} from '#core/stages';
import type { Pair, Run } from '#core/linework';
import {
  EM,
  isControlIntake,
  layerOfPoint,
  layersOf,
  layOutPlot,
  projectLabels,
  type Layer,
  type Mark,
  type PlotContent,
  type PlotFacts,
} from '#core/drawing';
import type { Ink } from '#core/codes';
import { pointsOut, type OutSettings } from './points-out.ts';

// Plots and labels, worked out beside the page from settled results.

export interface PlotSource {
  project: string;
  points: string;
  lines: string;
  contours: string;
  /** Of a plot that a look tints, its surface. */
  surface?: string | undefined;
}

/** Labels of a whole project at its plot scale: where each line of letters begins, and its height, in metres. */
export interface SheetLabels {
  x: Float64Array;
  y: Float64Array;
  size: Float32Array;
  text: string[];
  ink: Ink[];
  leftAway: number;
  /** An index of where they begin; null without any. */
  index: ArrayBuffer | null;
}

const blocks = new Map<string, Promise<Uint8Array>>();
const contents = new Map<string, Promise<PlotContent & { table: PointTable }>>();

function block(project: string, hash: string): Promise<Uint8Array> {
  let found = blocks.get(hash);
  if (!found) {
    found = fetch(`/api/projects/${project}/results/${hash}`).then(async (r) => {
      if (!r.ok) throw new Error('A result could not be fetched.');
      return new Uint8Array(await r.arrayBuffer());
    });
    blocks.set(hash, found);
    if (blocks.size > 9) blocks.delete(blocks.keys().next().value!);
  }
  return found;
}

function contentOf({ project, points, lines, contours }: PlotSource): Promise<PlotContent & { table: PointTable }> {
  const key = `${points} ${lines} ${contours}`;
  let found = contents.get(key);
  if (!found) {
    found = Promise.all([points, lines, contours].map((h) => block(project, h))).then(([p, l, c]) => {
      const table = unpackPoints(p);
      return {
        table,
        points: setPointsOf(table),
        lines: unpackLineColumns(l).lines,
        contours: unpackContours(c),
      };
    });
    contents.set(key, found);
    if (contents.size > 2) contents.delete(contents.keys().next().value!);
  }
  return found;
}

// The preview is written with the letters of the print.
const FACES = { text: 'Plot, sans-serif', bold: 'Plot, sans-serif', mono: 'Plot Mono, monospace' } as const;
const fonts = Promise.all(
  [
    new FontFace('Plot', `url(${regular})`),
    new FontFace('Plot', `url(${bold})`, { weight: '700' }),
    new FontFace('Plot Mono', `url(${mono})`),
  ].map(async (face) => (self as unknown as { fonts: FontFaceSet }).fonts.add(await face.load())),
).catch(() => undefined);

const work = {
  /** A plot as it will be printed, `pixels` wide, with what was left away. */
  async preview(source: PlotSource, document: ProjectDocument, plot: Plot, facts: PlotFacts, pixels: number) {
    const [content] = await Promise.all([contentOf(source), fonts]);
    const surface = source.surface ? unpackSurface(await block(source.project, source.surface)) : null;
    const page = layOutPlot(document, plot, surface ? { ...content, surface } : content, facts);
    const perMm = pixels / page.width;
    const canvas = new OffscreenCanvas(pixels, Math.round(page.height * perMm));
    const context = canvas.getContext('2d')!;
    context.fillStyle = css([1, 1, 1]);
    context.fillRect(0, 0, canvas.width, canvas.height);
    context.setTransform(perMm, 0, 0, -perMm, 0, canvas.height);
    for (const mark of page.marks) paint(context, mark);
    const bitmap = canvas.transferToImageBitmap();
    return transfer({ bitmap, labelsLeftAway: page.labelsLeftAway, empty: page.empty }, [bitmap]);
  },

  /** All layers with what is on them. */
  async layers(source: PlotSource, document: ProjectDocument): Promise<Layer[]> {
    const { table, lines, contours } = await contentOf(source);
    const itemsOf = codeReader(document);
    const layers: string[] = [];
    for (let row = 0; row < table.x.length; row++) {
      if (table.state[row] !== STATE.used) continue;
      const intake = table.intake[row];
      const items = itemsOf(table.description[row], intake);
      layers.push(layerOfPoint(items, isControlIntake(document, intake)));
    }
    return layersOf(document, lines, layers, contours.length);
  },

  /** 1 for every row that belongs to a set. */
  async members(source: PlotSource, document: ProjectDocument, set: PointSet): Promise<Uint8Array> {
    const { points } = await contentOf(source);
    const rows = membersOf(set, document, points);
    return transfer(rows, [rows.buffer as ArrayBuffer]);
  },

  /** Points as a file for somebody else, or its first rows. */
  async pointsOut(
    source: PlotSource,
    document: ProjectDocument,
    set: PointSet | null,
    settings: OutSettings,
    most?: number,
  ) {
    const { points } = await contentOf(source);
    const members = set ? membersOf(set, document, points) : null;
    return pointsOut(document, points, members, settings, most);
  },

  /** Two levels in one place, and pipes from chamber to chamber. */
  async levels(source: PlotSource, document: ProjectDocument): Promise<{ pairs: Pair[]; runs: Run[] }> {
    const { table, lines } = await contentOf(source);
    const pairs = pairsOf(document, table);
    return { pairs, runs: pipeRuns(document, table, lines, pairs) };
  },

  async labels(source: PlotSource, document: ProjectDocument): Promise<SheetLabels> {
    const content = await contentOf(source);
    const { labels: placed, leftAway } = projectLabels(document, content.points);
    const out: SheetLabels = {
      x: Float64Array.from(placed, (l) => l.x),
      y: Float64Array.from(placed, (l) => l.y),
      size: Float32Array.from(placed, (l) => l.height),
      text: placed.map((l) => l.text),
      ink: placed.map((l) => l.ink),
      leftAway,
      index: null,
    };
    if (placed.length) {
      const tree = new Flatbush(placed.length);
      for (let i = 0; i < placed.length; i++) tree.add(out.x[i], out.y[i], out.x[i], out.y[i]);
      tree.finish();
      out.index = tree.data as ArrayBuffer;
    }
    return transfer(out, [
      out.x.buffer,
      out.y.buffer,
      out.size.buffer,
      ...(out.index ? [out.index] : []),
    ] as ArrayBuffer[]);
  },
};

const css = ([r, g, b]: readonly [number, number, number]): string =>
  `rgb(${Math.round(r * 255)} ${Math.round(g * 255)} ${Math.round(b * 255)})`;

function paint(context: OffscreenCanvasRenderingContext2D, mark: Mark): void {
  context.save();
  if (mark.kind !== 'text' && mark.inside) {
    const { left, bottom, width, height } = mark.inside;
    context.beginPath();
    context.rect(left, bottom, width, height);
    context.clip();
  }
  if (mark.kind === 'text') {
    context.translate(mark.x, mark.y);
    context.rotate(mark.turn ?? 0);
    context.scale(0.1, -0.1);
    // Letters are set ten times as large and drawn smaller: engines round small sizes.
    context.font = `${mark.face === 'bold' ? 'bold ' : ''}${mark.size * EM[mark.face] * 10}px ${FACES[mark.face]}`;
    context.fillStyle = css(mark.colour);
    context.textAlign = mark.align === 'middle' ? 'center' : mark.align;
    context.fillText(mark.text, 0, 0);
  } else if (mark.kind === 'area') {
    context.beginPath();
    for (const ring of mark.rings) {
      context.moveTo(ring[0], ring[1]);
      for (let i = 2; i < ring.length; i += 2) context.lineTo(ring[i], ring[i + 1]);
      context.closePath();
    }
    context.fillStyle = css(mark.colour);
    context.fill('evenodd');
  } else {
    context.beginPath();
    if (mark.kind === 'circle') context.arc(mark.x, mark.y, mark.radius, 0, 2 * Math.PI);
    else {
      context.moveTo(mark.places[0], mark.places[1]);
      for (let i = 2; i < mark.places.length; i += 2) context.lineTo(mark.places[i], mark.places[i + 1]);
      if (mark.closed) context.closePath();
      if (mark.dash) context.setLineDash([...mark.dash]);
    }
    const filled = mark.kind === 'circle' ? (mark.filled ? mark.colour : null) : (mark.fill ?? null);
    if (filled) {
      context.fillStyle = css(filled);
      context.fill();
    }
    context.lineWidth = mark.width;
    context.lineJoin = 'round';
    context.strokeStyle = css(mark.colour);
    context.stroke();
  }
  context.restore();
}

export type PlotWork = typeof work;
expose(work);
