import { Box } from '@chakra-ui/react';
import { useMutation } from '@tanstack/react-query';
import type { ReactNode } from 'react';
import { api, ApiProblem, problemText } from './api.ts';
import { Act } from './controls.tsx';
import { saveFile } from './download.ts';

/**
 * Fetches papers of a project and hands them to the browser. One that would lack letters is not made in silence: `problem` says
 * which, and offers a box in the place of each.
 */
export function usePaper(project: string) {
  const { mutate, isPending, error, variables, data } = useMutation({
    mutationFn: ({ path, boxes }: { path: string; boxes: boolean }) => api.paper(project, path, boxes),
    onSuccess: ({ name, file }) => saveFile(name, file),
  });
  const lacks = error instanceof ApiProblem && error.body.lacking !== undefined;
  const problem = error ? (
    <Box role="alert" flexBasis="100%" color={lacks ? 'ink' : 'pole'}>
      {problemText(error)}
      {lacks && variables ? (
        <Act ml="8px" onClick={() => mutate({ path: variables.path, boxes: true })}>
          Print boxes
        </Act>
      ) : null}
    </Box>
  ) : data?.notes.length ? (
    <Box role="status" flexBasis="100%" color="slate" fontSize="13px">
      {data.name} is written. It says otherwise, or not for every program: {data.notes.join('; ')}.
    </Box>
  ) : null;
  return { fetchPaper: (path: string) => mutate({ path, boxes: false }), isPending, problem };
}

/** A button for one paper, `path` below the project; what is wrong with it is said beside it. */
export function PaperAct({
  project,
  path,
  look = 'quiet',
  children,
}: {
  project: string;
  path: string;
  look?: 'quiet' | 'plain' | 'solid';
  children: ReactNode;
}) {
  const { fetchPaper, isPending, problem } = usePaper(project);
  return (
    <>
      <Act look={look} disabled={isPending} onClick={() => fetchPaper(path)}>
        {isPending ? 'Making it …' : children}
      </Act>
      {problem}
    </>
  );
}
