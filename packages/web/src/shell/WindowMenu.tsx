import { Divider, IconButton, Menu, MenuItem, Tooltip } from '@mui/material';
import { useState } from 'react';
import { CheckMark, CircleHalfFull } from '../parts/icons.tsx';
import { lightRoom, ROOMS_TO_CHOOSE, useRoom } from './room.ts';
import { swapSides, useSides } from './sides.ts';

/** How this browser shows things: the light of the room, the side of the columns. */
export function WindowMenu() {
  const [menu, setMenu] = useState<HTMLElement | null>(null);
  const { room: chosen } = useRoom();
  const { swapped } = useSides();
  const pick = (act: () => void) => () => {
    setMenu(null);
    act();
  };
  const tick = (on: boolean) => <CheckMark sx={{ fontSize: 16, mr: 1, visibility: on ? 'visible' : 'hidden' }} />;
  return (
    <>
      <Tooltip title="Light of the room, side of the columns">
        <IconButton
          size="small"
          color="inherit"
          aria-label="This window"
          aria-haspopup="true"
          onClick={(event) => setMenu(event.currentTarget)}
        >
          <CircleHalfFull fontSize="small" />
        </IconButton>
      </Tooltip>
      <Menu anchorEl={menu} open={menu !== null} onClose={() => setMenu(null)}>
        {ROOMS_TO_CHOOSE.map(({ room, name }) => (
          <MenuItem
            key={room}
            role="menuitemradio"
            aria-checked={room === chosen}
            onClick={pick(() => lightRoom(room))}
          >
            {tick(room === chosen)}
            {name}
          </MenuItem>
        ))}
        <Divider />
        <MenuItem role="menuitemcheckbox" aria-checked={swapped} onClick={pick(swapSides)}>
          {tick(swapped)}
          Columns on the other side
        </MenuItem>
      </Menu>
    </>
  );
}
