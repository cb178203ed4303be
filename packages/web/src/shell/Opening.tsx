import { Button, LinearProgress } from '@mui/material';
import { Link } from 'react-router';
import { Nothing } from '../parts/Notice.tsx';
import { TopBar } from './TopBar.tsx';

/** While a livery opens, and when it does not. */
export function Opening({ problem, onRetry }: { problem: string | null; onRetry(): void }) {
  return (
    <div style={{ height: '100%' }}>
      <TopBar
        trail={
          <Link to="/" style={{ color: 'inherit' }}>
            Liveries
          </Link>
        }
      />
      {problem ? (
        <Nothing title="This livery cannot be opened">
          <p>{problem}</p>
          <Button onClick={onRetry}>Try again</Button>
        </Nothing>
      ) : (
        <LinearProgress aria-label="Opening the livery" />
      )}
    </div>
  );
}

/** The screens of one livery. */
export const liveryTabs = (id: string) => [
  { to: `/liveries/${id}`, label: 'Easel', end: true },
  { to: `/liveries/${id}/proof`, label: 'Proof' },
  { to: `/liveries/${id}/deliver`, label: 'Deliver' },
];
