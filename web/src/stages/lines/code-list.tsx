import { Box, chakra, Flex } from '@chakra-ui/react';
import { useState, type ComponentProps } from 'react';
import { INKS, LINE_STYLES, SYMBOLS, type Code, type CodeList } from '#core/codes';
import { codeListSchema } from '#core/chain';
import { Act, Aside, Field, Pick } from '../../frame/controls.tsx';
import { useProject } from '../../project/store.ts';

const Head = chakra('th', {
  base: {
    textAlign: 'left',
    fontSize: '12px',
    fontWeight: 600,
    color: 'slate',
    px: '4px',
    height: '28px',
    position: 'sticky',
    top: 0,
    bg: 'leaf',
    borderBottom: '1px solid',
    borderColor: 'ink',
    whiteSpace: 'nowrap',
  },
});
const Cell = chakra('td', { base: { px: '2px', height: '30px', borderBottom: '1px solid', borderColor: 'rule' } });
const Small = (props: ComponentProps<typeof Field>) => <Field height="24px" px="5px" width="100%" {...props} />;
const SmallPick = (props: ComponentProps<typeof Pick>) => (
  <Pick height="24px" px="2px" width="100%" fontSize="12px" {...props} />
);

const WORDS: [keyof CodeList['words'], string][] = [
  ['begin', 'begin a line'],
  ['end', 'end it'],
  ['close', 'close it'],
  ['curveBegin', 'begin a curve'],
  ['curveEnd', 'end the curve'],
];

