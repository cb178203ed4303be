import { Button } from '@mui/material';
import { Link, useLocation } from 'react-router';
import { Row } from '../parts/layout.tsx';
import { Nothing } from '../parts/Notice.tsx';
import { Hidden, Mono } from '../parts/text.tsx';
import { TopBar } from '../shell/TopBar.tsx';

/** Ways on from an address that leads nowhere. */
const WAYS = [
  { to: '/', label: 'All liveries' },
  { to: '/templates', label: 'Templates' },
  { to: '/specs', label: 'Delivery specs' },
  { to: '/bay', label: 'Test bay' },
  { to: '/exchange', label: 'Exchange' },
];

/** An address that no screen has. */
export function NowhereScreen() {
  const { pathname } = useLocation();
  return (
    <div style={{ height: '100%' }}>
      <TopBar trail="No such page" />
      <main>
        <Hidden as="h1">No such page</Hidden>
        <Nothing title="There is nothing at this address">
          <p>
            <Mono>{pathname}</Mono> is no page of Wet Lacquer. It may have been typed wrongly, or what it showed has
            been deleted.
          </p>
          <Row gap={8} wrap spread="center">
            {WAYS.map(({ to, label }) => (
              <Button key={to} component={Link} to={to}>
                {label}
              </Button>
            ))}
          </Row>
        </Nothing>
      </main>
    </div>
  );
}
