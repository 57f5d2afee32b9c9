import { PDFDocument, rgb, StandardFonts, type PDFFont, type PDFPage } from 'pdf-lib';
import type { Router } from 'express';
import {
  INK_ON_PAPER,
  MEANING_NAME,
  MEANINGS,
  PLAIN_FORM,
  STYLE_DASHES,
  strokesOf,
  strokePath,
  type Code,
  type CodeList,
} from '#core/codes';
import { fitted, printable } from './printed-text.ts';
import { allow, membershipOf } from '../accounts/membership.ts';
import type { ProjectServices } from '../projects/services.ts';
import { newestDocument } from '../projects/documents.ts';
import { paperName } from '../projects/settled-project.ts';

/** The project’s codes and line words on paper, for the crew. */
export function codeSheetRoutes(router: Router, { pool }: ProjectServices): void {
  router.get('/code-sheet', allow('see'), async (request, response) => {
    const { project } = membershipOf(request);
    const found = await pool.query<{ name: string }>('select name from project where id = $1', [project]);
    const { revision, document } = await newestDocument(pool, project);
    const [{ name }] = found.rows;
    const bytes = await codeSheet(name, revision, document.codeList);
    const file = paperName({ name, revision }, 'codes');
    response.attachment(file).type('application/pdf').send(Buffer.from(bytes));
  });
}

const A4: [number, number] = [595.28, 841.89];
const MARGIN = 40;
const ROW = 14;
const COLUMN = (A4[0] - 2 * MARGIN - 14) / 2;
const INK = rgb(...INK_ON_PAPER.ink);
const SLATE = rgb(...INK_ON_PAPER.slate);

/** Two columns a sheet: codes by group with how they are drawn, then the words. */
export async function codeSheet(name: string, revision: number, list: CodeList): Promise<Uint8Array> {
  const pdf = await PDFDocument.create();
  pdf.setTitle(`Codes of ${name}`);
  pdf.setCreator('Dunrik');
  const [text, bold, mono] = await Promise.all(
    [StandardFonts.Helvetica, StandardFonts.HelveticaBold, StandardFonts.CourierBold].map((f) => pdf.embedFont(f)),
  );
  let page: PDFPage | null = null;
  let column = 1;
  let y = 0;
  const top = A4[1] - MARGIN - 30;
  const room = (rows: number): void => {
    if (page && y - rows * ROW > MARGIN) return;
    y = top;
    if (page && column === 0) {
      column = 1;
      return;
    }
    column = 0;
    page = pdf.addPage(A4);
    page.drawText(fitted(bold, 14, printable(`Codes of ${name}`), 420), { x: MARGIN, y: A4[1] - MARGIN - 10, size: 14, font: bold, color: INK }); // prettier-ignore
    const about = `revision ${revision}${list.from ? ` · ${list.from.name}, revision ${list.from.revision}` : ''} · ${list.codes.length} codes`;
    page.drawText(fitted(text, 8, printable(about), 420), { x: MARGIN, y: A4[1] - MARGIN - 22, size: 8, font: text, color: SLATE }); // prettier-ignore
  };
  const put = (font: PDFFont, size: number, x: number, words: string, width: number, color = INK): void =>
    page!.drawText(fitted(font, size, printable(words), width), { x: left() + x, y, size, font, color });
  const left = (): number => MARGIN + column * (COLUMN + 14);
  for (const [group, codes] of grouped(list.codes)) {
    room(3);
    put(bold, 9, 0, group, COLUMN, SLATE);
    page!.drawLine({ start: { x: left(), y: y - 3 }, end: { x: left() + COLUMN, y: y - 3 }, thickness: 0.6, color: INK }); // prettier-ignore
    y -= ROW + 2;
    for (const c of codes) {
      room(c.attributes?.length ? 2 : 1);
      put(mono, 9.5, 0, c.code, 50);
      drawn(page!, c, left() + 62, y + 3);
      put(text, 9, 92, c.name || '-', COLUMN - 130);
      put(text, 7, COLUMN - 34, c.kind === 'line' ? (c.breakline ? 'breakline' : 'line') : c.ground ? 'point' : 'no height', 34, SLATE); // prettier-ignore
      y -= ROW;
      if (!c.attributes?.length) continue;
      const said = c.attributes.map((a) => `${a.name}=${a.choices?.length ? a.choices.join('|') : '…'}`).join('  ');
      put(text, 7.5, 92, said, COLUMN - 92, SLATE);
      y -= ROW - 3;
    }
    y -= 4;
  }
  room(4);
  put(bold, 9, 0, 'line words', COLUMN, SLATE);
  y -= ROW;
  const form = list.words.form ?? PLAIN_FORM;
  put(text, 8, 0, `${form.place === 'after' ? 'behind' : 'before'} the code, ${form.joint === null ? 'apart from it' : form.joint === '' ? 'joined to it' : `joined by ${form.joint}`}; ${example(list)}`, COLUMN, SLATE); // prettier-ignore
  y -= ROW;
  for (const m of MEANINGS) {
    if (!list.words[m]) continue;
    room(1);
    put(mono, 9.5, 0, list.words[m], 80);
    put(text, 9, 92, MEANING_NAME[m], COLUMN - 92);
    y -= ROW;
  }
  pdf
    .getPages()
    .forEach((p, i, all) =>
      p.drawText(`sheet ${i + 1} of ${all.length}`, { x: MARGIN, y: MARGIN - 16, size: 8, font: text, color: SLATE }),
    );
  return pdf.save();
}

function example(list: CodeList): string {
  const form = list.words.form ?? PLAIN_FORM;
  const code = list.codes.find((c) => c.kind === 'line')?.code ?? 'CODE';
  const numbered = form.number === 'none' ? code : form.number === 'apart' ? `${code} 1` : `${code}1`;
  const word = list.words.begin ?? 'BEG';
  if (form.joint !== null)
    return form.place === 'after' ? `${code}1${form.joint}${word}` : `${word}${form.joint}${code}1`;
  return form.place === 'after' ? `${numbered} ${word}` : `${word} ${numbered}`;
}

function grouped(codes: readonly Code[]): [string, Code[]][] {
  const groups = new Map<string, Code[]>();
  for (const c of codes) {
    const list = groups.get(c.group ?? '');
    if (list) list.push(c);
    else groups.set(c.group ?? '', [c]);
  }
  return [...groups].map(([g, list]) => [g || 'without a group', list]);
}

function drawn(page: PDFPage, c: Code, x: number, y: number): void {
  const color = rgb(...INK_ON_PAPER[c.ink]);
  if (c.kind === 'line') {
    const dash = STYLE_DASHES[c.style].map((mm) => mm * 2);
    page.drawLine({ start: { x: x - 12, y }, end: { x: x + 22, y }, thickness: 1.2, color, ...(dash.length ? { dashArray: dash } : {}) }); // prettier-ignore
    return;
  }
  for (const stroke of strokesOf(c))
    page.drawSvgPath(strokePath(stroke), { x: x + 5, y, scale: 5, borderColor: color, borderWidth: 0.16, ...(stroke.filled ? { color } : {}) }); // prettier-ignore
}
