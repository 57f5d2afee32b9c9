import { Box } from '@chakra-ui/react';
import { useQuery } from '@tanstack/react-query';
import { lazy, Suspense } from 'react';
import { Navigate, Route, Routes, useParams } from 'react-router';
import { api } from './frame/api.ts';
import { AccountPage } from './entry/account-page.tsx';
import { ResetPage } from './entry/reset-page.tsx';
import { CrewPackages } from './crew/packages.tsx';
import { Invited } from './entry/invited.tsx';
import { NewProject } from './entry/new-project.tsx';
import { Projects } from './entry/projects.tsx';
import { SignIn } from './entry/sign-in.tsx';
import { Teams } from './entry/teams.tsx';

const AdminPage = lazy(() => import('./entry/admin-page.tsx').then((m) => ({ default: m.AdminPage })));
const Workspace = lazy(() => import('./workspace/workspace.tsx').then((m) => ({ default: m.Workspace })));

export function App() {
  const session = useQuery({ queryKey: ['session'], queryFn: api.session });
  if (session.isPending) return <Waiting />;
  if (session.isError)
    return (
      <Box p="40px" role="alert">
        {session.error.message}
      </Box>
    );
  if (!session.data.account)
    return (
      <Routes>
        <Route path="/invited/:token" element={<Invited account={null} demo={session.data.demo} />} />
        <Route path="/reset/:token" element={<ResetPage />} />
        <Route path="*" element={<SignIn demo={session.data.demo} registration={session.data.registration} />} />
      </Routes>
    );
  const { account } = session.data;
  return (
    <Suspense fallback={<Waiting />}>
      <Routes>
        <Route path="/" element={<Projects account={account} />} />
        <Route path="/p/:project" element={<ToBook />} />
        <Route path="/p/:project/:stage" element={<Workspace account={account} />} />
        <Route path="/p/:project/:stage/:leaf" element={<Workspace account={account} />} />
        <Route path="/new" element={<NewProject account={account} />} />
        <Route path="/teams" element={<Teams account={account} />} />
        {account.isAdmin ? <Route path="/admin" element={<AdminPage account={account} />} /> : null}
        <Route path="/reset/:token" element={<ResetPage />} />
        <Route path="/account" element={<AccountPage account={account} />} />
        <Route path="/invited/:token" element={<Invited account={account} />} />
        <Route path="/crew/:project" element={<CrewPackages account={account} />} />
        <Route path="*" element={<Navigate to="/" replace />} />
      </Routes>
    </Suspense>
  );
}

function ToBook() {
  const { project } = useParams();
  return <Navigate to={`/p/${project}/book`} replace />;
}

const Waiting = () => (
  <Box p="40px" color="slate" aria-live="polite">
    opening …
  </Box>
);
