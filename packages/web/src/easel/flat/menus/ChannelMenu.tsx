import { Divider, MenuItem } from '@mui/material';
import { ColourInput } from '../../../parts/ColourInput.tsx';
import { Row } from '../../../parts/layout.tsx';
import { useSession, useSessionOf, type Channel, type SessionState } from '../../session.ts';
import { closing, FlatMenu, type MenuProps } from './FlatMenu.tsx';

export const CHANNELS: readonly { key: Channel; name: string; says: string }[] = [
  { key: 'all', name: 'Art', says: 'The art as it is' },
  { key: 'colour', name: 'Colour', says: 'Colour without alpha' },
  { key: 'red', name: 'Red', says: 'Red alone' },
  { key: 'green', name: 'Green', says: 'Green alone' },
  { key: 'blue', name: 'Blue', says: 'Blue alone' },
  { key: 'alpha', name: 'Alpha', says: 'Alpha alone' },
];
const UNDER: readonly { key: SessionState['under']; name: string }[] = [
  { key: 'checker', name: 'Checker under clear art' },
  { key: '#000000', name: 'Black under it' },
  { key: '#ffffff', name: 'White under it' },
];

/** Which channel is shown, and what lies under clear art. */
export function ChannelMenu(menu: MenuProps) {
  const { channel, under } = useSessionOf('channel', 'under');
  return (
    <FlatMenu {...menu}>
      {CHANNELS.map(({ key, says }) => (
        <MenuItem
          key={key}
          dense
          selected={channel === key}
          onClick={closing(menu, () => useSession.setState({ channel: key }))}
        >
          {says}
        </MenuItem>
      ))}
      <Divider />
      {UNDER.map(({ key, name }) => (
        <MenuItem key={key} dense selected={under === key} onClick={() => useSession.setState({ under: key })}>
          {name}
        </MenuItem>
      ))}
      <Row as="li" gap={8} pad="4px 16px">
        <Row as="label" gap={8}>
          Another colour under it
          <ColourInput
            label="Colour under clear art"
            value={under === 'checker' ? '#808080' : under}
            onShow={(hex) => useSession.setState({ under: hex as `#${string}` })}
          />
        </Row>
      </Row>
    </FlatMenu>
  );
}
