import { useEffect, type ReactNode } from 'react';
import { Link, NavLink, useNavigate } from 'react-router';
import { useNarrow } from '../lib/useNarrow.ts';
import { PersonMenu } from '../people/PersonMenu.tsx';
import { CONTROL, INK } from '../theme.ts';
import { CUT_OFF } from '../parts/text.tsx';
import { WindowMenu } from './WindowMenu.tsx';

interface Props {
  /** Where this is: what stands after the product's name. */
  trail: ReactNode;
  tabs?: readonly { to: string; label: string; end?: boolean }[];
  /** What stands at the far end. */
  end?: ReactNode;
}

const MAIN = [
  { to: '/', label: 'Liveries', end: true },
  { to: '/templates', label: 'Templates' },
  { to: '/decals', label: 'Decals' },
  { to: '/specs', label: 'Specs' },
  { to: '/bay', label: 'Test bay' },
  { to: '/exchange', label: 'Exchange' },
  { to: '/help', label: 'Help' },
];

export function TopBar({ trail, tabs = MAIN, end }: Props) {
  const navigate = useNavigate();
  const narrow = useNarrow();
  useEffect(() => {
    // The easel shows its keys instead.
    const press = (event: KeyboardEvent) => {
      if (event.key !== 'F1' || event.defaultPrevented || tabs !== MAIN) return;
      event.preventDefault();
      void navigate('/help');
    };
    window.addEventListener('keydown', press);
    return () => window.removeEventListener('keydown', press);
  }, [navigate, tabs]);
  return (
    <header
      style={{
        minHeight: 40,
        flex: 'none',
        display: 'flex',
        flexWrap: narrow ? 'wrap' : 'nowrap',
        alignItems: 'center',
        gap: narrow ? '0 8px' : 12,
        padding: '0 12px',
        background: INK.panel,
        borderBottom: `1px solid ${INK.line}`,
      }}
    >
      <Link
        to="/"
        aria-label="Wet Lacquer, all liveries"
        style={{
          display: 'flex',
          alignItems: 'center',
          minHeight: CONTROL,
          gap: 10,
          color: INK.text,
          textDecoration: 'none',
          fontWeight: 600,
          fontSize: 14,
          whiteSpace: 'nowrap',
        }}
      >
        <img src="/mark.svg" width={20} height={20} alt="" />
        {!narrow && 'Wet Lacquer'}
      </Link>
      <div
        style={{
          flex: narrow ? '1 1 120px' : 1,
          minWidth: 0,
          // Room for the ring about a link that has the focus.
          padding: 7,
          margin: -7,
          ...CUT_OFF,
          color: INK.quiet,
        }}
      >
        {trail}
      </div>
      <nav
        aria-label="Screens"
        style={{ display: 'flex', flexWrap: 'wrap', alignSelf: 'stretch', minHeight: narrow ? 32 : 40 }}
      >
        {tabs.map(({ to, label, end: exact }) => (
          <NavLink
            key={to}
            to={to}
            end={exact}
            style={({ isActive }) => ({
              display: 'flex',
              alignItems: 'center',
              padding: narrow ? '2px 8px 0' : '2px 14px 0',
              fontWeight: 600,
              textDecoration: 'none',
              whiteSpace: 'nowrap',
              color: isActive ? INK.text : INK.quiet,
              borderBottom: `2px solid ${isActive ? INK.accent : 'transparent'}`,
            })}
          >
            {label}
          </NavLink>
        ))}
      </nav>
      {end}
      <WindowMenu />
      <PersonMenu />
    </header>
  );
}
