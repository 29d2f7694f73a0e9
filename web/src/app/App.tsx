import { CssBaseline, ThemeProvider, useMediaQuery } from '@mui/material';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { SnackbarProvider } from 'notistack';
import { createContext, useContext, useMemo, useState, type ReactNode } from 'react';
import { BrowserRouter, Navigate, Route, Routes, useLocation } from 'react-router';
import { useMe } from '../api/queries';
import { Refused } from '../api/client';
import { Desk } from '../desk/Desk';
import { Manuscript } from '../manuscript/Manuscript';
import { PostPage } from '../post/PostPage';
import { SignIn } from '../sign-in/SignIn';
import { themeFor, type Mode } from '../theme/theme';
import { ErrorBoundary } from './ErrorBoundary';
import { Message } from './Message';

const queries = new QueryClient({
  defaultOptions: {
    queries: {
      retry: (times, problem) =>
        times < 2 && !(problem instanceof Refused && problem.status >= 400 && problem.status < 500),
    },
  },
});

const ModeContext = createContext<{ mode: Mode; setMode: (mode: Mode) => void }>({
  mode: 'light',
  setMode: () => undefined,
});
export const useMode = () => useContext(ModeContext);

/** Light or dark: as chosen here, else as the system has it. */
function Themed({ children }: { children: ReactNode }) {
  const systemDark = useMediaQuery('(prefers-color-scheme: dark)');
  const [chosen, setChosen] = useState(() => localStorage.getItem('mode') as Mode | null);
  const mode = chosen ?? (systemDark ? 'dark' : 'light');
  const value = useMemo(
    () => ({
      mode,
      setMode: (next: Mode) => {
        localStorage.setItem('mode', next);
        setChosen(next);
      },
    }),
    [mode],
  );
  const reducedMotion = useMediaQuery('(prefers-reduced-motion: reduce)');
  const theme = useMemo(() => themeFor(mode, reducedMotion), [mode, reducedMotion]);
  return (
    <ModeContext value={value}>
      <ThemeProvider theme={theme}>
        <CssBaseline />
        {children}
      </ThemeProvider>
    </ModeContext>
  );
}

/** Screens for people who are signed in; everyone else is asked to, and comes back where they wanted to go. */
function SignedIn({ children }: { children: ReactNode }) {
  const me = useMe();
  const { pathname, search } = useLocation();
  if (me.isPending) return <Message title="One moment …" />;
  if (me.isError)
    return <Message title="The server cannot be reached" text={me.error.message} again={() => void me.refetch()} />;
  if (!me.data) return <Navigate to={`/sign-in?to=${encodeURIComponent(pathname + search)}`} replace />;
  return children;
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
                <Route path="/" element={<SignedIn children={<Desk />} />} />
                <Route path="/post" element={<SignedIn children={<PostPage />} />} />
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
