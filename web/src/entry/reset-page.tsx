import { Box } from '@chakra-ui/react';
import { useMutation, useQuery } from '@tanstack/react-query';
import { zodResolver } from '@hookform/resolvers/zod';
import { Controller, useForm } from 'react-hook-form';
import { useNavigate, useParams } from 'react-router';
import { passwordSchema } from '#contract';
import { api, problemText } from '../frame/api.ts';
import { Act, Aside } from '../frame/controls.tsx';
import { FieldProblem, Form } from '../frame/form.tsx';
import { NewPassword } from './new-password.tsx';
import { Page } from '../frame/page.tsx';

/** Where an administrator's link leads: a new password is chosen, once. */
export function ResetPage() {
  const { token = '' } = useParams();
  const navigate = useNavigate();
  const { control, handleSubmit, formState } = useForm({
    resolver: zodResolver(passwordSchema.pick({ new: true })),
    defaultValues: { new: '' },
  });
  const offer = useQuery({ queryKey: ['reset', token], queryFn: () => api.resetOffer(token), retry: false });
  const choose = useMutation({ mutationFn: (password: string) => api.resetPassword(token, password) });
  if (choose.isSuccess)
    return (
      <Page account={null} title="New password" width="480px">
        <Box mb="14px" role="status">
          The new password is set, and every session of the account has ended.
        </Box>
        <Act look="solid" size="tall" onClick={() => void navigate('/')}>
          Sign in
        </Act>
      </Page>
    );
  return (
    <Page account={null} title="New password" about={offer.data?.email} width="480px">
      {offer.isError ? (
        <Box role="alert" color="pole">
          {problemText(offer.error)} Ask your administrator for another link.
        </Box>
      ) : offer.data ? (
        <Form display="flex" flexDirection="column" gap="12px" onSubmit={handleSubmit((v) => choose.mutate(v.new))}>
          <Box as="label">
            <Aside display="block" mb="4px">
              new password for {offer.data.name}, 12 characters or more
            </Aside>
            <Controller
              control={control}
              name="new"
              render={({ field }) => (
                <NewPassword size="tall" value={field.value} onValue={field.onChange} owner={offer.data} />
              )}
            />
          </Box>
          <FieldProblem id="new-problem" error={formState.errors.new} />
          {choose.isError ? (
            <Box role="alert" color="pole">
              {problemText(choose.error)}
            </Box>
          ) : null}
          <Box>
            <Act type="submit" look="solid" size="tall" disabled={choose.isPending}>
              Set the password
            </Act>
          </Box>
        </Form>
      ) : (
        <Aside>reading the link …</Aside>
      )}
    </Page>
  );
}
