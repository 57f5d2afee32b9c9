import { Box, Flex } from '@chakra-ui/react';
import { useRef, useState } from 'react';
import type { InvitationCard } from '#contract';
import { when } from './page.tsx';
import { Act, Aside, Cut, Field, Line } from './controls.tsx';

/** The link of an invitation, shown once: only its hash is kept. */
export function InvitationLink({ token, onClose }: { token: string; onClose: () => void }) {
  const [copied, setCopied] = useState<'yes' | 'no' | null>(null);
  const field = useRef<HTMLInputElement>(null);
  const link = `${location.origin}/invited/${token}`;
  const copy = async (): Promise<void> => {
    try {
      // A page that came without TLS has no clipboard.
      await (navigator.clipboard as Clipboard | undefined)!.writeText(link);
      setCopied('yes');
    } catch {
      setCopied('no');
      field.current?.select();
    }
  };
  return (
    <Flex gap="8px" px="12px" py="6px" align="center" bg="wash" role="status">
      <Field
        ref={field}
        readOnly
        aria-label="link of the invitation"
        flex="1"
        fontFamily="mono"
        fontSize="12px"
        value={link}
        onFocus={(e) => e.target.select()}
      />
      <Act onClick={() => void copy()}>{copied === 'yes' ? 'Copied' : 'Copy'}</Act>
      <Act look="quiet" aria-label="close the link" onClick={onClose}>
        ×
      </Act>
      <Aside>{copied === 'no' ? 'not copied: it is marked, copy it by hand' : 'shown once'}</Aside>
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
