import { Button, ListSubheader, Menu, MenuItem } from '@mui/material';
import { useState } from 'react';
import { ITEMS } from '@wet-lacquer/core/team/items/index.ts';
import { notShared, sharing } from '@wet-lacquer/core/team/propose.ts';
import { MOST_OF_TEAM } from '@wet-lacquer/core/team/team.ts';
import { Row } from '../../parts/layout.tsx';
import type { TeamState } from './useTeam.ts';
import { ValueChip } from './ValueChip.tsx';

/** Something that one livery has becomes the team's. */
export function AddShared({ state: { team, mates, change } }: { state: TeamState }) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  if (!team) return null;
  const all = anchor ? mates.map((mate) => ({ mate, left: notShared(team, mate) })) : [];
  return (
    <>
      <Button
        sx={{ mt: 1 }}
        disabled={team.items.length >= MOST_OF_TEAM.items}
        onClick={(event) => setAnchor(event.currentTarget)}
      >
        Share something more
      </Button>
      <Menu anchorEl={anchor} open={anchor !== null} onClose={() => setAnchor(null)}>
        {all.every(({ left }) => left.length === 0) && <MenuItem disabled>Everything is shared</MenuItem>}
        {all.flatMap(({ mate, left }) => [
          ...(left.length > 0 ? [<ListSubheader key={mate.id}>Of {mate.name}</ListSubheader>] : []),
          ...left.map(({ kind, found }) => (
            <MenuItem
              key={`${mate.id} ${kind} ${found.places[0]}`}
              onClick={() => {
                setAnchor(null);
                change(sharing(team, kind, found, mates, mate.id));
              }}
            >
              <Row gap={8}>
                <span style={{ minWidth: 90 }}>{found.name || ITEMS[kind].called}</span>
                <ValueChip kind={kind} value={found.value} />
              </Row>
            </MenuItem>
          )),
        ])}
      </Menu>
    </>
  );
}
