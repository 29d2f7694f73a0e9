import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { SnackbarProvider } from 'notistack';
import { lazy, Suspense, type ReactNode } from 'react';
import { BrowserRouter, Navigate, Route, Routes, useLocation } from 'react-router';
import { Refused } from '../api/client';
import { useMe } from '../api/queries';
import { Desk } from '../desk/Desk';
import { ErrorBoundary } from '../kit/ErrorBoundary';
import { Message } from '../kit/Message';
import { SignIn } from '../sign-in/SignIn';
import { Themed } from '../theme/mode';

// The first page needs no editor: what does is fetched when somebody goes there, and from the desk a moment before.
const fetchManuscript = () => import('../manuscript/Manuscript');
const Manuscript = lazy(fetchManuscript);
const Confirm = lazy(() => import('../people/Confirm'));
const PostPage = lazy(() => import('../post/PostPage'));

const queries = new QueryClient({
  defaultOptions: {
    queries: {
      retry: (times, problem) =>
        times < 2 && !(problem instanceof Refused && problem.status >= 400 && problem.status < 500),
    },
  },
});

/** Screens for people who are signed in; everyone else is asked to, and comes back where they wanted to go. */
function SignedIn({ children }: { children: ReactNode }) {
  const me = useMe();
  const { pathname, search } = useLocation();
  if (me.isPending) return <Message title="One moment …" />;
  if (me.isError)
    return <Message title="The server cannot be reached" text={me.error.message} again={() => void me.refetch()} />;
  if (!me.data) return <Navigate to={`/sign-in?to=${encodeURIComponent(pathname + search)}`} replace />;
  return <Suspense fallback={<Message title="One moment …" />}>{children}</Suspense>;
}

export function App() {
  return (
    <Themed>
      <ErrorBoundary>
        <QueryClientProvider client={queries}>
          <SnackbarProvider anchorOrigin={{ vertical: 'bottom', horizontal: 'center' }} maxSnack={3}>
            <BrowserRouter>
              <Routes>
                <Route path="/sign-in" element={<SignIn />} />
                <Route path="/" element={<SignedIn children={<Desk onLaid={fetchManuscript} />} />} />
                <Route path="/post" element={<SignedIn children={<PostPage />} />} />
                <Route path="/confirm/:token" element={<SignedIn children={<Confirm />} />} />
                <Route path="/m/:id/:page?" element={<SignedIn children={<Manuscript />} />} />
                <Route
                  path="*"
                  element={<Message title="There is nothing at this address" text="The link may be cut short." home />}
                />
              </Routes>
            </BrowserRouter>
          </SnackbarProvider>
        </QueryClientProvider>
      </ErrorBoundary>
    </Themed>
  );
}
