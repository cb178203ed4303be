import { Button, ListItemText, Menu, MenuItem } from '@mui/material';
import { useState } from 'react';
import useSWR from 'swr';
import { withLivery } from '@wet-lacquer/core/team/propose.ts';
import { MOST_OF_TEAM, type Team } from '@wet-lacquer/core/team/team.ts';
import type { BrokenCard, LiveryCard, OpenLivery } from '@wet-lacquer/sync/answers.ts';
import { get } from '../../lib/api.ts';

/** Another livery joins a team, with what it has in common with the others. */
export function AddLivery({ team, onAdd }: { team: Team; onAdd(team: Team): void }) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const { data } = useSWR<(LiveryCard | BrokenCard)[]>(anchor && '/liveries');
  const others = data?.filter(
    (card): card is LiveryCard => !('broken' in card) && !team.members.some(({ livery }) => livery === card.id),
  );
  const add = async (id: string) => {
    setAnchor(null);
    const { livery } = await get<OpenLivery>(`/liveries/${id}`);
    onAdd(withLivery(team, { id, livery }));
  };
  return (
    <>
      <Button
        disabled={team.members.length >= MOST_OF_TEAM.members}
        onClick={(event) => setAnchor(event.currentTarget)}
      >
        Add a livery
      </Button>
      <Menu anchorEl={anchor} open={anchor !== null} onClose={() => setAnchor(null)}>
        {!others && <MenuItem disabled>Reading the liveries</MenuItem>}
        {others?.length === 0 && <MenuItem disabled>All liveries are in this team</MenuItem>}
        {others?.map(({ id, name, template, game }) => (
          <MenuItem key={id} onClick={() => void add(id)}>
            <ListItemText primary={name} secondary={`${template} for ${game}`} />
          </MenuItem>
        ))}
      </Menu>
    </>
  );
}
