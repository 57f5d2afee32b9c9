import { Box, Flex } from '@chakra-ui/react';
import { useEffect, useState } from 'react';
import type { KeptCodeList, KeptCodeListCard, TeamCard } from '#contract';
import { compareLists, type Code, type CodeList } from '#core/codes';
import { api, problemText } from '../../frame/api.ts';
import { Act, Aside, Field, Leaf, Num, Pick } from '../../frame/controls.tsx';
import { SmallTable } from '../../frame/small-table.tsx';

const FIELD: Partial<Record<keyof Code, string>> = {
  pointLayer: 'layer of points',
  ground: 'height used',
  label: 'labels',
  offsets: 'offset lines',
  lower: 'the code below',
  rotation: 'turn',
  scale: 'size',
};

/** Code lists that a team keeps for its clients: kept, compared with the project's, and taken from, code by code. */
export function KeptLists({
  list,
  take,
  onClose,
}: {
  list: CodeList;
  take: (list: CodeList) => void;
  onClose: () => void;
}) {
  const [cards, setCards] = useState<KeptCodeListCard[] | null>(null);
  const [teams, setTeams] = useState<TeamCard[]>([]);
  const [other, setOther] = useState<KeptCodeList | null>(null);
  const [left, setLeft] = useState<Set<string>>(new Set());
  const [keep, setKeep] = useState({ name: list.from?.name ?? '', client: '', team: '' });
  const [said, setSaid] = useState<string | null>(null);
  const load = (): void => {
    api.codeLists().then(setCards, (e: unknown) => setSaid(problemText(e)));
  };
  useEffect(() => {
    load();
    api.teams().then(setTeams, () => undefined);
  }, []);
  const open = (id: string): void => {
    setLeft(new Set());
    api.codeList(id).then(setOther, (e: unknown) => setSaid(problemText(e)));
  };
  const save = async (id: string | null, base: number): Promise<void> => {
    try {
      const { from: _, ...plain } = list;
      const card = cards?.find((c) => c.id === id);
      const name = card?.name ?? keep.name.trim();
      const made = await api.keepCodeList({
        id,
        base,
        name,
        client: card?.client ?? keep.client,
        team: keep.team || null,
        list: plain,
      });
      setSaid(`Kept “${name}” as revision ${made.revision}.`);
      take({ ...list, from: { id: made.id, name, revision: made.revision } });
      setOther(null);
      load();
    } catch (error) {
      setSaid(problemText(error));
    }
  };
  const difference = other ? compareLists(list, other.list) : null;
  const taken = (): CodeList => {
    const d = difference!;
    const wanted = (c: Code): boolean => !left.has(c.code);
    const gone = new Set(d.gone.filter(wanted).map((c) => c.code));
    const to = new Map(d.changed.filter((c) => wanted(c.to)).map((c) => [c.to.code, c.to]));
    return {
      codes: [
        ...list.codes.filter((c) => !gone.has(c.code)).map((c) => to.get(c.code) ?? c),
        ...d.added.filter(wanted),
      ],
      words: left.has('words') ? list.words : other!.list.words,
      from: { id: other!.id, name: other!.name, revision: other!.revision },
    };
  };
  const toggle = (code: string): void =>
    setLeft(new Set(left.has(code) ? [...left].filter((c) => c !== code) : [...left, code]));
  const rows = difference
    ? [
        ...difference.added.map((c) => ({ code: c.code, name: c.name, what: 'is new' })),
        ...difference.changed.map((c) => ({
          code: c.to.code,
          name: c.to.name,
          what: `other ${c.fields.map((f) => FIELD[f as keyof Code] ?? f).join(', ')}`,
        })),
        ...difference.gone.map((c) => ({ code: c.code, name: c.name, what: 'goes' })),
        ...(difference.words.length
          ? [{ code: 'words', name: 'line words', what: `other ${difference.words.join(', ')}` }]
          : []),
      ]
    : [];
  return (
    <Flex direction="column" gap="10px" height="100%" minHeight="0" overflow="auto">
      <Flex gap="8px" align="center">
        <Act onClick={onClose}>Back to the list</Act>
        <Aside>
          {list.from
            ? `This project’s list comes from “${list.from.name}”, revision ${list.from.revision}.`
            : 'This project’s list comes from no saved list.'}
        </Aside>
      </Flex>
      {said ? <Box role="status">{said}</Box> : null}
      {other && difference ? (
        <Leaf
          head={`“${other.name}”, revision ${other.revision}, against this project’s list`}
          aria-label="comparison of lists"
        >
          {rows.length === 0 ? (
            <Box p="8px 12px" color="slate">
              The two are the same.
            </Box>
          ) : (
            <SmallTable
              label="codes that differ"
              rows={rows}
              rowKey={(r) => r.code}
              columns={[
                { id: 'code', head: 'Code', mono: true, by: (r) => r.code, cell: (r) => r.code },
                { id: 'name', head: 'What it is', words: true, by: (r) => r.name, cell: (r) => r.name },
                { id: 'would', head: 'Would', words: true, by: (r) => r.what, cell: (r) => r.what },
                {
                  id: 'take',
                  head: 'Take',
                  words: true,
                  cell: (r) => (
                    <input
                      type="checkbox"
                      aria-label={`use ${r.code}`}
                      checked={!left.has(r.code)}
                      onChange={() => toggle(r.code)}
                    />
                  ),
                },
              ]}
            />
          )}
          <Flex gap="8px" p="8px 12px">
            <Act
              look="solid"
              onClick={() => {
                take(taken());
                onClose();
              }}
            >
              {rows.length ? 'Use what is ticked' : 'Name it as the source'}
            </Act>
            <Act onClick={() => void save(other.id, other.revision)}>
              Save this project’s as its revision {other.revision + 1}
            </Act>
            <Act look="quiet" onClick={() => setOther(null)}>
              Close
            </Act>
          </Flex>
        </Leaf>
      ) : null}
      <Leaf head="Saved lists">
        {cards === null ? (
          <Box p="8px 12px">…</Box>
        ) : cards.length === 0 ? (
          <Box p="8px 12px" color="slate">
            None is saved yet. Save this project’s list below, and other projects can begin with it.
          </Box>
        ) : (
          <SmallTable
            label="saved lists"
            rows={cards}
            rowKey={(c) => c.id}
            columns={[
              { id: 'list', head: 'List', by: (c) => c.name, cell: (c) => c.name },
              { id: 'client', head: 'Client', words: true, by: (c) => c.client, cell: (c) => c.client },
              { id: 'team', head: 'Team', words: true, by: (c) => c.team ?? '', cell: (c) => c.team ?? 'only you' },
              { id: 'codes', head: 'Codes', by: (c) => c.codes, cell: (c) => <Num>{c.codes}</Num> },
              {
                id: 'revision',
                head: 'Revision',
                by: (c) => c.revision,
                cell: (c) => (
                  <span title={`${c.savedBy}, ${c.savedAt.slice(0, 10)}`}>
                    <Num>{c.revision}</Num>
                    {list.from?.id === c.id && list.from.revision < c.revision ? <Aside> newer</Aside> : null}
                  </span>
                ),
              },
              { id: 'compare', head: '', cell: (c) => <Act onClick={() => open(c.id)}>Compare</Act> },
            ]}
          />
        )}
      </Leaf>
      <Leaf head="Save this project’s list under a name">
        <Flex gap="8px" p="4px 12px 10px" wrap="wrap" align="center">
          <Field
            aria-label="name of the list"
            placeholder="name"
            value={keep.name}
            onChange={(e) => setKeep({ ...keep, name: e.target.value })}
          />
          <Field
            aria-label="client"
            placeholder="client, if for one"
            value={keep.client}
            onChange={(e) => setKeep({ ...keep, client: e.target.value })}
          />
          <Pick aria-label="team" value={keep.team} onChange={(e) => setKeep({ ...keep, team: e.target.value })}>
            <option value="">only for you</option>
            {teams.map((t) => (
              <option key={t.id} value={t.id}>
                for {t.name}
              </option>
            ))}
          </Pick>
          <Act look="solid" disabled={!keep.name.trim()} onClick={() => void save(null, 0)}>
            Save
          </Act>
        </Flex>
      </Leaf>
    </Flex>
  );
}
