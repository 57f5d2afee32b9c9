import { Box } from '@chakra-ui/react';
import { PLAIN_INSTRUMENT, type Instrument, type Target } from '#core/book';
import type { InstrumentList } from '#core/project';
import { Act, Aside, Leaf } from '../../frame/controls.tsx';
import { smallAngle } from '../../frame/small-angle.ts';
import { numberWithin, Typed } from '../../frame/sentence.tsx';
import { SmallTable, type SmallColumn } from '../../frame/small-table.tsx';
import { useCanChange } from '../../project-state/can.ts';
import { useParts } from '../../project-state/store.ts';
import type { BookColumns } from '../../work/book-columns.ts';

const CELL = { height: '34px', whiteSpace: 'nowrap' } as const;

/** Where a value comes from: the list, a book, or nobody. */
type From = 'list' | 'book' | 'assumed';
const FROM: Record<From, string> = {
  list: 'the instrument list',
  book: 'the book',
  assumed: 'assumed: not stated',
};

interface Entry<T> {
  value: T;
  from: From;
  books: string[];
}

/** Instruments and targets that the books refer to: what they promise, and what is added to their distances. */
export function InstrumentsLeaf() {
  const { state, tables, propose } = useParts('state', 'tables', 'propose');
  const canChange = useCanChange();
  const doc = state!.document;
  const s = doc.settings;
  const { instruments, targets } = entriesOf(doc.register, tables!.books, new Map(doc.intakes.map((i) => [i.id, i.fileName]))); // prettier-ignore
  const set = (label: string, list: InstrumentList): void =>
    void propose(label, { op: 'register.set', register: list });
  const put = <K extends keyof InstrumentList>(kind: K, value: InstrumentList[K][number], label: string): void => {
    const others = (doc.register[kind] as { name: string }[]).filter((e) => e.name !== value.name);
    set(label, { ...doc.register, [kind]: [...others, value] });
  };
  const drop = (kind: keyof InstrumentList, name: string): void =>
    set(`${name} as its book says`, {
      ...doc.register,
      [kind]: (doc.register[kind] as { name: string }[]).filter((e) => e.name !== name),
    });
  const angle = smallAngle(s);
  const number = (name: string, value: number, per: number, min: number, max: number, onSet: (v: number) => void) => (
    <Typed
      name={name}
      shown={String(Number((value * per).toFixed(3)))}
      read={numberWithin(min, max)}
      onSet={(v) => onSet(v / per)}
      width="62px"
      disabled={!canChange}
    />
  );
  const source = (kind: keyof InstrumentList, e: Entry<{ name: string }>) => (
    <>
      <Aside color={e.from === 'assumed' ? 'brass' : undefined} title={`named in ${e.books.join(', ')}`}>
        {FROM[e.from]}
      </Aside>
      {e.from === 'list' && canChange ? (
        <Act look="quiet" onClick={() => drop(kind, e.value.name)}>
          Remove
        </Act>
      ) : null}
    </>
  );
  const labelOf = (i: Instrument): string => i.name || 'the instrument without a name';
  const figure = (
    id: 'direction' | 'zenith' | 'distance' | 'ppm' | 'constant',
    head: string,
    per: number,
    min: number,
    max: number,
  ): SmallColumn<Entry<Instrument>> => ({
    id,
    head,
    by: (e) => e.value[id],
    cell: ({ value: i }) =>
      number(`${id} of ${labelOf(i)}`, i[id], per, min, max, (v) =>
        put('instruments', { ...i, [id]: v }, `${labelOf(i)} in the instrument list`),
      ),
  });
  const ofInstruments: SmallColumn<Entry<Instrument>>[] = [
    {
      id: 'instrument',
      head: 'Instrument',
      by: (e) => e.value.name,
      style: { fontFamily: 'mono' },
      cell: (e) => e.value.name || '(unnamed)',
    },
    {
      ...figure('direction', `Direction ${angle.sign}`, angle.per, 0.01, 2000),
      spans: (e) => (e.value.name === '' ? 5 : 1),
      cell: (e) =>
        e.value.name === '' ? (
          <Aside>
            {Number((e.value.direction * angle.per).toFixed(2))} {angle.sign}, {e.value.distance * 1000} mm +{' '}
            {e.value.ppm} ppm
          </Aside>
        ) : (
          figure('direction', '', angle.per, 0.01, 2000).cell(e)
        ),
    },
    figure('zenith', `Zenith ${angle.sign}`, angle.per, 0.01, 2000),
    figure('distance', 'Distance mm', 1000, 0.01, 1000),
    figure('ppm', 'ppm', 1, 0, 1000),
    figure('constant', 'Constant mm', 1000, -1000, 1000),
    { id: 'says', head: 'Says', by: (e) => FROM[e.from], cell: (e) => source('instruments', e) },
  ];
  const ofTargets: SmallColumn<Entry<Target>>[] = [
    {
      id: 'target',
      head: 'Target',
      by: (e) => e.value.name,
      style: { fontFamily: 'mono' },
      cell: (e) => e.value.name,
    },
    {
      id: 'constant',
      head: 'Constant mm',
      by: (e) => e.value.constant,
      cell: (e) =>
        number(`constant of ${e.value.name}`, e.value.constant, 1000, -1000, 1000, (constant) =>
          put('targets', { ...e.value, constant }, `${e.value.name} in the instrument list`),
        ),
    },
    { id: 'says', head: 'Says', by: (e) => FROM[e.from], cell: (e) => source('targets', e) },
  ];
  return (
    <Box overflow="auto" flex="1" minHeight="0">
      <Leaf head="Instruments: standard deviation, one face" mb="8px" overflowX="auto">
        <SmallTable
          label="instruments"
          columns={ofInstruments}
          rows={instruments}
          rowKey={(e) => e.value.name}
          cellStyle={CELL}
        />
      </Leaf>
      <Leaf head="Targets: added to every distance to them" mb="8px" overflowX="auto">
        <SmallTable label="targets" columns={ofTargets} rows={targets} rowKey={(e) => e.value.name} cellStyle={CELL} />
      </Leaf>
      <Box px="12px" color="slate">
        The instrument list overrides what a book says of an instrument or target of that name. A change is previewed
        first.
      </Box>
    </Box>
  );
}

