import { Button, Divider, Menu, MenuItem } from '@mui/material';
import { useState } from 'react';
import { Link } from 'react-router';
import { send } from '../lib/api.ts';
import { AccountOutline } from '../parts/icons.tsx';
import { INK } from '../theme.ts';
import { becomes, useMe } from './me.ts';

/** Whoever is signed in, and what is theirs; nothing where nobody signs in. */
export function PersonMenu() {
  const { me } = useMe();
  const [menu, setMenu] = useState<HTMLElement | null>(null);
  const close = () => setMenu(null);
  if (!me?.painter) return null;
  const { name, keeper } = me.painter;
  return (
    <>
      <Button
        size="small"
        variant="text"
        aria-haspopup="true"
        aria-label={`You: ${name}`}
        startIcon={<AccountOutline />}
        onClick={(event) => setMenu(event.currentTarget)}
        sx={{ color: INK.quiet, maxWidth: 160, flex: 'none' }}
      >
        <span style={{ overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}>{name}</span>
      </Button>
      <Menu anchorEl={menu} open={menu !== null} onClose={close}>
        <MenuItem component={Link} to="/account" onClick={close}>
          Your account
        </MenuItem>
        {keeper && (
          <MenuItem component={Link} to="/people" onClick={close}>
            People
          </MenuItem>
        )}
        <Divider />
        <MenuItem
          onClick={() => {
            close();
            void send('POST', '/sign-out').then(() => becomes(null));
          }}
        >
          Sign out
        </MenuItem>
      </Menu>
    </>
  );
}
