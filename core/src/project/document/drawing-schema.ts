import { z } from 'zod';
import { INKS, LABEL_PARTS } from '#core/codes';

const coordinate = z.number().min(-1e8).max(1e8);
const layerName = z.string().min(1).max(31);

/** How a layer is drawn where that is not as its codes say. */
export const layerSchema = z.object({
  visible: z.boolean().optional(),
  locked: z.boolean().optional(),
  ink: z.enum(INKS).optional(),
  /** Width of lines on paper, mm. */
  width: z.number().min(0.05).max(5).optional(),
});

/** Where a label stands beside its point, until it is moved by hand. */
export const LABEL_CORNERS = ['up-right', 'down-right', 'up-left', 'down-left'] as const;

export const labelSchema = z.object({
  on: z.boolean(),
  layer: layerName,
  corner: z.enum(LABEL_CORNERS),
  /** Height of letters on paper, mm. */
  size: z.number().min(0.5).max(20),
});

/** Sheets of ISO 216, of ANSI/ASME Y14.1, and the architectural sizes. */
export const PAPERS = [
  ...(['A4', 'A3', 'A2', 'A1', 'A0'] as const),
  ...(['ANSI A', 'ANSI B', 'ANSI C', 'ANSI D', 'ANSI E'] as const),
  ...(['ARCH A', 'ARCH B', 'ARCH C', 'ARCH D', 'ARCH E'] as const),
] as const;

/** A drawing laid out on paper at true scale. */
export const plotSchema = z.object({
  id: z.string().min(1).max(40),
  title: z.string().trim().min(1).max(80),
  paper: z.enum(PAPERS),
  upright: z.boolean(),
  /** 1 : scale. */
  scale: z.number().min(1).max(1_000_000),
  /** Middle of the drawing, m. */
  x: coordinate,
  y: coordinate,
  /** Radians by which north is turned clockwise on the paper. */
  turn: z.number().min(-3.15).max(3.15),
  /** Spacing of the coordinate grid, m; null for one that suits the scale, 0 for none. */
  grid: z.number().min(0).max(1e5).nullable(),
  contours: z.boolean(),
  /** The surface whose contours are drawn, by id; the ground unless said. */
  surface: z.string().min(1).max(40).optional(),
  legend: z.boolean(),
  /** A look of surfaces that the project keeps: its tints are printed; none unless said. */
  look: z.string().min(1).max(40).optional(),
  client: z.string().trim().max(80),
  drawnBy: z.string().trim().max(60),
  checkedBy: z.string().trim().max(60),
  number: z.string().trim().max(40),
  note: z.string().trim().max(400),
  /** The series that a sheet belongs to, and whether it is the one that shows where the others are. */
  series: z.string().min(1).max(36).optional(),
  overview: z.boolean().optional(),
});
export type Plot = z.infer<typeof plotSchema>;

/** What the tints of a surface tell apart. */
export const TINTED_BY = ['elevation', 'slope', 'aspect'] as const;

/** How surfaces are seen, under a name: angles in degrees, for they are typed and drawn only. */
export const groundLookSchema = z.object({
  id: z.string().min(1).max(40),
  name: z.string().trim().min(1).max(60),
  tintedBy: z.enum(TINTED_BY),
  /** Shaded by the sun in plan too; 3D always is. */
  shaded: z.boolean(),
  /** Where the light comes from: bearing clockwise from north, and height above the horizon, °. */
  sun: z.object({ bearing: z.number().min(0).max(360), height: z.number().min(0).max(90) }),
  /** How many times as high as it is a surface is drawn in 3D. */
  stretch: z.number().min(0.1).max(100),
});
export type NamedLook = z.infer<typeof groundLookSchema>;

export const drawingSchema = z.object({
  /** Looks of surfaces that somebody named. */
  looks: z.array(groundLookSchema).max(50),
  layers: z.record(layerName, layerSchema),
  labels: z.record(z.enum(LABEL_PARTS), labelSchema),
  /** Labels moved by hand: mm on paper to the right and up from their point, by point key and part. */
  moved: z.record(z.string().max(120), z.tuple([z.number().min(-500).max(500), z.number().min(-500).max(500)])),
  /** Symbols on paper, mm. */
  symbolSize: z.number().min(0.3).max(30),
  lineWidth: z.number().min(0.05).max(5),
  plots: z.array(plotSchema).max(200),
});
export type DrawingSettings = z.infer<typeof drawingSchema>;
export type LabelPart = (typeof LABEL_PARTS)[number];

export const START_DRAWING: DrawingSettings = {
  looks: [],
  layers: {},
  labels: {
    number: { on: false, layer: 'TEXT-NUMBER', corner: 'up-right', size: 1.8 },
    elevation: { on: true, layer: 'TEXT-ELEVATION', corner: 'down-right', size: 1.8 },
    code: { on: false, layer: 'TEXT-CODE', corner: 'up-left', size: 1.8 },
  },
  moved: {},
  symbolSize: 2.4,
  lineWidth: 0.25,
  plots: [],
};
