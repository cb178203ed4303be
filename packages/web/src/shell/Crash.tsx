import { Button } from '@mui/material';
import { useRouteError } from 'react-router';
import { sentenceOf } from '../lib/api.ts';

/** What is shown when a screen breaks: the work is saved, so starting again is safe. */
export function Crash() {
  const error = useRouteError();
  return (
    <main style={{ padding: 48, maxWidth: 640 }}>
      <h1 style={{ fontSize: 18 }}>This screen has stopped working</h1>
      <p>
        What was saved is saved, and steps that were still on their way are kept in this browser. Loading the page again
        brings them back.
      </p>
      <p className="mono" style={{ fontSize: 12 }}>
        {sentenceOf(error)}
      </p>
      <Button onClick={() => location.reload()}>Load the page again</Button>
    </main>
  );
}
