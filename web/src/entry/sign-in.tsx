import { Box, chakra, Flex } from '@chakra-ui/react';
import { zodResolver } from '@hookform/resolvers/zod';
import { useQueryClient } from '@tanstack/react-query';
import { useState, type ReactNode } from 'react';
import { Controller, useForm, useWatch } from 'react-hook-form';
import type { z } from 'zod';
import { newAccountSchema, signInSchema, type SessionState } from '#contract';
import { api, problemText } from '../frame/api.ts';
import { Act, Aside, Field } from '../frame/controls.tsx';
import { described, FieldProblem, Form } from '../frame/form.tsx';
import { PoleSign } from '../frame/signs.tsx';
import { NewPassword } from './new-password.tsx';

type NewAccount = z.infer<typeof newAccountSchema>;
const asNew = zodResolver(newAccountSchema);
/** Of an account that is there only the address and the password are asked for. */
const asKnown = zodResolver(signInSchema) as unknown as typeof asNew;

const Label = chakra('label', {
  base: { display: 'flex', flexDirection: 'column', gap: '4px', fontSize: '13px', color: 'slate' },
});

/** The way in: the demo with one click, an account, or a new one. */
export function SignIn({
  demo,
  quiet = false,
  children,
  invitation,
  registration = true,
}: {
  demo: boolean;
  /** Somebody came by an invitation: what it is for stands in place of the demo. */
  quiet?: boolean;
  /** The invitation that brought them. */
  invitation?: string;
  /** Whether whoever comes may make an account; the invited always may. */
  registration?: boolean;
  children?: ReactNode;
}) {
  const queries = useQueryClient();
  const [isNew, setIsNew] = useState(false);
  const {
    register,
    control,
    handleSubmit,
    clearErrors,
    formState: { errors },
  } = useForm<NewAccount>({
    resolver: async (values, context, options) => (isNew ? asNew(values, context, options) : asKnown(values, context, options)), // prettier-ignore
    defaultValues: { email: '', name: '', password: '' },
  });
  const [email, name] = useWatch({ control, name: ['email', 'name'] });
  const [problem, setProblem] = useState('');
  const [busy, setBusy] = useState(false);

  const enter = async (way: () => Promise<SessionState>): Promise<void> => {
    setBusy(true);
    setProblem('');
    try {
      const session = await way();
      queries.removeQueries({ predicate: (q) => q.queryKey[0] !== 'session' });
      queries.setQueryData(['session'], session);
    } catch (error) {
      setProblem(problemText(error));
      setBusy(false);
    }
  };
  const submit = handleSubmit((v) =>
    enter(() => (isNew ? api.createAccount(v.email, v.name, v.password, invitation) : api.signIn(v.email, v.password))),
  );

  return (
    <Flex as="main" height="100%" align="center" justify="center" overflow="auto" p="24px">
      <Box width="400px" maxWidth="100%">
        <Flex align="center" gap="10px" mb="6px">
          <PoleSign />
          <chakra.h1 fontSize="24px" fontWeight="700" m="0" lineHeight="32px">
            Dunrik
          </chakra.h1>
        </Flex>
        <Aside>From coded field data to a checked handover.</Aside>

        {children ? <Box mt="20px">{children}</Box> : null}
        {demo && !quiet ? (
          <Box mt="28px" bg="leaf" border="1px solid" borderColor="rule" borderRadius="4px" p="18px">
            <Box fontWeight="600" mb="4px">
              Ostrel Landing is loaded
            </Box>
            <Box color="slate" fontSize="13px" mb="14px">
              A small lake landing, surveyed in two days by two crews, with the slips that crews make.
            </Box>
            <Act look="solid" size="tall" width="100%" disabled={busy} onClick={() => void enter(api.enterDemo)}>
              Open the demo project
            </Act>
          </Box>
        ) : null}

        <Form onSubmit={submit} mt="28px" display="flex" flexDirection="column" gap="12px">
          <Box fontWeight="600">{isNew ? 'A new account' : 'Sign in'}</Box>
          {isNew ? (
            <Label>
              name
              <Field
                size="tall"
                {...register('name')}
                {...described('name-problem', errors.name)}
                autoComplete="name"
                maxLength={120}
              />
              <FieldProblem id="name-problem" error={errors.name} />
            </Label>
          ) : null}
          <Label>
            e-mail
            <Field
              size="tall"
              type="email"
              {...register('email')}
              {...described('email-problem', errors.email)}
              autoComplete="username"
            />
            <FieldProblem id="email-problem" error={errors.email} />
          </Label>
          <Label>
            password{isNew ? ', 12 characters or more' : ''}
            {isNew ? (
              <Controller
                control={control}
                name="password"
                render={({ field }) => (
                  <NewPassword size="tall" value={field.value} onValue={field.onChange} owner={{ email, name }} />
                )}
              />
            ) : (
              <Field
                size="tall"
                type="password"
                {...register('password')}
                {...described('password-problem', errors.password)}
                autoComplete="current-password"
              />
            )}
            <FieldProblem id="password-problem" error={errors.password} />
          </Label>
          {problem ? (
            <Box role="alert" color="pole">
              {problem}
            </Box>
          ) : null}
          <Flex gap="10px" align="center">
            <Act type="submit" size="tall" disabled={busy}>
              {isNew ? 'Create the account' : 'Sign in'}
            </Act>
            {registration || invitation ? (
              <Act
                type="button"
                look="quiet"
                size="tall"
                onClick={() => {
                  setIsNew(!isNew);
                  clearErrors();
                }}
              >
                {isNew ? 'I have one already' : 'Create an account'}
              </Act>
            ) : (
              <Aside>Accounts are made by invitation here.</Aside>
            )}
          </Flex>
        </Form>
      </Box>
    </Flex>
  );
}
