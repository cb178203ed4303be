import { CssBaseline, ThemeProvider, useColorScheme } from '@mui/material';
import { useEffect, type ReactNode } from 'react';
import { theme } from '../muiTheme.ts';
import { useRoom } from './room.ts';

/** What it holds, dressed for the room that was chosen. */
export function InTheRoom({ children }: { children: ReactNode }) {
  return (
    <ThemeProvider
      theme={theme}
      defaultMode={useRoom.getState().room}
      storageManager={null}
      noSsr
      disableTransitionOnChange
    >
      <CssBaseline />
      <Follows />
      {children}
    </ThemeProvider>
  );
}

/** The library has the mode in its own keeping. */
function Follows() {
  const { setMode } = useColorScheme();
  const { room } = useRoom();
  useEffect(() => setMode(room), [room, setMode]);
  return null;
}
