import { Box, Flex } from '@chakra-ui/react';
import { Component, type ReactNode } from 'react';
import { Act } from './controls.tsx';

interface Props {
  /** What stands here, as the sentence names it: “the table”, “the card”. */
  what: string;
  /** When it becomes another, what failed is tried again. */
  of: unknown;
  onAgain?: () => void;
  children: ReactNode;
}

/** Keeps a part of the page that fails from taking the rest with it: says so, and offers to try again or to reload. */
export class Boundary extends Component<Props, { failed: Error | null; of: unknown }> {
  state = { failed: null, of: this.props.of };

  static getDerivedStateFromError(error: unknown): { failed: Error } {
    return { failed: error instanceof Error ? error : new Error(String(error)) };
  }

  static getDerivedStateFromProps(props: Props, state: { of: unknown }): object | null {
    return Object.is(props.of, state.of) ? null : { of: props.of, failed: null };
  }

  render(): ReactNode {
    const { failed } = this.state as { failed: Error | null };
    if (!failed) return this.props.children;
    const again = (): void => {
      this.props.onAgain?.();
      this.setState({ failed: null });
    };
    return (
      <Box role="alert" p="16px" m="12px" bg="mark" border="1px solid" borderColor="pole" borderRadius="4px">
        <Box mb="8px">
          Something went wrong in {this.props.what}: {failed.message.slice(0, 200)}. What was entered is stored; nothing
          else is affected.
        </Box>
        <Flex gap="8px">
          <Act onClick={again}>Try again</Act>
          <Act onClick={() => window.location.reload()}>Reload the page</Act>
        </Flex>
      </Box>
    );
  }
}
