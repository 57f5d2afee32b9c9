import { Box, chakra, Flex } from '@chakra-ui/react';
import { useEffect, useMemo, useRef, useState } from 'react';
import { compareLists, type Code, type CodeList, codeListSchema, type Drawn } from '#core/codes';
import { hashValue } from '#core/kernel';
import { readCodeTable, writeCodeTable } from '#core/exchange';
import { issueText } from '#core/measure';
import { Act, Aside, Field, Pick } from '../../frame/controls.tsx';
import { saveText } from '../../frame/download.ts';
import { usePaper } from '../../frame/paper.tsx';
import { Grid, type Column } from '../../frame/grid/index.ts';
import { useAt } from '../../frame/leaves.tsx';
import { useDraft } from '../../project-state/drafts.ts';
import { useParts } from '../../project-state/store.ts';
import { CodeEditor } from './code-editor.tsx';
import { InkLine, InkSymbol } from './ink.tsx';
import { KeptLists } from './kept-lists.tsx';
import { NEW_CODE, saidOfNew } from './new-code.ts';
import { LeftOut, type LeftOutCodes } from './left-out.tsx';
import { UnknownCodes } from './unknown-codes.tsx';

/** Of a code list that may not hold yet: what is shown needs no more. */
const isDraft = (value: unknown): value is CodeList => {
  const list = value as Partial<CodeList> | null;
  return (
    Array.isArray(list?.codes) && list.codes.every((c) => typeof c?.code === 'string') && typeof list.words === 'object'
  );
};

