import { useState } from 'react';
import { Box } from '@chakra-ui/react';
import { asksWhy } from '#core/project';
import { formatLength, UNIT_SIGN } from '#core/measure';
import { Act, Aside, Cut, Field, Key, Num } from '../frame/controls.tsx';
import { WeightSign } from '../frame/signs.tsx';
import { formatVolume } from '../frame/volume-text.ts';
import { unbroken } from '../frame/unbroken.ts';
import { CardHead, Panel, Row, Section, type Side } from './card-frame.tsx';
import { useParts, type PendingChange } from '../project-state/store.ts';

/** What a change would do, before it is done. */
export function PreviewCard({ pending, side }: { pending: PendingChange; side: Side }) {
  const { state, accept, cancel, busy } = useParts('state', 'accept', 'cancel', 'busy');
  const [why, setWhy] = useState('');
  const p = pending.preview;
  const settings = state!.document.settings;
  const { unit } = settings;
  const sign = UNIT_SIGN[unit];
  const names = new Map(state!.document.comparisons.map((c) => [c.id, c.name]));
  const changed =
    p?.comparisons.filter(
      (c) =>
        c.before &&
        c.after &&
        (Math.abs(c.before.cut - c.after.cut) > 0.005 || Math.abs(c.before.fill - c.after.fill) > 0.005),
    ) ?? [];
  return (
    <Panel style={side} borderColor="pine" aria-label="preview of a change" aria-live="polite">
      <CardHead whole title={pending.label} onClose={cancel} />
      <Section>
        <Aside>what it would do</Aside>
        {pending.problem ? (
          <Box>{pending.problem}</Box>
        ) : !p ? (
          <Box color="slate">computing …</Box>
        ) : (
          <>
            <Row name="points changed">
              <Num>{p.pointsChanged}</Num>
            </Row>
            {p.pointsMoved ? (
              <Row name={`largest move ${sign}`}>
                <Num>{formatLength(p.largestMove, unit)}</Num>
              </Row>
            ) : null}
            <Row name="lines changed">
              <Num>{p.linesChanged}</Num>
            </Row>
            {p.surfaces.length === 0 ? <Row name="surfaces">as they were</Row> : null}
            {p.surfaces.map((s) => (
              <Box key={s.id} mt="4px">
                <Cut display="block" fontSize="13px">
                  {s.name}
                </Cut>
                <Row name="triangles">
                  <Num>
                    {s.triangles[0] === s.triangles[1] ? s.triangles[0] : `${s.triangles[0]} → ${s.triangles[1]}`}
                  </Num>
                </Row>
                <Row name={`height, up to ${sign}`}>
                  <Num>{s.largestHeight < 0.0005 ? 'as it was' : `± ${formatLength(s.largestHeight, unit)}`}</Num>
                </Row>
              </Box>
            ))}
            {changed.map((c) => (
              <Box key={c.id} mt="4px">
                <Cut display="block" fontSize="13px">
                  {names.get(c.id) ?? c.id}
                </Cut>
                <Row name="cut">
                  <Num fontSize="12px">
                    {formatVolume(c.before!.cut, settings)} → {formatVolume(c.after!.cut, settings)}
                  </Num>
                </Row>
                <Row name="fill">
                  <Num fontSize="12px">
                    {formatVolume(c.before!.fill, settings)} → {formatVolume(c.after!.fill, settings)}
                  </Num>
                </Row>
              </Box>
            ))}
            <Row name="queries">
              <span>
                {p.queriesGone.length} would go{p.queriesNew.length ? `, ${p.queriesNew.length} would come` : ''}
              </span>
            </Row>
            <QueryList sign="−" name="queries that would go" list={p.queriesGone} />
            <QueryList sign="+" name="queries that would come" list={p.queriesNew} />
          </>
        )}
      </Section>
      <Section display="flex" gap="8px" flexWrap="wrap">
        {asksWhy(pending.change) && !pending.change.why ? (
          <Field
            aria-label="why"
            placeholder="why (kept with the change)"
            width="100%"
            maxLength={500}
            value={why}
            onChange={(e) => setWhy(e.target.value)}
            onKeyDown={(e) => {
              if (e.key !== 'Escape') e.stopPropagation();
              if (e.key === 'Enter') void accept(why);
            }}
          />
        ) : null}
        <Act look="solid" disabled={busy} onClick={() => void accept(why)}>
          Apply <Key>Enter</Key>
        </Act>
        <Act onClick={cancel}>
          Cancel <Key>Esc</Key>
        </Act>
      </Section>
    </Panel>
  );
}

/** The sentences of queries that would go or come, as far as a card holds them. */
function QueryList({
  sign,
  name,
  list,
}: {
  sign: '−' | '+';
  name: string;
  list: NonNullable<PendingChange['preview']>['queriesGone'];
}) {
  if (list.length === 0) return null;
  return (
    <Box as="ul" aria-label={name} m="4px 0 0" p="0" listStyleType="none" fontSize="12px" lineHeight="16px">
      {list.slice(0, 5).map((q) => (
        <Box as="li" key={q.key} display="flex" gap="5px" mb="3px" title={q.text}>
          <Num color={sign === '−' ? 'pine' : 'brass'}>{sign}</Num>
          <WeightSign weight={q.weight} size={11} />
          <Box
            overflow="hidden"
            display="-webkit-box"
            style={{ WebkitLineClamp: 2, WebkitBoxOrient: 'vertical' }}
            color="slate"
          >
            {unbroken(q.text)}
          </Box>
        </Box>
      ))}
      {list.length > 5 ? (
        <li>
          <Aside fontSize="12px">and {list.length - 5} more</Aside>
        </li>
      ) : null}
    </Box>
  );
}
