import { Box, chakra } from '@chakra-ui/react';
import { useQueryClient } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import type { Account } from '#contract';
import { api } from './api.ts';
import { Act } from './controls.tsx';
import { setNight, useNight } from './night.ts';

const Round = chakra('button', {
  base: {
    width: '28px',
    height: '28px',
    borderRadius: '50%',
    bg: 'pine',
    color: 'paper',
    fontSize: '12px',
    fontWeight: 600,
    cursor: 'pointer',
    border: 0,
  },
});

export const initials = (name: string): string =>
  name
    .split(/\s+/)
    .map((p) => p[0] ?? '')
    .join('')
    .slice(0, 2)
    .toUpperCase();

/** Who is signed in; night colours and the way out behind it. */
export function AccountMark({ account }: { account: Account }) {
  const [open, setOpen] = useState(false);
  const night = useNight();
  const queries = useQueryClient();
  const navigate = useNavigate();
  const box = useRef<HTMLDivElement>(null);
  useEffect(() => {
    if (!open) return;
    const away = (e: PointerEvent): void => {
      if (!box.current?.contains(e.target as Node)) setOpen(false);
    };
    window.addEventListener('pointerdown', away);
    return () => window.removeEventListener('pointerdown', away);
  }, [open]);

  const leave = async (): Promise<void> => {
    await api.signOut();
    void navigate('/');
    queries.removeQueries({ predicate: (q) => q.queryKey[0] !== 'session' });
    await queries.invalidateQueries({ queryKey: ['session'] });
  };
  return (
    <Box position="relative" ref={box} onKeyDown={(e) => e.key === 'Escape' && setOpen(false)}>
      <Round
        aria-label={`account of ${account.name}`}
        aria-expanded={open}
        onClick={() => setOpen(!open)}
        title={account.name}
      >
        {initials(account.name)}
      </Round>
      {open ? (
        <Box
          position="absolute"
          right="0"
          top="34px"
          zIndex="30"
          bg="leaf"
          border="1px solid"
          borderColor="ink"
          borderRadius="4px"
          p="12px"
          width="240px"
          display="flex"
          flexDirection="column"
          gap="10px"
        >
          <Box>
            <Box fontWeight="600">{account.name}</Box>
            <Box color="slate" fontSize="13px">
              {account.isDemo ? 'demo account' : account.email}
            </Box>
          </Box>
          <Act onClick={() => void navigate('/account')}>Sessions, password, data</Act>
          {account.isAdmin ? <Act onClick={() => void navigate('/admin')}>Administration</Act> : null}
          <Act onClick={() => void navigate('/teams')}>Teams and start settings</Act>
          <Act aria-pressed={night} onClick={() => setNight(!night)}>
            {night ? 'Day colours' : 'Night colours'}
          </Act>
          <Act onClick={() => void leave()}>Sign out</Act>
        </Box>
      ) : null}
    </Box>
  );
}
