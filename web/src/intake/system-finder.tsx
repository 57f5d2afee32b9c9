import { Box, chakra, Flex } from '@chakra-ui/react';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type { CoordinateSystem } from '#core/basis';
import { api, problemText } from '../frame/api.ts';
import { Act, Aside, Cut, Field, Num } from '../frame/controls.tsx';
import { Choice } from '../frame/sentence.tsx';
import { ByDefinition, ByParameters } from './system-parameters.tsx';

const Found = chakra('button', {
  base: {
    display: 'grid',
    gridTemplateColumns: '104px 1fr',
    gap: '2px 10px',
    width: '100%',
    textAlign: 'left',
    border: 0,
    borderTop: '1px solid',
    borderColor: 'rule',
    bg: 'transparent',
    color: 'ink',
    px: '12px',
    py: '5px',
    cursor: 'pointer',
    _hover: { bg: 'wash' },
    _focusVisible: { bg: 'wash' },
  },
});

/** Finds a published system by code, name or area, or defines one by parameters or by a definition. */
export function SystemFinder({
  onChoose,
  onLeave,
  geographic = false,
}: {
  onChoose: (system: CoordinateSystem) => void;
  onLeave: () => void;
  /** Whether systems of latitude and longitude are offered too. */
  geographic?: boolean;
}) {
  const [way, setWay] = useState<'list' | 'parameters' | 'definition'>('list');
  const [find, setFind] = useState('');
  const [problem, setProblem] = useState('');
  const found = useQuery({
    queryKey: ['systems', find],
    queryFn: () => api.findSystems(find),
    enabled: find.trim().length > 1,
    placeholderData: (old) => old,
  });
  const take = (answer: Promise<CoordinateSystem>): void => {
    setProblem('');
    answer.then(
      (system) => {
        if (system.kind === 'geographic' && !geographic)
          return setProblem('This is latitude and longitude. A project needs a plane grid; files may be in degrees.');
        onChoose(system);
      },
      (error: unknown) => setProblem(problemText(error)),
    );
  };
  // Where the eye is: under the button that was pressed, above a list that may be long.
  const alert = problem ? (
    <Box role="alert" color="pole" px="12px" pb="6px">
      {problem}
    </Box>
  ) : null;
  return (
    <Box
      as="section"
      aria-label="choose a system"
      borderTop="1px solid"
      borderColor="pine"
      mt="6px"
      onKeyDown={(e) => {
        e.stopPropagation();
        if (e.key === 'Escape') onLeave();
      }}
    >
      <Flex gap="8px" px="12px" py="8px" align="center" wrap="wrap">
        <Choice
          name="how the system is chosen"
          value={way}
          options={[
            ['list', 'from the published list'],
            ['parameters', 'by its parameters'],
            ['definition', 'by a PROJ definition'],
          ]}
          onChange={setWay}
        />
        {way === 'list' ? (
          <Field
            autoFocus
            flex="1"
            minWidth="160px"
            aria-label="find a system"
            placeholder="code, name or region: 28356, UTM 12, Texas Central"
            value={find}
            onChange={(e) => setFind(e.target.value)}
          />
        ) : (
          <Box flex="1" />
        )}
        <Act onClick={onLeave}>Cancel</Act>
      </Flex>
      {way === 'list' ? alert : null}
      {way === 'list' && find.trim().length > 1 ? (
        <Box maxHeight="230px" overflow="auto">
          {(found.data ?? []).map((s) => (
            <Found key={s.code} onClick={() => take(api.system(s.code))}>
              <Num>{s.code}</Num>
              <Cut fontWeight="600">{s.name}</Cut>
              <Aside>{s.unit}</Aside>
              <Cut color="slate" fontSize="13px">
                {s.area || 'no area stated'}
              </Cut>
            </Found>
          ))}
          {found.data?.length === 0 ? (
            <Box px="12px" py="8px" color="slate">
              No published system has “{find}” in its code, name or region.
            </Box>
          ) : null}
        </Box>
      ) : null}
      {way === 'parameters' ? <ByParameters onMake={(p) => take(api.systemByParameters(p))} /> : null}
      {way === 'definition' ? <ByDefinition onMake={(n, d) => take(api.systemByDefinition(n, d))} /> : null}
      {way === 'list' ? null : alert}
    </Box>
  );
}
