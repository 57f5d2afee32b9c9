import { Box, chakra, Flex } from '@chakra-ui/react';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { zodResolver } from '@hookform/resolvers/zod';
import { Controller, useForm } from 'react-hook-form';
import { z } from 'zod';
import { passwordSchema, type Account } from '#contract';
import { api, problemText } from '../frame/api.ts';
import { Act, Aside, Cut, Field, Leaf, Line } from '../frame/controls.tsx';
import { described, FieldProblem, Form } from '../frame/form.tsx';
import { NewPassword } from './new-password.tsx';
import { Page, when } from '../frame/page.tsx';

/** The password typed twice, so that a slip of the finger does not lock its owner out. */
const newPasswordsSchema = passwordSchema
  .extend({ again: z.string() })
  .refine((v) => v.new === v.again, { path: ['again'], message: 'The new password was typed in two ways.' });
type NewPasswords = z.infer<typeof newPasswordsSchema>;

/** One's own account: the password, and where it is signed in. */
export function AccountPage({ account }: { account: Account }) {
  return (
    <Page account={account} title={account.name} about={account.isDemo ? 'demo account' : account.email} width="640px">
      <Sessions />
      {account.isDemo ? (
        <Aside>The demo account has no password; it is entered by its button.</Aside>
      ) : (
        <Password account={account} />
      )}
      <OwnData account={account} />
    </Page>
  );
}

function Sessions() {
  const queries = useQueryClient();
  const sessions = useQuery({ queryKey: ['sessions'], queryFn: api.sessions });
  const [problem, setProblem] = useState('');
  const end = async (id: string): Promise<void> => {
    try {
      await api.endSession(id);
      await queries.invalidateQueries({ queryKey: ['sessions'] });
    } catch (error) {
      setProblem(problemText(error));
    }
  };
  return (
    <Leaf head="Signed in" mb="14px" pb="6px">
      {(sessions.data ?? []).map((s) => (
        <Line key={s.id} minHeight="40px">
          <Box minWidth="0">
            <Cut display="block">{s.browser || 'an unknown browser'}</Cut>
            <Aside>
              since {when(s.since)}, last seen {when(s.seen)}
            </Aside>
          </Box>
          {s.own ? <Aside>this one</Aside> : <Act onClick={() => void end(s.id)}>End</Act>}
        </Line>
      ))}
      {problem ? (
        <Box role="alert" color="pole" px="12px">
          {problem}
        </Box>
      ) : null}
    </Leaf>
  );
}

function Password({ account }: { account: Account }) {
  const { register, control, handleSubmit, reset, formState } = useForm<NewPasswords>({
    resolver: zodResolver(newPasswordsSchema),
    defaultValues: { old: '', new: '', again: '' },
  });
  const { errors } = formState;
  const [said, setSaid] = useState<{ text: string; bad: boolean } | null>(null);
  const submit = handleSubmit(async (v) => {
    try {
      await api.changePassword(v.old, v.new);
      reset();
      setSaid({ text: 'The password is changed; every other session has ended.', bad: false });
    } catch (error) {
      setSaid({ text: problemText(error), bad: true });
    }
  });
  const field = (name: 'old' | 'again', label: string, hint: string) => (
    <>
      <Flex as="label" align="center" gap="8px">
        <Box width="190px" color="slate">
          {label}
        </Box>
        <Field
          type="password"
          {...register(name)}
          {...described(`${name}-problem`, errors[name])}
          autoComplete={hint}
          width="220px"
        />
      </Flex>
      <FieldProblem id={`${name}-problem`} error={errors[name]} />
    </>
  );
  return (
    <Leaf head="Password" pb="10px">
      <Form onSubmit={submit} px="12px" display="flex" flexDirection="column" gap="6px" pt="4px">
        {field('old', 'the one now', 'current-password')}
        <Flex as="label" gap="8px">
          <Box width="190px" color="slate" pt="4px">
            new, 12 characters or more
          </Box>
          <Box width="220px">
            <Controller
              control={control}
              name="new"
              render={({ field: f }) => <NewPassword value={f.value} onValue={f.onChange} owner={account} />}
            />
          </Box>
        </Flex>
        <FieldProblem id="new-problem" error={errors.new} />
        {field('again', 'new, again', 'new-password')}
        {said ? (
          <Box role={said.bad ? 'alert' : 'status'} color={said.bad ? 'pole' : 'pine'}>
            {said.text}
          </Box>
        ) : null}
        <Flex>
          <Act type="submit">Change it</Act>
        </Flex>
      </Form>
    </Leaf>
  );
}

/** What is kept about a person, to take along; and the way out for good. */
function OwnData({ account }: { account: Account }) {
  const queries = useQueryClient();
  const [leaving, setLeaving] = useState(false);
  const { register, handleSubmit, formState } = useForm({
    resolver: zodResolver(z.object({ password: z.string().min(1, 'Type your password.'), withProjects: z.boolean() })),
    defaultValues: { password: '', withProjects: false },
  });
  const [problem, setProblem] = useState('');
  const leave = handleSubmit(async ({ password, withProjects }) => {
    try {
      await api.deleteAccount(password, withProjects);
      queries.removeQueries({ predicate: (q) => q.queryKey[0] !== 'session' });
      await queries.invalidateQueries({ queryKey: ['session'] });
    } catch (error) {
      setProblem(problemText(error));
    }
  });
  return (
    <Leaf head="Your data" mt="14px" pb="10px">
      <Box px="12px">
        <Flex align="center" gap="12px" py="4px">
          <Box flex="1">
            What is stored about you, as one JSON file: your projects and teams, what you did, layouts, code lists.
          </Box>
          <a href="/api/account/export" download>
            <chakra.span textDecoration="underline">Export your data</chakra.span>
          </a>
        </Flex>
        {account.isDemo ? null : leaving ? (
          <Form onSubmit={leave} display="flex" flexDirection="column" gap="8px" pt="8px">
            <Box>
              Your name and address are forgotten, and you are out of every project and team. What you did in projects
              of others stays in their history, by “a former member”. This cannot be undone.
            </Box>
            <Flex as="label" align="center" gap="8px">
              <input type="checkbox" {...register('withProjects')} />
              delete the projects that nobody else is in, too
            </Flex>
            <Flex as="label" align="center" gap="8px">
              <Box color="slate">your password</Box>
              <Field
                type="password"
                autoComplete="current-password"
                {...register('password')}
                {...described('leave-problem', formState.errors.password)}
              />
            </Flex>
            <FieldProblem id="leave-problem" error={formState.errors.password} />
            {problem ? (
              <Box role="alert" color="pole">
                {problem}
              </Box>
            ) : null}
            <Flex gap="8px">
              <Act type="submit">Delete the account</Act>
              <Act type="button" onClick={() => setLeaving(false)}>
                Cancel
              </Act>
            </Flex>
          </Form>
        ) : (
          <Act onClick={() => setLeaving(true)}>Delete the account …</Act>
        )}
      </Box>
    </Leaf>
  );
}
