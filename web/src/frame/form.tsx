import { Box, chakra, type HTMLChakraProps } from '@chakra-ui/react';
import type { FormEvent } from 'react';
import type { FieldError } from 'react-hook-form';

/** A form whose fields are checked by their schema, not by the browser; `onSubmit` is what `handleSubmit` gives. */
export const Form = ({
  onSubmit,
  ...rest
}: Omit<HTMLChakraProps<'form'>, 'onSubmit'> & { onSubmit: (event: FormEvent) => Promise<void> }) => (
  <chakra.form noValidate onSubmit={(event) => void onSubmit(event)} {...rest} />
);

/** What is wrong with a field, below it; tied to it for screen readers by its id. */
export const FieldProblem = ({ id, error }: { id: string; error: FieldError | undefined }) =>
  error ? (
    <Box id={id} role="alert" color="pole" fontSize="13px">
      {error.message}
    </Box>
  ) : null;

/** What a field says of its own problem to whoever does not see it. */
export const described = (id: string, error: FieldError | undefined) =>
  error ? { 'aria-invalid': true as const, 'aria-describedby': id } : {};
