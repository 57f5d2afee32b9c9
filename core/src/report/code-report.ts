import {
  INK_ON_PAPER,
  MEANING_NAME,
  MEANINGS,
  PLAIN_FORM,
  STYLE_DASHES,
  strokePath,
  strokesOf,
  type Code,
  type CodeList,
} from '#core/codes';
import { column, row, type Report, type ReportTable } from './table.ts';

/** The project's codes by group, each with how it is drawn, and the line words: what a crew takes along. */
export function codeReport(list: CodeList, project: { name: string }): Report {
  const { codes, from } = list;
  return {
    title: `Codes of ${project.name}`,
    about: [`${from ? `${from.name}, revision ${from.revision}; ` : ''}${codes.length} codes`],
    wide: false,
    tables: [...grouped(codes).map(([group, own]) => groupTable(group, own)), wordsTable(list)],
  };
}

const groupTable = (group: string, codes: readonly Code[]): ReportTable => ({
  kind: 'codes',
  title: group,
  about: [],
  marked: false,
  columns: [column('Code', 'sign', 14), column('Drawn', 'words', 9), column('Name', 'words', 24), column('Kind', 'words', 15), column('Layer', 'words', 16), column('Attributes', 'words', 26)], // prettier-ignore
  rows: codes.map((c) =>
    row([
      c.code,
      { text: '', drawing: drawnSvg(c) },
      c.name,
      c.kind === 'line' ? (c.breakline ? 'breakline' : 'line') : c.ground ? 'point' : 'point, height not used', // prettier-ignore
      c.layer,
      (c.attributes ?? []).map((a) => `${a.name} = ${a.choices?.length ? a.choices.join(' | ') : '…'}`).join('; '),
    ]),
  ),
});

function wordsTable(list: CodeList): ReportTable {
  const form = list.words.form ?? PLAIN_FORM;
  const joint = form.joint === null ? 'apart from it' : form.joint === '' ? 'joined to it' : `joined by ${form.joint}`;
  return {
    kind: 'words',
    title: 'Line words',
    about: [`${form.place === 'after' ? 'behind' : 'before'} the code, ${joint}: ${example(list)}`],
    marked: false,
    columns: [column('Word', 'sign', 20), column('Meaning', 'words', 80)],
    rows: MEANINGS.filter((m) => list.words[m]).map((m) => row([list.words[m]!, MEANING_NAME[m]])),
  };
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
  return [...groups].map(([g, list]) => [g || 'Without a group', list]);
}

/** A code as it is drawn, as SVG of 34 × 12 points. */
function drawnSvg(c: Code): string {
  const colour = `rgb(${INK_ON_PAPER[c.ink].map((v) => Math.round(v * 255)).join(',')})`;
  const head = '<svg xmlns="http://www.w3.org/2000/svg" width="34" height="12" viewBox="0 0 34 12">';
  if (c.kind === 'line') {
    const dash = STYLE_DASHES[c.style].map((mm) => mm * 2).join(' ');
    return `${head}<path d="M0 6H34" fill="none" stroke="${colour}" stroke-width="1.2"${dash ? ` stroke-dasharray="${dash}"` : ''}/></svg>`; // prettier-ignore
  }
  const strokes = strokesOf(c).map((s) => `<path d="${strokePath(s)}" stroke="${colour}" stroke-width="0.16" fill="${s.filled ? colour : 'none'}"/>`); // prettier-ignore
  return `${head}<g transform="translate(17 6) scale(5)">${strokes.join('')}</g></svg>`;
}