/** Every name that a book declares or uses, and every one of the instrument list. */
function entriesOf(
  list: InstrumentList,
  books: ReadonlyMap<string, BookColumns>,
  fileNames: ReadonlyMap<string, string>,
): { instruments: Entry<Instrument>[]; targets: Entry<Target>[] } {
  const instruments = new Map<string, Entry<Instrument>>();
  const targets = new Map<string, Entry<Target>>();
  const add = <T,>(list: Map<string, Entry<T>>, name: string, value: T, from: From, book: string): void => {
    const had = list.get(name);
    if (!had) list.set(name, { value, from, books: book ? [book] : [] });
    else if (book && !had.books.includes(book)) had.books.push(book);
  };
  for (const i of list.instruments) add(instruments, i.name, i, 'list', '');
  for (const t of list.targets) add(targets, t.name, t, 'list', '');
  for (const [intake, book] of books) {
    const name = fileNames.get(intake) ?? intake;
    for (const i of book.head.instruments) add(instruments, i.name, i, 'book', name);
    for (const t of book.head.targets) add(targets, t.name, t, 'book', name);
    const only = book.head.instruments.length === 1;
    for (let at = 0; at < book.count; at++) {
      const kind = book.kind(at);
      if (kind !== 'setup' && kind !== 'sighting') continue;
      const [instrument, target] = [book.instrument.get(at), book.target.get(at)];
      if (kind === 'setup' && !(instrument === '' && only))
        add(instruments, instrument, { ...PLAIN_INSTRUMENT, name: instrument }, 'assumed', name);
      if (target) add(targets, target, { name: target, constant: 0 }, 'assumed', name);
    }
  }
  return { instruments: [...instruments.values()], targets: [...targets.values()] };
}
