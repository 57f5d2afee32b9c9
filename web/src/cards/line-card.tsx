import { Box, Flex } from '@chakra-ui/react';
import { groundOf, linesOutOf } from '#core/project';
import { chordChainages, chordLength, layerOf, VERTEX_WHY } from '#core/linework';
import { formatChainage, formatLength, UNIT_SIGN } from '#core/measure';
import { Act, Aside, Cut, Num } from '../frame/controls.tsx';
import { CardHead, Panel, Row, Section, type Side } from './card-frame.tsx';
import { LineTools } from './line-tools.tsx';
import { useParts } from '../project-state/store.ts';

/** A line: what it is, which points it goes through, whether it is in the ground. */
export function LineCard({ name, side }: { name: string; side: Side }) {
  const { state, tables, select, make, busy } = useParts('state', 'tables', 'select', 'make', 'busy');
  const line = tables?.linework.lines.find((l) => l.key === name);
  if (!state || !tables || !line) return null;
  const doc = state.document;
  const canEdit = state.project.role === 'owner' || state.project.role === 'surveyor';
  const { settings: s } = doc;
  const code = doc.codeList.codes.find((c) => c.code.toUpperCase() === line.code);
  const locked = doc.drawing.layers[layerOf(code)]?.locked ?? false;
  const out = linesOutOf(groundOf(doc)).includes(name);
  const { points } = tables;
  const plan = chordLength(line);
  const chainages = chordChainages(line);
  const arcs = line.bulges.filter((b) => b !== 0).length;
  return (
    <Panel style={side} aria-label="selected line">
      <CardHead title={`Line ${name}`} side={code?.name ?? 'unknown code'} onClose={() => select(null)} />
      <Section>
        <Row name={`length along chords ${UNIT_SIGN[s.unit]}`}>
          <Num>{formatLength(plan, s.unit, 2)}</Num>
        </Row>
        <Row name="points">
          <Num>{line.rows.filter((r) => r >= 0).length}</Num>
        </Row>
        {doc.handLines[name]?.insteadOf ? (
          <Row name="vertices tied to points">
            <span>
              {line.rows.filter((r) => r >= 0 && points.number.get(r) !== '').length} of {line.x.length}
            </span>
          </Row>
        ) : null}
        <Row name="sides that are arcs">
          <Num>{arcs}</Num>
        </Row>
        <Row name="closed">
          <span>{line.closed ? 'yes' : 'no'}</span>
        </Row>
        <Row name="layer">
          <span>
            {layerOf(code)}
            {locked ? ', locked' : ''}
          </span>
        </Row>
        <Row name="in the ground">
          <span>{!code?.breakline ? 'no: its code is not a breakline' : out ? 'no, excluded' : 'as breakline'}</span>
        </Row>
      </Section>
      <Section>
        <Aside>made from, in order</Aside>
        <Box role="list" aria-label="points of the line" maxHeight="150px" overflowY="auto" tabIndex={0}>
          {line.rows.map((row, i) => (
            <Flex key={i} role="listitem" gap="8px" align="baseline" minWidth="0">
              <Act
                look="quiet"
                fontFamily="mono"
                minWidth="58px"
                textAlign="left"
                disabled={row < 0}
                onClick={() => select({ kind: 'point', row })}
              >
                {row < 0 ? 'no point' : points.number.get(row) || `row ${points.fileRow[row]}`}
              </Act>
              <Num fontSize="12px" color="slate">
                {formatChainage(chainages[i], s.unit, s.chainage, 2)}
              </Num>
              <Cut fontSize="12px" color="slate">
                {`${VERTEX_WHY[line.why[i]]}${row >= 0 && points.description.get(row) ? `: ${points.description.get(row)}` : ''}`}
              </Cut>
            </Flex>
          ))}
        </Box>
      </Section>
      {canEdit && !locked ? <LineTools line={line} /> : null}
      {code?.breakline ? (
        <Section>
          <Act disabled={busy} onClick={() => void make({ op: 'line.ground', key: name, used: out })}>
            {out ? 'Use it in the ground' : 'Exclude it from the ground'}
          </Act>
        </Section>
      ) : null}
    </Panel>
  );
}
