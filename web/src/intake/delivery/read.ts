import { isPublished, systemLine } from '#core/basis';
import type { BookLayout } from '#core/book';
import type { TextLayout } from '#core/exchange';
import { STATE } from '#core/stages';
import type { SavedLayout } from '#contract';
import { api } from '../../frame/api.ts';
import { useProject } from '../../project-state/store.ts';
import type { Matched } from '../../work/chain.worker.ts';
import type { BookFacts, OpenContext, Opened, Tried } from '../../work/intake.worker.ts';
import { nameOf } from '../../work/open-zip.ts';
import { kindOfFile } from '../../work/picture/opened.ts';
import { chainWork, startIntakeWork, startPictureWork } from '../../work/workers.ts';
import { keptFor } from '../layout.tsx';
import { keptChoices, savedChoices } from '../project-facts.ts';
import type { FileBasis } from '../standing.tsx';
import { claimedBasis } from '../stands.ts';
import { earlierOf, laterVersion, type Checked, type ProjectFacts } from './check.ts';
import { pictureOfWorldFile, placeOfDelivered, worldFileFor, type DeliveredPicture } from './delivered-picture.ts';
import type { Gathered } from './gather.ts';
import { keptWhy, treatmentOf, type Treatment } from './sort.ts';

/** The file of the project that another is a later export of, with what is new and what is gone. */
export interface Later extends Pick<Matched, 'found' | 'fresh' | 'gone' | 'goneRecords'> {
  intake: string;
}

/** A file of a delivery as it was read: how its rows are read, and what comes of that. */
export interface Read extends Checked {
  file: File | null;
  /** Why nothing is read of it. */
  why: string | null;
  layout: TextLayout | null;
  /** The same by its layers, where it is a drawing. */
  ticked: Opened | null;
  bookLayout: BookLayout | null;
  basis: FileBasis;
  book: BookFacts | null;
  /** A picture that says where it lies. */
  picture: DeliveredPicture | null;
  /** The file of the project that this is a later export of, with what is new. */
  later: Later | null;
}

/** So many files of a project are compared with each that is delivered; with more, those of a like name. */
const MOST_COMPARED = 6;
/** A later export holds at least this much of the earlier one. */
const SHARE_OF_EARLIER = 0.5;

type Place = { x: number; y: number };

/** What the project is, for the checks; control of the delivery itself comes to it as it is read. */
export function projectFacts(): ProjectFacts & { control: Place[] } {
  const { state, tables } = useProject.getState();
  const { settings, basis, intakes } = state!.document;
  const { points } = tables!;
  const control: Place[] = [];
  for (let row = 0; row < points.x.length; row++)
    if (intakes[points.intake[row]].purpose === 'control' && points.state[row] === STATE.used)
      control.push({ x: points.x[row], y: points.y[row] });
  return {
    unit: settings.unit,
    system: systemLine(basis.system),
    code: isPublished(basis.system) ? (basis.system.code ?? null) : null,
    control,
    known: new Map(intakes.map((i) => [i.sha256, i.fileName])),
  };
}

/** Reads a delivery: control first, so that the others are held against it. Tells how far it is; gives up when nobody waits. */
export async function readDelivery(
  gathered: readonly Gathered[],
  facts: ReturnType<typeof projectFacts>,
  tell: (done: number) => void,
  wanted: () => boolean,
): Promise<Read[]> {
  const { work, end } = startIntakeWork();
  const saved = await api.layouts().catch((): SavedLayout[] => []);
  const reader = new DeliveryReader(work, saved, facts);
  try {
    const reads: Read[] = [];
    for (const [i, g] of gathered.entries()) {
      if (!wanted()) return [];
      tell(i);
      reads.push(await reader.read(g, [], gathered));
    }
    // Control that came with the delivery tells the order of the rest, where the project had none.
    if (facts.control.length === 0) {
      for (const r of reads) if (r.treatment.as === 'control' && r.tried) addPlaces(facts.control, r.tried);
      if (facts.control.length)
        for (const [i, g] of gathered.entries()) {
          if (!wanted()) return [];
          tell(i);
          const { treatment, tried } = reads[i];
          if (tried && treatment.as !== 'control') reads[i] = await reader.read(g, facts.control, gathered);
        }
    }
    for (const r of reads) if (wanted()) r.later = await laterExport(r);
    for (const r of reads) r.treatment = settledTreatment(r, reads, facts);
    return reads;
  } finally {
    end();
    reader.end();
  }
}

/** What the others and the project say of how a file is to be treated: nothing comes in twice. */
function settledTreatment(r: Read, all: readonly Read[], facts: ProjectFacts): Treatment {
  if (!r.opened) return r.treatment;
  if (facts.known.has(r.opened.sha256)) return { as: 'nothing' };
  if (all.some((o) => o.opened?.sha256 === r.opened!.sha256 && o.path < r.path)) return { as: 'nothing' };
  if (laterVersion(r, all)) return { as: 'original' };
  if (r.later) return r.later.fresh > 0 ? { as: 'replace', intake: r.later.intake, remaining: [] } : { as: 'nothing' };
  return r.treatment;
}

const addPlaces = (to: Place[], { x, y }: Tried): void => x.forEach((v, i) => void to.push({ x: v, y: y[i] }));

class DeliveryReader {
  /** Unpacks pictures; begun with the first of them. */
  private pictures: ReturnType<typeof startPictureWork> | null = null;

  constructor(
    private readonly work: ReturnType<typeof startIntakeWork>['work'],
    private readonly saved: readonly SavedLayout[],
    private readonly facts: ReturnType<typeof projectFacts>,
  ) {}

