import { Box, Flex } from '@chakra-ui/react';
import { useState } from 'react';
import type { InvitationCard } from '#contract';
import { when } from './page.tsx';
import { Act, Aside, Cut, Field, Line } from './controls.tsx';

/** The link of an invitation, shown once: only its hash is kept. */
export function InvitationLink({ token, onClose }: { token: string; onClose: () => void }) {
  const [copied, setCopied] = useState(false);
  const link = `${location.origin}/invited/${token}`;
  return (
    <Flex gap="8px" px="12px" py="6px" align="center" bg="wash" role="status">
      <Field
        readOnly
        aria-label="link of the invitation"
        flex="1"
        fontFamily="mono"
        fontSize="12px"
        value={link}
        onFocus={(e) => e.target.select()}
      />
      <Act
        onClick={() => {
          void navigator.clipboard?.writeText(link);
          setCopied(true);
        }}
      >
        {copied ? 'Copied' : 'Copy'}
      </Act>
      <Act look="quiet" aria-label="close the link" onClick={onClose}>
        ×
      </Act>
      <Aside>shown once</Aside>
    </Flex>
  );
}

/** Invitations that are open or were used. */
export function Invitations({ list, onWithdraw }: { list: InvitationCard[]; onWithdraw?: (id: string) => void }) {
  if (list.length === 0) return null;
  return (
    <Box as="ul" m="0" p="0" listStyleType="none" aria-label="invitations">
      {list.map((i) => (
        <li key={i.id}>
          <Line minHeight="26px">
            <Cut color="slate" fontSize="13px">
              {i.usedBy
                ? `${i.role}: taken by ${i.usedBy}`
                : `${i.role}: open until ${when(i.expiresAt)}, made by ${i.madeBy}`}
            </Cut>
            {!i.usedBy && onWithdraw ? (
              <Act look="quiet" onClick={() => onWithdraw(i.id)}>
                withdraw
              </Act>
            ) : null}
          </Line>
        </li>
      ))}
    </Box>
  );
}
