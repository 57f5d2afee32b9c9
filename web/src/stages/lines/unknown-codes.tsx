import { Box, Flex } from '@chakra-ui/react';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { indexCodes, nearestCodes } from '#core/codes';
import { replaceCode } from '#core/queries';
import { Act, Aside, Num, Pick } from '../../frame/controls.tsx';
import { useParts } from '../../project-state/store.ts';

/** Codes on shots that the list lacks: each is added, or taken for another on every shot that has it. */
export function UnknownCodes({ add, disabled }: { add: (code: string) => void; disabled: boolean }) {
  const { state, tables, propose } = useParts('state', 'tables', 'propose');
  const navigate = useNavigate();
  const [for_, setFor] = useState<Record<string, string>>({});
  const doc = state!.document;
  const rows = new Map<string, number[]>();
  const { linework } = tables!;
  linework.pointCode.forEach((code, i) => {
    if (linework.pointKnown[i]) return;
    const name = linework.codeNames[code];
    const list = rows.get(name);
    if (list) list.push(linework.pointRow[i]);
    else rows.set(name, [linework.pointRow[i]]);
  });
  if (rows.size === 0) return null;
  const codes = doc.codeList.codes.map((c) => c.code);
  const meant = (code: string): string => for_[code] ?? nearestCodes(code, doc.codeList)[0]?.code ?? '';
  const mend = (code: string, shots: number[]): void => {
    const to = meant(code);
    if (to === '') return;
    const shared = indexCodes(doc.codeList);
    const own = doc.intakes.map((i) => (i.words ? indexCodes(doc.codeList, i.words) : shared));
    const points = {
      intake: tables!.points.intake,
      fileRow: tables!.points.fileRow,
      description: Object.fromEntries(shots.map((r) => [r, tables!.points.description.get(r)])),
    };
    void propose(
      `Take ${code} for ${to} on ${shots.length === 1 ? 'its shot' : `all ${shots.length} shots`}`,
      replaceCode(doc, points, shots, code, to, (i) => own[i] ?? shared),
      `unknown-code:${code}`,
    );
  };
  return (
    <Box
      border="1px solid"
      borderColor="brass"
      borderRadius="4px"
      bg="leaf"
      px="10px"
      py="4px"
      role="group"
      aria-label="unknown codes"
      maxHeight="130px"
      overflow="auto"
      flexShrink={0}
    >
      {[...rows].slice(0, 60).map(([code, shots]) => {
        const word = tables!.summary.queries.find((q) => q.key === `unknown-word:${code}`);
        return word ? (
          <Flex key={code} align="center" gap="8px" minHeight="30px" wrap="wrap">
            <Num fontWeight="700">{code}</Num>
            <Aside>{onShots(shots)}: reads like a line word</Aside>
            <Box flex="1" />
            {word.remedies.map((r) => (
              <Act key={r.label} disabled={disabled} onClick={() => void propose(r.label, r.change, word.key)}>
                {r.label}
              </Act>
            ))}
            <Act look="quiet" onClick={() => void navigate(`/p/${state!.project.id}/lines/words`)}>
              Line words …
            </Act>
          </Flex>
        ) : (
          <Flex key={code} align="center" gap="8px" minHeight="30px" wrap="wrap">
            <Num fontWeight="700">{code}</Num>
            <Aside>{onShots(shots)}: unknown, on layer UNKNOWN</Aside>
            <Box flex="1" />
            <Act disabled={disabled} onClick={() => add(code)}>
              Add {code}
            </Act>
            <Act disabled={disabled || meant(code) === ''} onClick={() => mend(code, shots)}>
              Replace by
            </Act>
            <Pick
              aria-label={`${code} is meant as`}
              value={meant(code)}
              onChange={(e) => setFor({ ...for_, [code]: e.target.value })}
            >
              {/* Only what one slip of the finger could have meant is proposed. */}
              <option value="">which code?</option>
              {codes.map((c) => (
                <option key={c}>{c}</option>
              ))}
            </Pick>
          </Flex>
        );
      })}
    </Box>
  );
}

const onShots = (shots: readonly number[]): string => (shots.length === 1 ? 'on one shot' : `on ${shots.length} shots`);
