import { MenuItem } from '@mui/material';
import { useSession, type Surround } from '../../session.ts';
import { closing, FlatMenu, type MenuProps } from './FlatMenu.tsx';

const SURROUNDS: readonly { key: Surround; name: string }[] = [
  { key: 'black', name: 'Black' },
  { key: 'grey', name: 'Mid grey' },
  { key: 'white', name: 'White' },
];

/** What lies about the sheet. */
export function SurroundMenu(menu: MenuProps) {
  const surround = useSession((s) => s.surround);
  return (
    <FlatMenu {...menu}>
      {SURROUNDS.map(({ key, name }) => (
        <MenuItem
          key={key}
          selected={surround === key}
          onClick={closing(menu, () => useSession.setState({ surround: key }))}
        >
          {name}
        </MenuItem>
      ))}
    </FlatMenu>
  );
}
