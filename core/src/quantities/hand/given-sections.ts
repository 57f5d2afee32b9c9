/** A section that somebody gives: where it stands along the line, m, and its areas, m². */
export interface GivenSection {
  chainage: number;
  cut: number;
  fill: number;
  /** Its row in the table, counted from 1. */
  row: number;
}

export interface CutAndFill {
  cut: number;
  fill: number;
}

/** The volume between two sections that follow each other, m³. */
export interface BetweenSections extends CutAndFill {
  from: number;
  to: number;
}

export interface SectionVolumes {
  between: BetweenSections[];
  averageEndArea: CutAndFill;
  /** Null where sections do not come in threes. */
  prismoidal: CutAndFill | null;
  /** Why there is no prismoidal volume; what was done with the order of the rows. */
  said: string[];
}

/** m; a section half way between two others is no farther from their middle. */
const HALF_WAY = 0.01;

/**
 * Volumes from given sections: average end area, V = L (A1 + A2) / 2, and, where sections come in threes whose middle one
 * is half way, the prismoidal formula, V = L (A1 + 4 Am + A2) / 6 (common practice). Sections are put in order of
 * chainage; one that is given twice with the same areas counts once, with others it is a reason to compute nothing.
 */
export function volumeOfSections(
  given: readonly GivenSection[],
): { ok: true; volumes: SectionVolumes } | { ok: false; reason: string } {
  const said: string[] = [];
  const sorted = [...given].sort((a, b) => a.chainage - b.chainage || a.row - b.row);
  if (sorted.some((s, i) => s !== given[i])) said.push('The sections were not in order of chainage; they are computed in that order.'); // prettier-ignore
  const sections: GivenSection[] = [];
  let doubled = 0;
  for (const s of sorted) {
    const last = sections.at(-1);
    if (last?.chainage !== s.chainage) sections.push(s);
    else if (last.cut === s.cut && last.fill === s.fill) doubled++;
    else return { ok: false, reason: `Rows ${last.row} and ${s.row} give one chainage with different areas. Delete one of them, or correct its chainage.` }; // prettier-ignore
  }
  if (doubled) said.push(`${doubled === 1 ? '1 row is' : `${doubled} rows are`} given twice and counted once.`);
  if (sections.length < 2) return { ok: false, reason: 'A volume needs two sections at least, at different chainages.' }; // prettier-ignore
  const between = sections.slice(1).map((b, i): BetweenSections => {
    const a = sections[i];
    const length = b.chainage - a.chainage;
    return { from: a.chainage, to: b.chainage, cut: (length * (a.cut + b.cut)) / 2, fill: (length * (a.fill + b.fill)) / 2 }; // prettier-ignore
  });
  const why = notInThrees(sections);
  if (why) said.push(`No prismoidal volume: ${why}`);
  return { ok: true, volumes: { between, averageEndArea: sumOf(between), prismoidal: why ? null : prismoidal(sections), said } }; // prettier-ignore
}

const sumOf = (parts: readonly CutAndFill[]): CutAndFill =>
  parts.reduce((sum, { cut, fill }) => ({ cut: sum.cut + cut, fill: sum.fill + fill }), { cut: 0, fill: 0 });

/** Why sections are no threes of two ends and their middle; null where they are. */
function notInThrees(sections: readonly GivenSection[]): string | null {
  if (sections.length % 2 === 0) return `it takes an odd number of sections, these are ${sections.length}.`;
  for (let i = 2; i < sections.length; i += 2) {
    const [a, m, b] = [sections[i - 2], sections[i - 1], sections[i]];
    if (Math.abs(m.chainage - (a.chainage + b.chainage) / 2) > HALF_WAY)
      return `the section of row ${m.row} is not half way between those of rows ${a.row} and ${b.row}.`;
  }
  return null;
}

function prismoidal(sections: readonly GivenSection[]): CutAndFill {
  const parts: CutAndFill[] = [];
  for (let i = 2; i < sections.length; i += 2) {
    const [a, m, b] = [sections[i - 2], sections[i - 1], sections[i]];
    const sixth = (b.chainage - a.chainage) / 6;
    parts.push({ cut: sixth * (a.cut + 4 * m.cut + b.cut), fill: sixth * (a.fill + 4 * m.fill + b.fill) });
  }
  return sumOf(parts);
}
