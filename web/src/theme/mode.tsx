import { CssBaseline, ThemeProvider, useMediaQuery } from '@mui/material';
import { createContext, useContext, useMemo, useState, type ReactNode } from 'react';
import { themeFor, type Mode } from './theme';

const ModeContext = createContext<{ mode: Mode; setMode: (mode: Mode) => void }>({
  mode: 'light',
  setMode: () => undefined,
});
export const useMode = () => useContext(ModeContext);

/** Light or dark: as chosen here, else as the system has it. */
export function Themed({ children }: { children: ReactNode }) {
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
