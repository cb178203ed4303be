import { Button, Dialog, DialogActions, DialogContent, DialogTitle } from '@mui/material';
import { useEffect, useState } from 'react';
import { useBlocker } from 'react-router';
import { count } from '../lib/words.ts';
import { useEasel } from './context.ts';

/** Leaving the easel waits until the server has every step; when it cannot be had, the painter decides. */
export function LeaveGuard() {
  const { doc } = useEasel();
  const [stuck, setStuck] = useState(false);
  const unsent = doc.use((s) => s.unsent);
  const blocker = useBlocker(
    ({ currentLocation, nextLocation }) =>
      currentLocation.pathname !== nextLocation.pathname && doc.use.getState().unsent > 0,
  );
  const { state } = blocker;
  useEffect(() => {
    if (state !== 'blocked') return;
    let wanted = true;
    void doc.saved().then((left) => {
      if (!wanted) return;
      setStuck(left > 0);
      if (left === 0) blocker.proceed?.();
    });
    return () => {
      wanted = false;
    };
    // The blocker is another object whenever anything is drawn; its state says when to begin.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [state, doc]);
  // They arrived after all.
  useEffect(() => {
    if (stuck && unsent === 0 && state === 'blocked') blocker.proceed?.();
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [stuck, unsent, state]);
  const stay = () => {
    setStuck(false);
    blocker.reset?.();
  };
  const leave = () => {
    setStuck(false);
    blocker.proceed?.();
  };
  return (
    <Dialog open={stuck && state === 'blocked'} onClose={stay} aria-labelledby="not-saved">
      <DialogTitle id="not-saved">
        {count(unsent, 'step')} {unsent === 1 ? 'is' : 'are'} not saved yet
      </DialogTitle>
      <DialogContent>
        The server does not answer. {unsent === 1 ? 'It stays' : 'They stay'} in this browser and{' '}
        {unsent === 1 ? 'is' : 'are'} sent as soon as it does.
      </DialogContent>
      <DialogActions>
        <Button onClick={stay}>Wait here</Button>
        <Button onClick={leave}>Leave; send {unsent === 1 ? 'it' : 'them'} later</Button>
      </DialogActions>
    </Dialog>
  );
}
