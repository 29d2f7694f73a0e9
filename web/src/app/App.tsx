import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { SnackbarProvider } from 'notistack';
import { lazy, Suspense, type ReactNode } from 'react';
import { BrowserRouter, Navigate, Route, Routes, useLocation } from 'react-router';
import { Refused } from '../api/client';
import { useMe } from '../api/queries';
import { Desk } from '../desk/Desk';
import { SignIn } from '../door/SignIn';
import { ErrorBoundary } from '../kit/ErrorBoundary';
import { Message } from '../kit/Message';
import { Themed } from '../theme/mode';

// The first page needs no editor: what does is fetched when somebody goes there, and from the desk a moment before.
const fetchManuscript = () => import('../manuscript/Manuscript');
const Manuscript = lazy(fetchManuscript);
const Confirm = lazy(() => import('../people/Confirm'));
const Account = lazy(() => import('../people/AccountPage'));
const House = lazy(() => import('../house/HousePage'));
const StylesPage = lazy(() => import('../house-style/StylesPage'));
const PostPage = lazy(() => import('../post/PostPage'));
const fromDoor = <Name extends 'Forgotten' | 'ComeIn' | 'NewPassword' | 'Invitation' | 'GuestDoor'>(name: Name) =>
  lazy(() => import('../door/more').then((all) => ({ default: all[name] })));
const Forgotten = fromDoor('Forgotten');
const ComeIn = fromDoor('ComeIn');
const NewPassword = fromDoor('NewPassword');
const Invitation = fromDoor('Invitation');
const GuestDoor = fromDoor('GuestDoor');

const queries = new QueryClient({
  defaultOptions: {
    queries: {
      retry: (times, problem) =>
        times < 2 && !(problem instanceof Refused && problem.status >= 400 && problem.status < 500),
    },
  },
});

const waiting = <Message title="One moment …" />;

/** Screens for people who are signed in; everyone else is asked to, and comes back where they wanted to go. */
function SignedIn({ children }: { children: ReactNode }) {
  const me = useMe();
  const { pathname, search } = useLocation();
  if (me.isPending) return waiting;
  if (me.isError && !me.data)
    return <Message title="The server cannot be reached" text={me.error.message} again={() => void me.refetch()} />;
  if (!me.data) return <Navigate to={`/sign-in?to=${encodeURIComponent(pathname + search)}`} replace />;
  const { guest } = me.data;
  // A guest has one manuscript, and nothing else of the house.
  if (guest && !pathname.startsWith(`/m/${guest.manuscript}`)) {
    if (guest.ended) return <Message title="Your link has ended" text={guest.ended} />;
    return <Navigate to={`/m/${guest.manuscript}`} replace />;
  }
  return <Suspense fallback={waiting}>{children}</Suspense>;
}

const AtDoor = ({ children }: { children: ReactNode }) => <Suspense fallback={waiting}>{children}</Suspense>;

export function App() {
  return (
    <Themed>
      <ErrorBoundary>
        <QueryClientProvider client={queries}>
          <SnackbarProvider anchorOrigin={{ vertical: 'bottom', horizontal: 'center' }} maxSnack={3}>
            <BrowserRouter>
              <Routes>
                <Route path="/sign-in" element={<SignIn />} />
                <Route path="/password" element={<AtDoor children={<Forgotten />} />} />
                <Route path="/password/:token" element={<AtDoor children={<NewPassword />} />} />
                <Route path="/come-in" element={<AtDoor children={<ComeIn />} />} />
                <Route path="/invitation/:token" element={<AtDoor children={<Invitation />} />} />
                <Route path="/g/:token" element={<AtDoor children={<GuestDoor />} />} />
                <Route path="/" element={<SignedIn children={<Desk onLaid={fetchManuscript} />} />} />
                <Route path="/me" element={<SignedIn children={<Account />} />} />
                <Route path="/house" element={<SignedIn children={<House />} />} />
                <Route path="/styles/:style?" element={<SignedIn children={<StylesPage />} />} />
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
