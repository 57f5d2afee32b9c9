import { deflateSync } from 'node:zlib';
import { PDFName, type PDFDocument, type PDFFont, type PDFHexString, type PDFPage } from 'pdf-lib';
import { cos, sin } from '#core/kernel';
import { EM, type Frame, type Mark } from '#core/drawing';
import { runsOf } from './faces.ts';

// The marks of a sheet as the operators of its content (ISO 32000-1, 8 and 9), written in one go: a sheet has a hundred
// thousand of them, and an object for each would take ten times as long. What stays the same from mark to mark is said once.

const POINTS_PER_MM = 72 / 25.4;
/** Four curves make a circle to a quarter of a thousandth of its radius. */
const ROUND = 0.5522847498;

/** A length on the sheet: a thousandth of a point is less than anybody prints. */
const n = (v: number): string => {
  const text = v.toFixed(3);
  return text.endsWith('.000') ? text.slice(0, -4) : text;
};
const mm = (v: number): string => n(v * POINTS_PER_MM);

/** Puts marks on a sheet; `fonts` by the file that each is of. */
export function putMarks(
  pdf: PDFDocument,
  page: PDFPage,
  marks: readonly Mark[],
  fonts: ReadonlyMap<string, PDFFont>,
): void {
  // prettier-ignore
  const out: string[] = ['1 j'];
  const names = new Map<string, string>();
  let said = new Map<string, string>();
  const say = (what: string, operator: string): void => {
    if (said.get(what) === operator) return;
    said.set(what, operator);
    out.push(operator);
  };
  const fontName = (id: string): string => {
    let name = names.get(id);
    if (!name) {
      names.set(id, (name = `F${names.size + 1}`));
      page.node.setFontDictionary(PDFName.of(name), fonts.get(id)!.ref);
    }
    return name;
  };
  let inside: Frame | undefined;
  /** Clipping holds until the state before it is taken back, so that marks in one frame share it. */
  const clipTo = (frame: Frame | undefined): void => {
    if (frame === inside) return;
    if (inside) out.push('Q');
    if (frame) out.push('q', `${mm(frame.left)} ${mm(frame.bottom)} ${mm(frame.width)} ${mm(frame.height)} re W n`);
    inside = frame;
    said = new Map();
  };
  for (const mark of marks) {
    clipTo(mark.kind === 'text' ? undefined : mark.inside);
    const colour = mark.colour.map(n).join(' ');
    if (mark.kind === 'text') {
      say('fill', `${colour} rg`);
      textOf(mark, fonts, fontName, out);
      continue;
    }
    if (mark.kind === 'area') {
      say('fill', `${colour} rg`);
      out.push(...mark.rings.map((places) => courseOf({ places, closed: true })), 'f*');
      continue;
    }
    say('stroke', `${colour} RG`);
    say('width', `${mm(mark.width)} w`);
    if (mark.kind === 'circle') {
      if (mark.filled) say('fill', `${colour} rg`);
      say('dash', '[] 0 d');
      out.push(circleOf(mark), mark.filled ? 'f' : 'S');
      continue;
    }
    if (mark.fill) say('fill', `${mark.fill.map(n).join(' ')} rg`);
    say('dash', mark.dash ? `[${mark.dash.map(mm).join(' ')}] 0 d` : '[] 0 d');
    say('cap', mark.dash ? '0 J' : '1 J');
    out.push(courseOf(mark), mark.fill ? 'B' : 'S');
  }
  if (inside) out.push('Q');
  const stream = pdf.context.stream(deflateSync(out.join('\n')), { Filter: 'FlateDecode' });
  page.node.addContentStream(pdf.context.register(stream));
}

function textOf(
  mark: Extract<Mark, { kind: 'text' }>,
  fonts: ReadonlyMap<string, PDFFont>,
  fontName: (id: string) => string,
  out: string[],
): void {
  const size = mark.size * POINTS_PER_MM * EM[mark.face];
  const runs = runsOf(mark.text, mark.face).map(({ file, text }) => {
    return { id: file.id, font: fonts.get(file.id)!, text };
  });
  const widths = runs.length > 1 || mark.align !== 'left' ? runs.map((r) => r.font.widthOfTextAtSize(r.text, size)) : [0]; // prettier-ignore
  const width = widths.reduce((sum, w) => sum + w, 0);
  const turn = mark.turn ?? 0;
  const [s, c] = turn === 0 ? [0, 1] : [sin(turn), cos(turn)];
  let along = mark.align === 'left' ? 0 : mark.align === 'right' ? -width : -width / 2;
  out.push('BT');
  runs.forEach((run, i) => {
    const [x, y] = [mark.x * POINTS_PER_MM + along * c, mark.y * POINTS_PER_MM + along * s];
    const encoded: PDFHexString = run.font.encodeText(run.text);
    const matrix = turn === 0 ? '1 0 0 1' : [c, s, -s, c].map((v) => v.toFixed(6)).join(' ');
    out.push(`/${fontName(run.id)} ${n(size)} Tf ${matrix} ${n(x)} ${n(y)} Tm ${encoded.toString()} Tj`);
    along += widths[i];
  });
  out.push('ET');
}

function courseOf({ places, closed }: { places: readonly number[]; closed: boolean }): string {
  let path = `${mm(places[0])} ${mm(places[1])} m`;
  for (let i = 2; i < places.length; i += 2) path += ` ${mm(places[i])} ${mm(places[i + 1])} l`;
  return closed ? `${path} h` : path;
}

function circleOf({ x, y, radius: r }: Extract<Mark, { kind: 'circle' }>): string {
  const k = r * ROUND;
  const curve = (...v: number[]): string => `${v.map(mm).join(' ')} c`;
  return [
    `${mm(x + r)} ${mm(y)} m`,
    curve(x + r, y + k, x + k, y + r, x, y + r),
    curve(x - k, y + r, x - r, y + k, x - r, y),
    curve(x - r, y - k, x - k, y - r, x, y - r),
    curve(x + k, y - r, x + r, y - k, x + r, y),
    'h',
  ].join(' ');
}
