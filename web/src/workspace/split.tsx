import { type Stage } from '#core/project';
import { useEffect } from 'react';
import { Group, Panel, Separator, useGroupRef } from 'react-resizable-panels';

/** The ledger's share where nobody moved the divider, per cent: readings need more room than a recipe. */
const FIRST: Record<Stage, number> = { basis: 50, book: 62, lines: 48, ground: 42, quantities: 45, handover: 45 };

/** Ledger and sheet beside each other; where the divider stands is remembered for each stage. */
export function Split({
  stage,
  children: [ledger, sheet],
}: {
  stage: Stage;
  children: [React.ReactNode, React.ReactNode];
}) {
  const group = useGroupRef();
  const key = `dunrik.split.${stage}`;
  const layoutOf = (): { ledger: number; sheet: number } => {
    const share = Number(localStorage.getItem(key)) || FIRST[stage];
    return { ledger: share, sheet: 100 - share };
  };
  // eslint-disable-next-line react-hooks/exhaustive-deps -- the layout is that of the stage
  useEffect(() => void group.current?.setLayout(layoutOf()), [stage]);
  return (
    <Group
      groupRef={group}
      orientation="horizontal"
      style={{ height: '100%' }}
      defaultLayout={layoutOf()}
      onLayoutChanged={(layout) => localStorage.setItem(key, String(Math.round(layout.ledger)))}
    >
      <Panel id="ledger" minSize="0%" collapsible>
        {ledger}
      </Panel>
      <Separator
        style={{ width: 5, background: 'var(--chakra-colors-rule)' }}
        aria-label="divider between table and drawing"
      />
      <Panel id="sheet" minSize="0%" collapsible>
        {sheet}
      </Panel>
    </Group>
  );
}