/** The code list, plainly: what each code means, and the five line words. Nothing is written before “Use this list”. */
export function CodeListEditor() {
  const { state, make, busy } = useProject();
  const kept = state!.document.codeList;
  const [draft, setDraft] = useState<CodeList | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const list = draft ?? kept;
  const canEdit = state!.project.role === 'owner' || state!.project.role === 'surveyor';
  const set = (i: number, part: Partial<Code>): void =>
    setDraft({ ...list, codes: list.codes.map((c, k) => (k === i ? { ...c, ...part } : c)) });
  const save = async (): Promise<void> => {
    const read = codeListSchema.safeParse({
      ...list,
      codes: list.codes.map((c) => ({ ...c, code: c.code.toUpperCase() })),
    });
    if (!read.success) {
      const issue = read.error.issues[0];
      const at = typeof issue.path[1] === 'number' ? `${list.codes[issue.path[1]].code || 'the new code'}: ` : '';
      return setProblem(at + issue.message);
    }
    setProblem(null);
    if (await make({ op: 'codes.set', codeList: read.data })) setDraft(null);
  };
  const add = (): void =>
    setDraft({
      ...list,
      codes: [
        {
          code: '',
          name: '',
          kind: 'point',
          layer: 'GROUND',
          ink: 'ink',
          symbol: 'dot',
          style: 'solid',
          breakline: false,
          ground: true,
        },
        ...list.codes,
      ],
    });
  return (
    <Flex direction="column" height="100%" minHeight="0" gap="8px">
      <Flex gap="10px" wrap="wrap" align="center">
        <Aside>line words:</Aside>
        {WORDS.map(([key, name]) => (
          <chakra.label key={key} display="flex" gap="5px" alignItems="center" fontSize="13px">
            {name}
            <Small
              width="66px"
              fontFamily="mono"
              disabled={!canEdit}
              value={String(list.words[key] ?? '')}
              onChange={(e) => setDraft({ ...list, words: { ...list.words, [key]: e.target.value.toUpperCase() } })}
            />
          </chakra.label>
        ))}
      </Flex>
      <Flex gap="8px" align="center">
        <Act onClick={add} disabled={!canEdit}>
          Add a code
        </Act>
        <Act look="solid" disabled={!draft || busy} onClick={() => void save()}>
          Use this list
        </Act>
        {draft ? (
          <Act
            look="quiet"
            onClick={() => {
              setDraft(null);
              setProblem(null);
            }}
          >
            Drop my changes
          </Act>
        ) : null}
        {problem ? (
          <Box role="alert" color="pole">
            {problem}
          </Box>
        ) : draft ? (
          <Aside>not used yet</Aside>
        ) : null}
      </Flex>
      <Box flex="1" minHeight="0" overflow="auto" bg="leaf" border="1px solid" borderColor="rule" borderRadius="4px">
        <chakra.table borderCollapse="collapse" minWidth="530px" width="100%">
          <thead>
            <tr>
              {['Code', 'What it is', 'Kind', 'Layer', 'Ink', 'Drawn', 'Break', 'Ground', ''].map((h) => (
                <Head key={h} scope="col">
                  {h}
                </Head>
              ))}
            </tr>
          </thead>
          <tbody>
            {list.codes.map((c, i) => (
              <tr key={i}>
                <Cell width="50px">
                  <Small
                    fontFamily="mono"
                    aria-label="code"
                    disabled={!canEdit}
                    value={c.code}
                    onChange={(e) => set(i, { code: e.target.value.toUpperCase() })}
                  />
                </Cell>
                <Cell minWidth="96px">
                  <Small
                    aria-label={`what ${c.code} is`}
                    disabled={!canEdit}
                    value={c.name}
                    onChange={(e) => set(i, { name: e.target.value })}
                  />
                </Cell>
                <Cell width="58px">
                  <SmallPick
                    aria-label={`kind of ${c.code}`}
                    disabled={!canEdit}
                    value={c.kind}
                    onChange={(e) => set(i, { kind: e.target.value as Code['kind'] })}
                  >
                    <option>point</option>
                    <option>line</option>
                  </SmallPick>
                </Cell>
                <Cell minWidth="84px">
                  <Small
                    fontFamily="mono"
                    fontSize="12px"
                    aria-label={`layer of ${c.code}`}
                    disabled={!canEdit}
                    value={c.layer}
                    onChange={(e) => set(i, { layer: e.target.value.toUpperCase() })}
                  />
                </Cell>
                <Cell width="64px">
                  <SmallPick
                    aria-label={`ink of ${c.code}`}
                    disabled={!canEdit}
                    value={c.ink}
                    onChange={(e) => set(i, { ink: e.target.value as Code['ink'] })}
                  >
                    {INKS.map((k) => (
                      <option key={k}>{k}</option>
                    ))}
                  </SmallPick>
                </Cell>
                <Cell minWidth="84px">
                  <Flex align="center" gap="5px">
                    {c.kind === 'line' ? (
                      <SmallPick
                        aria-label={`style of ${c.code}`}
                        disabled={!canEdit}
                        value={c.style}
                        onChange={(e) => set(i, { style: e.target.value as Code['style'] })}
                      >
                        {LINE_STYLES.map((k) => (
                          <option key={k}>{k}</option>
                        ))}
                      </SmallPick>
                    ) : (
                      <SmallPick
                        aria-label={`symbol of ${c.code}`}
                        disabled={!canEdit}
                        value={c.symbol}
                        onChange={(e) => set(i, { symbol: e.target.value as Code['symbol'] })}
                      >
                        {SYMBOLS.map((k) => (
                          <option key={k}>{k}</option>
                        ))}
                      </SmallPick>
                    )}
                  </Flex>
                </Cell>
                <Cell textAlign="center">
                  <input
                    type="checkbox"
                    aria-label={`${c.code} is a breakline`}
                    disabled={!canEdit || c.kind !== 'line'}
                    checked={c.breakline}
                    onChange={(e) => set(i, { breakline: e.target.checked })}
                  />
                </Cell>
                <Cell textAlign="center">
                  <input
                    type="checkbox"
                    aria-label={`elevations of ${c.code} in the ground`}
                    disabled={!canEdit}
                    checked={c.ground}
                    onChange={(e) => set(i, { ground: e.target.checked })}
                  />
                </Cell>
                <Cell>
                  <Act
                    look="quiet"
                    aria-label={`take ${c.code} out of the list`}
                    disabled={!canEdit}
                    onClick={() => setDraft({ ...list, codes: list.codes.filter((_, k) => k !== i) })}
                  >
                    ×
                  </Act>
                </Cell>
              </tr>
            ))}
          </tbody>
        </chakra.table>
      </Box>
    </Flex>
  );
}
