import { Menu, MenuItem } from '@mui/material';
import { useState } from 'react';
import { kindOf } from '@wet-lacquer/core/team/items/index.ts';
import { alike } from '@wet-lacquer/core/team/items/kind.ts';
import { standingOf } from '@wet-lacquer/core/team/standing.ts';
import { placesOf, type Team, type TeamItem, type TeamMember } from '@wet-lacquer/core/team/team.ts';
import { count } from '../../lib/words.ts';
import { Quiet } from '../../parts/text.tsx';
import { INK } from '../../theme.ts';
import type { Mate, TeamState } from './useTeam.ts';
import { ValueChip } from './ValueChip.tsx';

interface Props {
  item: TeamItem;
  mate: Mate;
  state: TeamState;
}

/** How one livery stands to something shared, and what can be done about it. */
export function MemberCell({ item, mate, state }: Props) {
  const { team, saved, change } = state;
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const member = team!.members.find(({ livery }) => livery === mate.id);
  if (!member) return <td />;
  const standing = standingOf(item, member, mate.livery);
  const old = saved?.team.items.find(({ id }) => id === item.id);
  // What has the team's value of before gets the new one; what is brought along does as well.
  const comes =
    standing.is === 'differs' &&
    (state.isBrought(mate.id, item.id) ||
      (old !== undefined && standing.values.every((value) => alike(value, old.value))));
  const made = standing.is === 'none' && placesOf(member, item.id).length > 0 && state.isBrought(mate.id, item.id);
  const words =
    comes || made
      ? 'gets it'
      : { shared: 'shared', differs: 'differs', own: 'its own', none: 'not in it' }[standing.is];
  const put = (next: TeamMember, brought: Parameters<TeamState['change']>[1] = [], items?: Team['items']) =>
    change(
      {
        ...team!,
        ...(items && { items }),
        members: team!.members.map((one) => (one.livery === mate.id ? next : one)),
      },
      brought,
    );
  const place = kindOf(item.kind).newPlace(item.name);
  const own = (on: boolean) =>
    put({ ...member, own: on ? [...member.own, item.id] : member.own.filter((id) => id !== item.id) });
  const deeds: { words: string; do(): void }[] = [
    ...(standing.is === 'differs' && !comes
      ? [{ words: 'Give it the team’s', do: () => put(member, [{ livery: mate.id, item: item.id }]) }]
      : []),
    ...(standing.is === 'differs' && !comes && standing.values.length === 1
      ? [
          {
            words: 'Make its own the team’s',
            do: () =>
              put(
                member,
                [],
                team!.items.map((one) =>
                  one.id === item.id ? ({ ...item, value: standing.values[0] } as TeamItem) : one,
                ),
              ),
          },
        ]
      : []),
    ...(standing.is === 'shared' || standing.is === 'differs'
      ? [{ words: 'Let it have its own', do: () => own(true) }]
      : []),
    ...(standing.is === 'own' ? [{ words: 'Let it follow the team again', do: () => own(false) }] : []),
    ...(standing.is === 'none' && place !== null && !made
      ? [
          {
            words: 'Put it in',
            do: () =>
              put({ ...member, places: { ...member.places, [item.id]: [place] } }, [
                { livery: mate.id, item: item.id },
              ]),
          },
        ]
      : []),
  ];
  const known = `${mate.name}, ${item.name}: ${words}`;
  const look = (
    <>
      <span
        style={{
          color: comes || made ? INK.accent : standing.is === 'differs' ? INK.amber : INK.quiet,
          fontSize: 12,
        }}
      >
        {words}
      </span>
      {(standing.is === 'differs' || standing.is === 'own') &&
        standing.values
          .slice(0, 2)
          .map((value, n) => <ValueChip key={n} kind={item.kind} value={value} words={false} />)}
      {standing.places > 1 && <Quiet small>{count(standing.places, 'place')}</Quiet>}
    </>
  );
  if (deeds.length === 0) return <td style={CELL}>{look}</td>;
  return (
    <td style={CELL}>
      <button
        type="button"
        aria-haspopup="menu"
        aria-label={known}
        onClick={(event) => setAnchor(event.currentTarget)}
        style={{
          ...{ display: 'grid', gap: 2, justifyItems: 'start', width: '100%', minHeight: 28, padding: '2px 4px' },
          ...{ background: 'transparent', border: 0, color: INK.text, font: 'inherit', cursor: 'pointer' },
          ...{ textAlign: 'left', alignContent: 'center' },
        }}
      >
        {look}
      </button>
      <Menu anchorEl={anchor} open={anchor !== null} onClose={() => setAnchor(null)}>
        {deeds.map((deed) => (
          <MenuItem
            key={deed.words}
            onClick={() => {
              setAnchor(null);
              deed.do();
            }}
          >
            {deed.words}
          </MenuItem>
        ))}
      </Menu>
    </td>
  );
}

const CELL = { padding: '3px 8px 3px 0', verticalAlign: 'middle' } as const;