/** The code list: what each code means. Nothing is written before its effect was looked at and taken. */
export function CodeListEditor() {
  const { state, propose, busy } = useParts('state', 'propose', 'busy');
  const kept = state!.document.codeList;
  const { unit } = state!.document.settings;
  const [draft, setDraft] = useDraft(state!.project.id, 'codes', isDraft);
  const [problem, setProblem] = useState<string | null>(null);
  const [find, setFind] = useState('');
  const [named, setNamed] = useAt();
  const [at, choose] = useState<number | null>(null);
  const [lists, setLists] = useState(false);
  const [leftOut, setLeftOut] = useState<LeftOutCodes | null>(null);
  const chosen = useRef<HTMLInputElement>(null);
  // What the group of the new code in hand proposed, to tell it from what a person chose.
  const proposed = useRef<Drawn | null>(null);
  // What was taken is the project's by now, its fields perhaps in another order.
  const differs = useMemo(() => draft !== null && hashValue(draft) !== hashValue(kept), [draft, kept]);
  const list = draft && differs ? draft : kept;
  const changed = list !== kept;
  const canEdit = state!.project.role === 'owner' || state!.project.role === 'surveyor';
  const groups = useMemo(() => [...new Set(list.codes.flatMap((c) => (c.group ? [c.group] : [])))].sort(), [list]);
  const order = useMemo(() => {
    const sought = find.trim().toLowerCase();
    return Uint32Array.from(list.codes, (_, i) => i).filter((i) => {
      const c = list.codes[i];
      return !sought || [c.code, c.name, c.group ?? '', c.layer].some((t) => t.toLowerCase().includes(sought));
    });
  }, [list, find]);
  const setAt = (i: number | null, code = i === null ? '' : list.codes[i].code): void => {
    choose(i);
    proposed.current = null;
    setNamed(code || null);
  };
  // The address names a code; a code being written anew stays the one it was.
  useEffect(() => {
    const i = named === null ? -1 : list.codes.findIndex((c) => c.code === named);
    if (i < 0) return;
    choose(i);
    setFind('');
    // eslint-disable-next-line react-hooks/exhaustive-deps -- when the address names another
  }, [named]);
  const change = (next: CodeList): void => {
    setProblem(null);
    setDraft(next);
  };
  const set = (i: number, part: Partial<Code>): void => {
    const { code } = list.codes[i];
    const isNew = !kept.codes.some((c) => c.code === code);
    const said = isNew ? saidOfNew(list.codes[i], part, proposed.current, list.codes) : { code: { ...list.codes[i], ...part }, proposed: null }; // prettier-ignore
    proposed.current = said.proposed;
    const next = Object.fromEntries(Object.entries(said.code).filter(([, v]) => v !== undefined)) as unknown as Code;
    change({ ...list, codes: list.codes.map((c, k) => (k === i ? next : c)) });
  };
  const show = async (): Promise<void> => {
    const read = codeListSchema.safeParse({
      ...list,
      codes: list.codes.map((c) => ({ ...c, code: c.code.toUpperCase() })),
    });
    if (!read.success) {
      const issue = read.error.issues[0];
      const where = typeof issue.path[1] === 'number' ? `${list.codes[issue.path[1]].code || 'the new code'}: ` : '';
      return setProblem(where + issueText(issue));
    }
    await propose('Use this code list', { op: 'codes.set', codeList: read.data });
  };
  const takeList = (file: string, next: CodeList): void => {
    const { gone } = compareLists(list, next);
    change(next);
    setLeftOut(gone.length ? { file, codes: gone } : null);
  };
  const takeFile = async (file: File | undefined): Promise<void> => {
    if (!file) return;
    if (file.size > 4_000_000)
      return setProblem(`${file.name} has ${Math.round(file.size / 1e6)} MB; a code list has less than 4.`);
    const text = await file.text();
    if (/^\s*\{/.test(text)) {
      try {
        const read = codeListSchema.safeParse(JSON.parse(text));
        if (!read.success)
          return setProblem(`${file.name}: ${read.error.issues[0].path.join('.')}: ${issueText(read.error.issues[0])}`);
        return takeList(file.name, read.data);
      } catch (error) {
        return setProblem(`${file.name} is not JSON: ${(error as Error).message}`);
      }
    }
    const { codes, problems } = readCodeTable(text);
    if (codes.length === 0)
      return setProblem(`${file.name}, row ${problems[0]?.row ?? 1}: ${problems[0]?.reason ?? 'no code in it'}`);
    takeList(file.name, { ...list, codes });
    if (problems.length)
      setProblem(
        `${file.name}: ${codes.length} codes read; ${problems.length} not: ${problems
          .slice(0, 8)
          .map((p) => `row ${p.row}, ${p.reason}`)
          .join('; ')}${problems.length > 8 ? ' …' : ''}`,
      );
  };
  const { fetchPaper, problem: paperProblem } = usePaper(state!.project.id);
  const send = (form: string): void => {
    const name = `${state!.project.name}-codes`;
    if (form === 'csv') saveText(`${name}.csv`, writeCodeTable(list.codes));
    else if (form === 'json') saveText(`${name}.json`, JSON.stringify(list, null, 2), 'application/json');
    else fetchPaper('code-sheet');
  };
  const columns: Column[] = [
    { id: 'code', head: 'Code', max: 160, pinned: true, text: (i) => list.codes[i].code },
    {
      id: 'drawn',
      head: '',
      name: 'how it is drawn',
      width: 54,
      text: (i) => (list.codes[i].kind === 'line' ? list.codes[i].style : list.codes[i].symbol),
      cell: (i) =>
        list.codes[i].kind === 'line' ? <InkLine code={list.codes[i]} /> : <InkSymbol code={list.codes[i]} />,
    },
    { id: 'name', head: 'What it is', min: 110, max: 260, grow: 1.4, words: true, text: (i) => list.codes[i].name },
    { id: 'group', head: 'Group', min: 80, max: 128, grow: 1, words: true, text: (i) => list.codes[i].group ?? '' },
    { id: 'layer', head: 'Layer', max: 200, text: (i) => list.codes[i].layer },
    {
      id: 'ground',
      head: 'Ground',
      words: true,
      text: (i) => {
        const c = list.codes[i];
        return c.kind === 'line' && c.breakline ? 'breakline' : c.ground ? 'yes' : 'no';
      },
    },
  ];
  if (lists) return <KeptLists list={list} take={change} onClose={() => setLists(false)} />;
  return (
    <Flex direction="column" height="100%" minHeight="0" gap="8px">
      <Flex gap="8px" align="center" wrap="wrap">
        <Field
          placeholder="only codes with …"
          aria-label="filter the codes"
          value={find}
          onChange={(e) => setFind(e.target.value)}
          width="150px"
        />
        <Act
          disabled={!canEdit}
          onClick={() => {
            change({ ...list, codes: [NEW_CODE, ...list.codes] });
            setFind('');
            setAt(0, '');
          }}
        >
          Add a code
        </Act>
        <Act onClick={() => setLists(true)}>Saved lists …</Act>
        <Act look="quiet" disabled={!canEdit} onClick={() => chosen.current?.click()}>
          From a file …
        </Act>
        <chakra.input
          ref={chosen}
          type="file"
          accept=".csv,.json,.txt"
          display="none"
          data-testid="code-file"
          onChange={(e) => void takeFile(e.target.files?.[0]).then(() => (chosen.current!.value = ''))}
        />
        <Pick aria-label="export the code list" width="106px" value="" onChange={(e) => send(e.target.value)}>
          <option value="" disabled>
            Export …
          </option>
          <option value="csv">CSV, codes</option>
          <option value="json">JSON, codes and line words</option>
          <option value="pdf">PDF for the crew</option>
        </Pick>
      </Flex>
      {paperProblem}
      {changed || problem ? (
        <Flex gap="8px" align="center" wrap="wrap">
          {changed ? (
            <>
              <Act look="solid" disabled={busy || !canEdit} onClick={() => void show()}>
                Show what it changes
              </Act>
              <Act
                look="quiet"
                onClick={() => {
                  setDraft(null);
                  setProblem(null);
                  setLeftOut(null);
                }}
              >
                Discard my changes
              </Act>
            </>
          ) : null}
          {problem ? (
            <Box role="alert" color="pole" flex="1" minWidth="200px">
              {problem}
            </Box>
          ) : (
            <Aside>not used yet; kept in this tab until it is used or discarded</Aside>
          )}
        </Flex>
      ) : null}
      {leftOut && changed ? (
        <LeftOut
          leftOut={leftOut}
          onKeep={() => {
            change({ ...list, codes: [...list.codes, ...leftOut.codes] });
            setLeftOut(null);
          }}
          onClose={() => setLeftOut(null)}
        />
      ) : null}
      <UnknownCodes
        disabled={!canEdit}
        add={(code) => {
          change({ ...list, codes: [{ ...NEW_CODE, code }, ...list.codes] });
          setFind('');
          setAt(0, code);
        }}
      />
      <Flex
        direction="column"
        flex="1"
        minHeight="0"
        bg="leaf"
        border="1px solid"
        borderColor="rule"
        borderRadius="4px"
      >
        <Box flex="1" minHeight="0">
          <Grid
            table="codes"
            label="codes"
            columns={columns}
            order={order}
            count={order.length}
            selected={at}
            onSelect={setAt}
          />
        </Box>
        {at !== null && list.codes[at] ? (
          <CodeEditor
            key={at}
            code={list.codes[at]}
            unit={unit}
            groups={groups}
            disabled={!canEdit}
            set={(part) => set(at, part)}
            remove={() => {
              change({ ...list, codes: list.codes.filter((_, k) => k !== at) });
              setAt(null);
            }}
          />
        ) : null}
      </Flex>
    </Flex>
  );
}
