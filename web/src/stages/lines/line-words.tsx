import {
  type LineWords,
  MEANINGS,
  MEANING_NAME,
  type Meaning,
  PLAIN_FORM,
  WORD_PRESETS,
  type WordForm,
  indexCodes,
  learnWords,
  wordsSchema,
} from '#core/codes';
import { issueText, UNIT_NAME } from '#core/measure';
import { Act, Aside, Field, Leaf, Num, Pick } from '../../frame/controls.tsx';
import { SmallTable } from '../../frame/small-table.tsx';
import { useParts } from '../../project-state/store.ts';
import { Reading } from './words-reading.tsx';
import { Box, Flex, chakra } from '@chakra-ui/react';
import { useMemo, useState } from 'react';

/** Descriptions of a file that are looked through. */
const SAMPLE = 3000;

/** The words that a crew types, mapped from a sample of its own: for the whole project, or for one file. */
export function LineWordsLeaf() {
  const { state, tables, propose, busy } = useParts('state', 'tables', 'propose', 'busy');
  const doc = state!.document;
  const [file, setFile] = useState('');
  const intake = doc.intakes.find((i) => i.id === file);
  const kept: LineWords = intake?.words ?? doc.codeList.words;
  const [drafts, setDrafts] = useState<Record<string, LineWords>>({});
  const [sample, setSample] = useState('');
  const [problem, setProblem] = useState<string | null>(null);
  const words = drafts[file] ?? kept;
  const form = words.form ?? PLAIN_FORM;
  const changed = JSON.stringify(words) !== JSON.stringify(kept);
  const canEdit = state!.project.role === 'owner' || state!.project.role === 'surveyor';
  const set = (next: LineWords): void => {
    setProblem(null);
    setDrafts({ ...drafts, [file]: next });
  };
  const setForm = (part: Partial<WordForm>): void => set({ ...words, form: { ...form, ...part } });
  const said = useMemo(
    () =>
      sample
        .split(/\r?\n/)
        .filter((l) => l.trim() !== '')
        .slice(0, SAMPLE),
    [sample],
  );
  const learnt = useMemo(
    () => (said.length ? learnWords(said, doc.codeList, words) : null),
    [said, doc.codeList, words],
  );
  const index = useMemo(() => indexCodes(doc.codeList, words), [doc.codeList, words]);
  const fromProject = (): void => {
    const { points } = tables!;
    const at = doc.intakes.findIndex((i) => i.id === file);
    const lines: string[] = [];
    const control = doc.intakes.map((i) => i.purpose === 'control');
    for (let row = 0; row < points.x.length && lines.length < SAMPLE; row++)
      if (!control[points.intake[row]] && (at < 0 || points.intake[row] === at) && points.description.get(row))
        lines.push(points.description.get(row));
    setSample(lines.join('\n'));
  };
  const assign = (word: string, meaning: Meaning | ''): void => {
    const { [word]: _, ...also } = words.also ?? {};
    if (!meaning) return set({ ...words, also });
    // The first spelling of a meaning is the one that is written; a preset's own word makes room for the crew's.
    set({ ...words, [meaning]: word, also });
  };
  const show = async (): Promise<void> => {
    const read = wordsSchema.safeParse(words);
    if (!read.success) return setProblem(issueText(read.error.issues[0]));
    if (intake)
      await propose(`Read ${intake.fileName} with these line words`, {
        op: 'intake.words',
        id: intake.id,
        words: read.data,
      });
    else await propose('Use these line words', { op: 'codes.set', codeList: { ...doc.codeList, words: read.data } });
  };
  const otherForm = learnt && JSON.stringify(learnt.form) !== JSON.stringify(form) ? learnt.form : null;
  return (
    <Flex direction="column" gap="10px" height="100%" minHeight="0" overflow="auto">
      <Flex gap="8px" align="center" wrap="wrap">
        <Aside>words of</Aside>
        <Pick aria-label="whose words" value={file} onChange={(e) => setFile(e.target.value)}>
          <option value="">the project’s list</option>
          {doc.intakes
            .filter((i) => i.purpose !== 'control')
            .map((i) => (
              <option key={i.id} value={i.id}>
                {i.fileName}
                {i.words ? ', its own' : ''}
              </option>
            ))}
        </Pick>
        <Pick
          aria-label="begin with"
          value=""
          disabled={!canEdit}
          onChange={(e) => {
            const preset = WORD_PRESETS[Number(e.target.value)];
            if (e.target.value !== '') set({ ...preset.words });
          }}
        >
          <option value="">begin with …</option>
          {WORD_PRESETS.map((p, i) => (
            <option key={p.name} value={i}>
              {p.name}
            </option>
          ))}
        </Pick>
        <chakra.label display="inline-flex" gap="6px" alignItems="center" fontSize="13px">
          lines go from shot to shot
          <Pick
            aria-label="order of building"
            disabled={!canEdit || busy}
            value={doc.settings.lineOrder}
            onChange={(e) =>
              void propose('Build lines in another order', {
                op: 'settings.set',
                settings: { lineOrder: e.target.value as typeof doc.settings.lineOrder },
              })
            }
          >
            <option value="observed">as observed</option>
            <option value="number">by number</option>
            <option value="time">by time</option>
          </Pick>
        </chakra.label>
        {intake?.words ? (
          <Act
            look="quiet"
            onClick={() =>
              void propose(`Read ${intake.fileName} with the project’s words`, {
                op: 'intake.words',
                id: intake.id,
                words: null,
              })
            }
          >
            Back to the project’s words
          </Act>
        ) : null}
      </Flex>
      {changed || problem ? (
        <Flex gap="8px" align="center">
          <Act look="solid" disabled={busy || !canEdit} onClick={() => void show()}>
            Show what it changes
          </Act>
          <Act look="quiet" onClick={() => set(kept)}>
            Discard my changes
          </Act>
          {problem ? (
            <Box role="alert" color="pole">
              {problem}
            </Box>
          ) : (
            <Aside>not used yet</Aside>
          )}
        </Flex>
      ) : null}
      <Leaf head="A sample of the crew’s descriptions, one a line">
        <Box px="12px" pb="10px">
          <chakra.textarea
            aria-label="sample of descriptions"
            value={sample}
            rows={4}
            width="100%"
            fontFamily="mono"
            fontSize="12px"
            bg="leaf"
            border="1px solid"
            borderColor="slate"
            borderRadius="3px"
            p="6px"
            maxLength={400_000}
            placeholder="paste here"
            onChange={(e) => setSample(e.target.value)}
          />
          <Flex gap="8px" align="center" wrap="wrap">
            <Act onClick={fromProject}>{intake ? `Those of ${intake.fileName}` : 'Those of this project'}</Act>
            {learnt ? (
              <Aside>
                {said.length} descriptions; {learnt.codesKnown} of {learnt.codes} codes are in the list
              </Aside>
            ) : null}
            {otherForm ? (
              <Act disabled={!canEdit} onClick={() => set({ ...words, form: otherForm })}>
                Words are written {formSentence(otherForm)}: use that
              </Act>
            ) : null}
          </Flex>
        </Box>
      </Leaf>
      {learnt && learnt.unknown.length > 0 ? (
        <Leaf head="Unknown words, and what they seem to mean">
          <SmallTable
            label="unknown words"
            rows={learnt.unknown}
            rowKey={(u) => u.word}
            columns={[
              { id: 'word', head: 'Word', mono: true, by: (u) => u.word, cell: (u) => <b>{u.word}</b> },
              { id: 'times', head: 'Times', by: (u) => u.times, cell: (u) => <Num>{u.times}</Num> },
              { id: 'example', head: 'Occurs in', words: true, mono: true, cell: (u) => u.examples[0] },
              {
                id: 'meaning',
                head: 'Probably',
                words: true,
                style: { py: '4px' },
                cell: (u) => (
                  <>
                    <Flex gap="6px">
                      <MeaningPick
                        label={`${u.word} means`}
                        value={u.proposed ?? ''}
                        disabled={!canEdit}
                        set={(m) => assign(u.word, m)}
                      />
                      {u.proposed ? (
                        <Act
                          disabled={!canEdit}
                          onClick={() => assign(u.word, u.proposed!)}
                          aria-label={`use this meaning of ${u.word}`}
                        >
                          Use this meaning
                        </Act>
                      ) : null}
                    </Flex>
                    <Aside fontSize="12px">{u.why}</Aside>
                  </>
                ),
              },
            ]}
          />
          <Flex p="6px 12px 10px">
            <Act
              disabled={!canEdit || !learnt.unknown.some((u) => u.proposed)}
              onClick={() =>
                set(learnt.unknown.reduce((w, u) => (u.proposed ? { ...w, [u.proposed]: u.word } : w), words))
              }
            >
              Use every proposed meaning
            </Act>
          </Flex>
        </Leaf>
      ) : null}
      {said.length > 0 ? <Reading said={said} index={index} /> : null}
      <Leaf head="Where words are written">
        <Flex gap="8px" p="2px 12px 10px" wrap="wrap" align="center">
          <Pick
            aria-label="place of words"
            disabled={!canEdit}
            value={form.place}
            onChange={(e) => setForm({ place: e.target.value as WordForm['place'] })}
          >
            <option value="after">behind their code</option>
            <option value="before">before their code</option>
          </Pick>
          <Pick
            aria-label="how words are joined"
            disabled={!canEdit}
            value={form.joint === null ? 'apart' : 'joined'}
            onChange={(e) => setForm({ joint: e.target.value === 'apart' ? null : '.' })}
          >
            <option value="apart">apart from it</option>
            <option value="joined">joined to it</option>
          </Pick>
          {form.joint !== null ? (
            <Field
              width="44px"
              fontFamily="mono"
              aria-label="joined by"
              title="The sign between; empty for nothing"
              disabled={!canEdit}
              value={form.joint}
              maxLength={3}
              onChange={(e) => setForm({ joint: e.target.value })}
            />
          ) : null}
          <Pick
            aria-label="line numbers"
            disabled={!canEdit}
            value={form.number}
            onChange={(e) => setForm({ number: e.target.value as WordForm['number'] })}
          >
            <option value="attached">line number at the code, KT1</option>
            <option value="apart">line number apart, KT 1</option>
            <option value="none">no line numbers</option>
          </Pick>
          <chakra.label display="inline-flex" gap="6px" alignItems="center" fontSize="13px">
            codes separated by blanks and
            <Field
              width="50px"
              fontFamily="mono"
              aria-label="signs that separate codes"
              disabled={!canEdit}
              value={form.separators}
              maxLength={6}
              onChange={(e) => setForm({ separators: e.target.value.replace(/[\sA-Za-z0-9"=]/g, '') })}
            />
          </chakra.label>
          <chakra.label display="inline-flex" gap="6px" alignItems="center" fontSize="13px">
            lengths in
            <Pick
              aria-label="unit of lengths"
              disabled={!canEdit}
              value={form.unit}
              onChange={(e) => setForm({ unit: e.target.value as WordForm['unit'] })}
            >
              {(['m', 'ft', 'usft'] as const).map((u) => (
                <option key={u} value={u}>
                  {UNIT_NAME[u]}
                </option>
              ))}
            </Pick>
          </chakra.label>
        </Flex>
        <SmallTable
          label="line words"
          rows={MEANINGS}
          rowKey={(m) => m}
          columns={[
            {
              id: 'word',
              head: 'Word',
              style: { width: '110px' },
              cell: (m) => (
                <Field
                  width="100px"
                  fontFamily="mono"
                  aria-label={`word: ${MEANING_NAME[m]}`}
                  placeholder="none"
                  disabled={!canEdit}
                  value={words[m] ?? ''}
                  onChange={(e) => {
                    const { [m]: _, ...rest } = words;
                    const typed = e.target.value.toUpperCase().replace(/[\s/"=]/g, '');
                    set(typed ? { ...rest, [m]: typed } : rest);
                  }}
                />
              ),
            },
            { id: 'meaning', head: 'What it does', words: true, cell: (m) => MEANING_NAME[m] },
          ]}
        />
      </Leaf>
    </Flex>
  );
}

const MeaningPick = ({
  label,
  value,
  disabled,
  set,
}: {
  label: string;
  value: Meaning | '';
  disabled: boolean;
  set: (m: Meaning | '') => void;
}) => (
  <Pick
    aria-label={label}
    width="230px"
    value={value}
    disabled={disabled}
    onChange={(e) => set(e.target.value as Meaning | '')}
  >
    <option value="">not a line word</option>
    {MEANINGS.map((m) => (
      <option key={m} value={m}>
        {MEANING_NAME[m]}
      </option>
    ))}
  </Pick>
);

function formSentence(form: WordForm): string {
  const joint = form.joint === null ? '' : form.joint === '' ? ', with nothing between' : `, joined by ${form.joint}`;
  return `${form.place === 'after' ? 'behind' : 'before'} their code${joint}${form.number === 'apart' ? ', line numbers apart' : ''}`;
}
