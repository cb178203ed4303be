import { Button, LinearProgress } from '@mui/material';
import { useEffect } from 'react';
import { useBlocker } from 'react-router';
import { Grow, Row } from '../../parts/layout.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { Quiet } from '../../parts/text.tsx';
import { count } from '../../lib/words.ts';
import { INK } from '../../theme.ts';
import type { TeamState } from './useTeam.ts';

/** What the draft would do, and the one button that does it; steps taken back and done again. */
export function GiveBar({ state }: { state: TeamState }) {
  const { saved, changed, touched, busy, problem, done, give, drop, back, turn } = state;
  useKeys(state);
  const blocker = useBlocker(
    ({ currentLocation, nextLocation }) => changed && currentLocation.pathname !== nextLocation.pathname,
  );
  return (
    <footer style={{ flex: 'none', borderTop: `1px solid ${INK.line}`, background: INK.raised, padding: '10px 18px' }}>
      {busy && <LinearProgress aria-label="Giving" />}
      {problem && <Notice level="error">{problem}</Notice>}
      {blocker.state === 'blocked' && (
        <Notice
          level="warning"
          action={
            <>
              <Button size="small" onClick={() => blocker.reset()}>
                Stay
              </Button>
              <Button size="small" onClick={() => blocker.proceed()}>
                Leave without
              </Button>
            </>
          }
        >
          What is changed here was not given to the liveries yet.
        </Notice>
      )}
      <Row gap={8} wrap>
        <Grow as="span" role="status">
          {changed ? (
            touched > 0 ? (
              `Shown on ${count(touched, 'livery', 'liveries')}; not given yet.`
            ) : (
              'Changes the team alone.'
            )
          ) : (
            <Quiet>{done ? saidOf(done) : 'What is shown is what the liveries are.'}</Quiet>
          )}
        </Grow>
        {changed ? (
          <>
            <Button disabled={busy || !back} onClick={() => back?.()}>
              Step back
            </Button>
            <Button disabled={busy} onClick={drop}>
              Drop it all
            </Button>
            <Button variant="contained" color="primary" disabled={busy} onClick={() => void give()}>
              {touched > 0 ? `Give to ${count(touched, 'livery', 'liveries')}` : 'Keep'}
            </Button>
          </>
        ) : (
          <>
            <Button disabled={busy || !saved?.undo} onClick={() => void turn('take-back')}>
              {saved?.undo ? `Take back: ${saved.undo}` : 'Take back'}
            </Button>
            <Button disabled={busy || !saved?.redo} onClick={() => void turn('do-again')}>
              {saved?.redo ? `Do again: ${saved.redo}` : 'Do again'}
            </Button>
          </>
        )}
      </Row>
      {done && done.skipped.length > 0 && !changed && (
        <ul aria-label="Passed by" style={{ margin: '6px 0 0', paddingLeft: 18, color: INK.quiet }}>
          {done.skipped.map(({ livery, why }) => (
            <li key={livery + why}>
              {state.mates.find(({ id }) => id === livery)?.name ?? 'A livery that is not here'}: {why}
            </li>
          ))}
        </ul>
      )}
    </footer>
  );
}

const saidOf = ({ changed }: NonNullable<TeamState['done']>): string =>
  changed.length === 0
    ? 'Kept; no livery changed.'
    : `Given to ${count(changed.length, 'livery', 'liveries')}, at ${count(
        changed.reduce((sum, { places }) => sum + places, 0),
        'place',
      )}.`;

/** Ctrl Z and Ctrl Shift Z: first what is drafted, then what was given. */
function useKeys({ changed, back, busy, saved, turn }: TeamState) {
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      if (!(event.ctrlKey || event.metaKey) || event.key.toLowerCase() !== 'z' || busy) return;
      // A field has its own.
      if (event.target instanceof HTMLInputElement && event.target.type === 'text') return;
      event.preventDefault();
      if (changed) {
        if (!event.shiftKey) back?.();
      } else if (event.shiftKey ? saved?.redo : saved?.undo) void turn(event.shiftKey ? 'do-again' : 'take-back');
    };
    addEventListener('keydown', press);
    return () => removeEventListener('keydown', press);
  });
}
