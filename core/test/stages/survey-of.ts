import { runChain, type ChainResult } from '#core/chain';
import { readPoints, type ReadPoints } from '#core/exchange';
import { newDocument, type Intake, type ProjectDocument } from '#core/project';
import type { StageMemory } from '#core/stages';

/** A project with one survey file, `f0`; rows `number,east,north,elevation,code`, m. */
export function surveyOf(rows: readonly string[]) {
  const doc = newDocument();
  doc.intakes.push({
    id: 'f0',
    fileId: 'f0',
    fileName: 'survey.csv',
    sha256: '0'.repeat(64),
    layout: { separator: ',', decimal: '.', skipRows: 0, roles: ['P', 'E', 'N', 'Z', 'D'], unit: 'm' },
    purpose: 'survey',
    on: true,
    numbers: { all: 'both', each: {} },
  });
  const readOf = (intake: Intake): ReadPoints => readPoints(rows.join('\n'), intake.layout)!;
  return { doc, run: (d: ProjectDocument, memory?: StageMemory): ChainResult => runChain(d, readOf, memory) };
}
