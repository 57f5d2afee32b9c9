import { hashOnce } from '#core/kernel';
import type { Intake, ProjectDocument } from '#core/project';
import { ReductionMemory } from '#core/reduction';
import { editsKey } from '../keys.ts';
import { ONE, readsOf, type Stage } from '../stage.ts';
import { isBook, reduceBooks, type ReducedBooks } from './books.ts';
import { packReduction } from './reduction-pack.ts';

/** What a file says of itself and a person of it: whatever points depend on. */
export const fileKey = (i: Intake): unknown[] => [
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
];

/** Books, and the control that they are reduced from. */
const filesOf = ({ intakes }: ProjectDocument): Intake[] => intakes.filter((i) => isBook(i) || i.purpose === 'control');

/** Books with their edits, reduced from control; null where there are none. */
export const reductionStage: Stage<ReducedBooks | null> = {
  name: 'reduction',
  doing: () => 'reducing the books',
  version: 18,
  subjects: () => ONE,
  inputs: (doc) => readsOf(filesOf(doc)),
  settings: (doc) => {
    const { settings: s, decisions, register, basis } = doc;
    const files = new Set(filesOf(doc).map((i) => i.id));
    return [
      filesOf(doc).map((i) => [i.fileName, ...fileKey(i)]),
      editsKey(doc, (file) => files.has(file)),
      hashOnce(decisions),
      hashOnce(register),
      basis,
      [s.checkPlan, s.checkHeight, s.angleSpread, s.refraction, s.backsightRule],
      [s.gnssPlan, s.gnssHeight, s.gnssPdop, s.gnssSatellites, s.gnssTilt, s.gnssMean],
      [s.levelClosure, s.traverseRatio, s.resectionScale, s.networkDatum, s.traverse],
      [s.centring, s.distanceParts, s.orientationWeights, s.typedOrGnss, s.levelDeviation, s.earth, s.seaLevel, s.flatDistances], // prettier-ignore
      s.network,
    ];
  },
  run: ({ doc, readOf, memory }) => {
    const setups = memory.own('reduction', () => new ReductionMemory());
    const before = setups.sightings;
    const books = reduceBooks(doc, readOf, setups, memory.keep);
    memory.count('sightings reduced', setups.sightings - before);
    return books;
  },
  identity: (books) => books ?? NO_BOOKS,
  pack: (books) => packReduction(books ?? { reduction: null }),
};
const NO_BOOKS = {};
