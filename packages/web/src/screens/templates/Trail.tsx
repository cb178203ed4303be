import { Link } from 'react-router';

/** Where a screen of templates is: the way back to all of them, and what this one is about. */
export function Trail({ here }: { here?: string }) {
  return (
    <>
      <Link to="/templates" style={{ color: 'inherit' }}>
        Templates
      </Link>
      {here && ` / ${here}`}
    </>
  );
}
