import { chakra, Flex } from '@chakra-ui/react';
import { useParts } from '../project-state/store.ts';
import { useLook } from './look.ts';

const Toggle = chakra('button', {
  base: {
    height: '28px',
    px: '13px',
    border: 0,
    bg: 'leaf',
    color: 'ink',
    fontSize: '13px',
    cursor: 'pointer',
    _pressed: { bg: 'ink', color: 'paper' },
  },
});

/** How the drawing is looked at: from above or in 3D, two sides beside each other, cut along a line. */
export function ViewButtons({
  hasSurfaces,
  besides,
  cuts,
  onBeside,
  onSection,
}: {
  hasSurfaces: boolean;
  besides: boolean;
  cuts: boolean;
  onBeside: () => void;
  onSection: () => void;
}) {
  const { traced } = useParts('traced');
  const { spatial, setSpatial } = useLook();
  return (
    <Flex
      position="absolute"
      left="14px"
      top="12px"
      border="1px solid"
      borderColor="ink"
      borderRadius="4px"
      overflow="hidden"
      role="group"
      aria-label="view"
    >
      <Toggle aria-pressed={!spatial} onClick={() => setSpatial(false)}>
        Plan
      </Toggle>
      <Toggle aria-pressed={spatial} onClick={() => setSpatial(true)}>
        3D
      </Toggle>
      {hasSurfaces ? (
        <>
          <Toggle aria-pressed={besides} onClick={onBeside}>
            Side by side
          </Toggle>
          <Toggle aria-pressed={cuts} disabled={traced !== null || spatial} onClick={onSection}>
            Section
          </Toggle>
        </>
      ) : null}
    </Flex>
  );
}
