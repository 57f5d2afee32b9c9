import { systemLine } from '#core/basis';
import { UNIT_NAME } from '#core/measure';
import { editOf, STANDING_NAME, type ProjectDocument } from '#core/project';
import { STATE, type PointTable } from '#core/stages';
import { formsOf } from './forms.ts';
import { column, row, type Report, type ReportRow } from './table.ts';

/**
 * The project's control: every point with its standing, accuracy, source and date, and what its numbers mean. Of several of one
 * number the one that counts is the last, in the order of the files; every other says why it does not.
 */
export function controlReport(doc: ProjectDocument, points: PointTable, project: { name: string }): Report {
  const forms = formsOf(doc);
  const rows = controlRows(doc, points);
  const counts = new Map<string, number>();
  for (const i of rows) if (points.state[i] === STATE.used) counts.set(points.number[i], i);
  return {
    title: `Control of ${project.name}`,
    about: aboutOf(doc),
    wide: false,
    tables: [
      {
        kind: 'control',
        title: 'Control points',
        about: [],
        marked: false,
        columns: [
          column('Point', 'sign', 12),
          ...forms.planColumns(16),
          forms.lengthColumn('Elevation', 11),
          column('Standing', 'words', 11),
          forms.lengthColumn('± plan', 8),
          forms.lengthColumn('± height', 9),
          column('Given by, date', 'words', 17),
          column('File, row', 'words', 16),
          column('Counts', 'words', 15),
        ],
        rows: rows.map((i): ReportRow => {
          const intake = doc.intakes[points.intake[i]];
          const { given } = intake;
          const standing = editOf(doc, intake.id, points.fileRow[i])?.standing ?? given?.standing ?? 'fixed';
          const counted = countedText(doc, points, i, counts);
          return row(
            [
              points.number[i],
              ...forms.plan(points.x[i], points.y[i]),
              forms.elevation(points.z[i]),
              STANDING_NAME[standing],
              given?.plan ? forms.precision(given.plan) : '',
              given?.height ? forms.precision(given.height) : '',
              [given?.by, given?.date].filter(Boolean).join(', '),
              `${intake.fileName}, ${points.fileRow[i]}`,
              counted,
            ],
            counted !== 'yes',
          );
        }),
      },
    ],
  };
}

function controlRows(doc: ProjectDocument, points: PointTable): number[] {
  const rows: number[] = [];
  for (let i = 0; i < points.x.length; i++) if (doc.intakes[points.intake[i]].purpose === 'control') rows.push(i);
  return rows;
}

function countedText(doc: ProjectDocument, points: PointTable, i: number, counts: ReadonlyMap<string, number>): string {
  const intake = doc.intakes[points.intake[i]];
  if (!intake.on) return 'no: its file is switched off';
  if (points.state[i] === STATE.waits) return 'no: it waits for an answer';
  if (points.state[i] !== STATE.used) return 'no: excluded';
  const last = counts.get(points.number[i])!;
  if (last === i || points.number[i] === '') return 'yes';
  const later = doc.intakes[points.intake[last]];
  return `no: ${later.fileName}, row ${points.fileRow[last]}, gives the number again, later`;
}

function aboutOf({ settings: s, basis }: ProjectDocument): string[] {
  return [
    `${systemLine(basis.system)}; ${UNIT_NAME[s.unit]}; ${s.order === 'EN' ? 'east before north' : 'north before east'}`,
    `project scale factor ${basis.factor.toFixed(8)}${basis.factorSource ? ` (${basis.factorSource})` : ''}: length on the grid over length on the ground`,
    `elevations ${basis.heights}${basis.geoid ? `, geoid ${basis.geoid.name}` : ', no geoid'}${basis.epoch ? `, epoch ${basis.epoch}` : ''}`,
  ];
}