  async read({ path, file, why }: Gathered, control: Place[], all: readonly Gathered[]): Promise<Read> {
    const none: Read = { path, file, why, opened: null, tried: null, treatment: { as: file ? 'original' : 'nothing' }, rows: new Uint32Array(), layout: null, ticked: null, bookLayout: null, basis: { system: null, heights: null }, book: null, picture: null, later: null }; // prettier-ignore
    if (!file) return none;
    const places = pictureOfWorldFile({ path, file, why }, all);
    if (places) return { ...none, why: `says where ${nameOf(places.path)} lies`, treatment: { as: 'nothing' } };
    const { state } = useProject.getState();
    const { settings, basis, codeList } = state!.document;
    const context = {
      fileName: file.name,
      unit: settings.unit,
      near: control.length ? control : this.facts.control,
      order: settings.order,
      codes: codeList.codes.map((c) => c.code.toUpperCase()),
    };
    const plain = await this.work.open(new Uint8Array(await file.arrayBuffer()), context);
    const ticked = plain.drawing ? await this.byLayers(context) : null;
    const answer = plain.ok ? plain : (ticked ?? plain);
    if (!answer.ok) {
      const picture = await this.picture(file, worldFileFor(path, all)?.file ?? null);
      if (picture && !('why' in picture)) return { ...none, why: picture.said, picture, treatment: { as: 'picture' } };
      return { ...none, why: picture?.why ?? keptWhy(file.name, answer.reason) };
    }
    const rows = await this.work.rowHashes();
    const again = this.saved.filter((l) => l.signature === answer.signature);
    const stands = await claimedBasis(answer, basis.system);
    const treatment = treatmentOf(file.name, answer, ticked);
    const read: Read = { ...none, opened: answer, ticked, rows, treatment, basis: stands, book: answer.book ?? null };
    if (answer.kind === 'book') return read;
    const own = again.find((l) => 'split' in l.layout);
    const bookLayout = own && 'split' in own.layout ? own.layout : treatment.as === 'book' ? answer.readings!.layout : null; // prettier-ignore
    const byLayers = ticked !== null && (treatment.as === 'layers' || treatment.as === 'underlay');
    const layout = byLayers ? answer.guess.layout : layoutOf(answer, again);
    if (bookLayout) {
      const facts = await this.work.tryBook(bookLayout);
      return { ...read, treatment: { as: 'book' }, bookLayout, layout, book: 'problem' in facts ? null : facts };
    }
    const carried = stands.system && isPublished(basis.system) && stands.system.definition !== basis.system.definition;
    const carry = carried && isPublished(basis.system) ? { from: stands.system!, to: basis.system } : null;
    // What is tried is what was opened last.
    if (ticked && !byLayers) await this.work.open('open', context);
    const tried = await this.work.try(byLayers ? ticked.guess.layout : layout, {
      numbers: [],
      mostRows: null,
      carry,
      control: null,
      shift: null,
    });
    return { ...read, layout, tried };
  }

  /** The drawing that is open by its layers, as an earlier issue was ticked or as is usual; null where nothing can be. */
  private async byLayers(context: OpenContext): Promise<Opened | null> {
    const { codeList, intakes } = useProject.getState().state!.document;
    const kept = [...keptChoices(intakes), ...savedChoices(this.saved)];
    const ticked = await this.work.open('open', { ...context, drawing: { codes: codeList.codes, kept } });
    return ticked.ok && ticked.part.taken ? ticked : null;
  }

  /** A picture and where it lies; null of what is none. */
  private async picture(file: File, world: File | null): Promise<DeliveredPicture | { why: string } | null> {
    const kind = await kindOfFile(file);
    if (kind === null || kind === 'PDF') return null;
    this.pictures ??= startPictureWork();
    const opened = await this.pictures.work.open(file);
    if ('problem' in opened) return { why: `${kind === 'JPEG' ? 'a photograph' : 'a picture'}; ${opened.problem}` };
    return placeOfDelivered(file.name, opened, world, useProject.getState().state!.document);
  }

  end(): void {
    this.pictures?.end();
  }
}

function layoutOf(answer: Opened, saved: readonly SavedLayout[]): TextLayout {
  const known = saved.find((l) => 'roles' in l.layout && l.layout.roles.length === answer.guess.layout.roles.length);
  return known && 'roles' in known.layout ? keptFor(known.layout, answer) : answer.guess.layout;
}

const stem = (name: string): string =>
  name
    .toLowerCase()
    .replace(/\.[^.]*$/, '')
    .replace(/[\d\W_]+/g, '');

/** The file of the project that holds the same records, as they are matched when it is replaced. */
async function laterExport(r: Read): Promise<Later | null> {
  const { file, opened } = r;
  const { state, tables, id } = useProject.getState();
  if (!file || !opened) return null;
  const all = earlierOf(r.treatment, opened.sha256, state!.document.intakes);
  const like = all.length > MOST_COMPARED ? all.filter((i) => stem(i.fileName) === stem(file.name)) : all;
  let best: Later | null = null;
  for (const intake of like) {
    const bytes = new Uint8Array(await file.arrayBuffer());
    const to = { fileId: intake.fileId, fileName: file.name, sha256: opened.sha256 };
    const matched = await chainWork()
      .matchFile(state!.revision, intake.id, bytes, to, { project: id, hashes: tables!.stages.reads })
      .catch(() => null);
    if (!matched) continue;
    const { found, fresh, gone, goneRecords } = matched;
    if (found < SHARE_OF_EARLIER * (found + gone) || found <= (best?.found ?? 0)) continue;
    best = { intake: intake.id, found, fresh, gone, goneRecords };
  }
  return best;
}
