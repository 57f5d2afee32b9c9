import { hashOnce, hashValue } from '#core/kernel';
import type { Basis, Intake, ProjectDocument } from '#core/project';
import { planKey, readingPlan } from '#core/sources';

// What stages hang on of the document, as parts of their keys.

/** Edits file by file, in the order of their names: a file of which nothing was edited anew is not read again. */
export const editsKey = ({ edits }: Pick<ProjectDocument, 'edits'>): [string, string][] =>
  Object.keys(edits)
    .sort()
    .map((file) => [file, hashOnce(edits[file])]);

/** What codes mean, and in whose words. */
export const codesKey = (doc: ProjectDocument): string =>
  hashValue(['codes', hashOnce(doc.codeList), doc.intakes.map((i) => i.words ?? null)]);

export const readKey = (basis: Basis, intake: Intake): string =>
  hashValue(['read', READ_VERSION, intake.sha256, planKey(readingPlan(basis, intake))]);
/** Raised where the same file is read into something else. */
export const READ_VERSION = 16;

/** What points hang on besides what was read. */
export function pointSettings(doc: ProjectDocument): unknown {
  const s = doc.settings;
  return [
    doc.intakes.map((i) => [
      i.id,
      i.purpose,
      i.form ?? null,
      i.on,
      i.prefix ?? null,
      i.light ?? false,
      i.numbers,
      i.placement?.matrix ?? null,
      i.system ?? null,
      i.heights ?? null,
      i.claims ?? null,
      i.given ?? null,
      i.layout,
    ]),
    editsKey(doc),
    hashOnce(doc.decisions),
    hashOnce(doc.register),
    hashOnce(doc.accepted),
    doc.basis,
    [s.checkPlan, s.checkHeight, s.angleSpread, s.refraction, s.backsightRule],
    [s.gnssPlan, s.gnssHeight, s.gnssPdop, s.gnssSatellites, s.gnssTilt, s.gnssMean],
    [s.levelClosure, s.traverseRatio, s.resectionScale, s.networkDatum, s.traverse],
    [s.centring, s.distanceParts, s.orientationWeights, s.typedOrGnss, s.levelDeviation, s.earth, s.seaLevel, s.flatDistances], // prettier-ignore
    s.network,
  ];
}

/** What a surface hangs on besides points and lines. */
export const surfaceSettings = (doc: ProjectDocument, id: string): unknown => {
  const { coincidence, longestSide, sagitta } = doc.settings;
  const files = doc.intakes.map((i) => [i.id, i.purpose, i.on, i.words ?? null]);
  return [coincidence, longestSide, sagitta, codesKey(doc), files, hashOnce(doc.surfaces.find((s) => s.id === id)!)];
};
