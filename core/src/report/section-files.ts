import { writeDxf, writeLandXml } from '#core/exchange';
import { fromMetres, UNIT_SIGN, type LengthUnit } from '#core/measure';
import type { CrossSection } from '#core/quantities';

/** Decimals that a file of sections is written with: a tenth of a millimetre, or of a thousandth of a foot. */
const DECIMALS = 4;

/** What a file of sections says besides them. */
export interface SectionsOf {
  /** The line that they stand across, x, y …, m. */
  name: string;
  course: readonly number[];
  unit: LengthUnit;
  /** ISO date and time. */
  made: string;
}

/** Sections as a table: a row for every place where the ground bends, and for what lies near, with where it is on the ground. */
export function sectionsCsv(sections: readonly CrossSection[], { unit }: Pick<SectionsOf, 'unit'>): string {
  const n = (m: number): string => fromMetres(m, unit).toFixed(DECIMALS);
  const sign = UNIT_SIGN[unit];
  const rows = sections.flatMap((s) => [
    ...s.surfaces.flatMap(
      ({ name, runs }) =>
      runs.flatMap(({ offset, z }) => offset.map((o, i) => [n(s.chainage), quoted(name), n(o), n(z[i]), n(s.x + o * s.ex), n(s.y + o * s.ey)].join(','))), // prettier-ignore
    ),
    ...(s.near ?? []).map((o) => [n(s.chainage), quoted(`${o.kind} ${o.name}`), n(o.offset), o.z === null ? '' : n(o.z), n(o.x), n(o.y)].join(',')), // prettier-ignore
  ]);
  const head = ['Chainage', 'Surface', 'Offset', 'Elevation', 'East', 'North'].map((h) => (h === 'Surface' ? h : `${h} [${sign}]`)); // prettier-ignore
  return [head.join(','), ...rows, ''].join('\r\n');
}

const quoted = (text: string): string => (/[",\r\n]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text);

/** Sections across an alignment as LandXML has them. */
export const sectionsLandXml = (sections: readonly CrossSection[], { name, course, unit, made }: SectionsOf): string =>
  writeLandXml(
    {
      project: name,
      made,
      points: [],
      breaklines: [],
      surfaces: [],
      alignments: [
        {
          name,
          course,
          sections: sections.flatMap(
            (s) =>
            s.surfaces.flatMap((of) => of.runs.map(({ offset, z }) => ({ chainage: s.chainage, surface: of.name, list: offset.flatMap((o, i) => [o, z[i]]) }))), // prettier-ignore
          ),
        },
      ],
    },
    unit,
    DECIMALS,
  );

/** Sections as lines in space where they were cut, a layer for each surface, and the line that they stand across. */
export function sectionsDxf(sections: readonly CrossSection[], { course, unit }: SectionsOf): string | Uint8Array {
  const lines = sections.flatMap((s) =>
    s.surfaces.flatMap(
      ({ name, runs }) =>
      runs.map(({ offset, z }) => ({ layer: `SECTION ${name}`, closed: false, plan: [], spatial: offset.flatMap((o, i) => [s.x + o * s.ex, s.y + o * s.ey, z[i]]) })), // prettier-ignore
    ),
  );
  const level = sections[0]?.surfaces[0]?.runs[0]?.z[0] ?? 0;
  const axis = { layer: 'SECTION LINE', closed: false, plan: [], spatial: course.flatMap((x, i) => (i % 2 ? [] : [x, course[i + 1], level])) }; // prettier-ignore
  return writeDxf({ points: [], lines: [axis, ...lines], contours: [], surface: null, colours: {} }, { version: '2000', unit, decimals: DECIMALS, textHeight: 0 }); // prettier-ignore
}
