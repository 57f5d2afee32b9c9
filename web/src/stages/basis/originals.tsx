import { useEffect, useRef } from 'react';
import { Box, chakra, Flex } from '@chakra-ui/react';
import type { FileCard } from '#contract';
import { type ProjectDocument } from '#core/project';
import { when } from '../../frame/page.tsx';
import { Act, Aside, Cut, Leaf } from '../../frame/controls.tsx';
import { useAt } from '../../frame/leaves.tsx';
import { useParts } from '../../project-state/store.ts';
import { Empty } from '../../frame/ledger.tsx';
import { GivenLine } from '../../intake/given.tsx';

const size = (bytes: number): string =>
  bytes < 1024
    ? `${bytes} B`
    : bytes < 1048576
      ? `${(bytes / 1024).toFixed(1)} kB`
      : `${(bytes / 1048576).toFixed(1)} MB`;

/** What was received, from whom and when, its checksum, what became of it; to be fetched as it came. */
export function Originals() {
  const { state, id } = useParts('state', 'id');
  const { files, document: doc } = state!;
  const [at] = useAt();
  const list = useRef<HTMLUListElement>(null);
  useEffect(() => list.current?.querySelector('[aria-current]')?.scrollIntoView({ block: 'nearest' }), [at]);
  if (files.length === 0)
    return <Empty>Nothing has been received yet. What comes in is kept here byte for byte.</Empty>;
  return (
    <chakra.ul ref={list} m="0" p="0" listStyleType="none" aria-label="originals">
      {[...files].reverse().map((file) => (
        <li key={file.id} aria-current={doc.intakes.some((i) => i.fileId === file.id && i.id === at) || undefined}>
          <Original file={file} doc={doc} id={id} />
        </li>
      ))}
    </chakra.ul>
  );
}

function Original({ file, doc, id }: { file: FileCard; doc: ProjectDocument; id: string }) {
  const intakes = doc.intakes.filter((i) => i.fileId === file.id);
  return (
    <Leaf mb="8px" p="8px 12px">
      <Flex gap="10px" align="baseline">
        <Cut fontWeight="600">{file.name}</Cut>
        <Aside whiteSpace="nowrap">{size(file.size)}</Aside>
        <Box flex="1" />
        <Aside whiteSpace="nowrap">
          received {when(file.receivedAt)} by {file.receivedBy}
        </Aside>
      </Flex>
      <Flex gap="10px" align="center" minHeight="24px">
        <Box flex="1" minWidth="0">
          {whatBecame(file, doc, intakes)}
        </Box>
        <chakra.a
          href={`/api/projects/${id}/files/${file.id}`}
          download={file.name}
          textDecoration="underline"
          whiteSpace="nowrap"
          aria-label={`download ${file.name} as received`}
        >
          as received
        </chakra.a>
      </Flex>
      {intakes.map((intake) => (
        <GivenLine key={intake.id} intake={intake} />
      ))}
      <Flex gap="8px" align="center">
        <Aside whiteSpace="nowrap">SHA-256</Aside>
        <Cut fontFamily="mono" fontSize="12px" color="slate">
          {file.sha256}
        </Cut>
        <Act
          look="quiet"
          aria-label={`copy the checksum of ${file.name}`}
          onClick={() => void navigator.clipboard?.writeText(file.sha256)}
        >
          copy
        </Act>
      </Flex>
    </Leaf>
  );
}

/** Surfaces that a design's points belong to. */
const designText = ({ surfaces }: ProjectDocument, intake: string): string =>
  `design ${surfaces
    .filter((s) => s.rows.some((r) => (r.kind === 'file' || r.kind === 'triangles') && r.intake === intake))
    .map((s) => `“${s.name}”`)
    .join(', ')}`.trim();

function whatBecame(file: FileCard, doc: ProjectDocument, intakes: ProjectDocument['intakes']): string {
  const { basis } = doc;
  if (basis.geoid?.fileId === file.id) return 'the project’s geoid';
  if (basis.datumGrids.some((g) => g.fileId === file.id)) return 'a datum grid of the project';
  const pictures = doc.pictures.filter((p) => p.fileId === file.id);
  if (pictures.length) return `under the drawing, as ${pictures.map((p) => p.name).join('; ')}`;
  if (intakes.length === 0) return 'received, not in use now';
  return intakes
    .map((i) => {
      const as = i.purpose === 'control' ? 'control' : i.purpose === 'survey' ? 'survey points' : designText(doc, i.id);
      return `imported as ${as}${i.placement ? ', transformed by a fit' : ''}${i.on ? '' : ', switched off'}`;
    })
    .join('; ');
}
