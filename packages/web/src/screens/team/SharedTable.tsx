import { Fragment } from 'react';
import { Link } from 'react-router';
import { ITEMS } from '@wet-lacquer/core/team/items/index.ts';
import { byKind, type TeamItem } from '@wet-lacquer/core/team/team.ts';
import { Nothing } from '../../parts/Notice.tsx';
import { CUT_OFF, Hidden } from '../../parts/text.tsx';
import { STANDS_ALONE } from '../../parts/field.ts';
import { INK } from '../../theme.ts';
import { AddShared } from './AddShared.tsx';
import { ItemHead } from './ItemHead.tsx';
import { MemberCell } from './MemberCell.tsx';
import type { TeamState } from './useTeam.ts';

/** What is shared, a line each, and how each livery stands to it. */
export function SharedTable({ state }: { state: TeamState }) {
  const { team, mates, change } = state;
  if (!team) return null;
  const set = (item: TeamItem, to: TeamItem | null) =>
    change({
      ...team,
      items: team.items.flatMap((one) => (one.id !== item.id ? [one] : to ? [to] : [])),
      members: to
        ? team.members
        : team.members.map(({ places, own, ...member }) => ({
            ...member,
            places: Object.fromEntries(Object.entries(places).filter(([id]) => id !== item.id)),
            own: own.filter((id) => id !== item.id),
          })),
    });
  return (
    <>
      {team.items.length === 0 && (
        <Nothing title="These liveries share nothing yet">Choose what they have in common below.</Nothing>
      )}
      <div style={{ overflowX: 'auto' }}>
        <table style={{ borderCollapse: 'collapse', width: '100%' }}>
          <thead>
            <tr>
              <th scope="col" style={{ ...HEAD, minWidth: 170 }}>
                <Hidden>What</Hidden>
              </th>
              {mates.map(({ id, name }) => (
                <th key={id} scope="col" style={{ ...HEAD, minWidth: 96, maxWidth: 150 }}>
                  <Link
                    to={`/liveries/${id}`}
                    title={name}
                    style={{ color: INK.text, ...STANDS_ALONE, display: 'block', ...CUT_OFF }}
                  >
                    {name}
                  </Link>
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {byKind(team.items).map(({ kind, items }) => (
              <Fragment key={kind}>
                <tr>
                  <th
                    scope="colgroup"
                    colSpan={mates.length + 1}
                    style={{ textAlign: 'left', padding: '10px 0 2px', color: INK.quiet, fontWeight: 400 }}
                  >
                    {ITEMS[kind].called}
                  </th>
                </tr>
                {items.map((item) => (
                  <tr key={item.id} style={{ borderTop: `1px solid ${INK.line}` }}>
                    <th scope="row" style={{ textAlign: 'left', padding: '3px 8px 3px 0', fontWeight: 400 }}>
                      <ItemHead item={item} onSet={(to) => set(item, to)} />
                    </th>
                    {mates.map((mate) => (
                      <MemberCell key={mate.id} item={item} mate={mate} state={state} />
                    ))}
                  </tr>
                ))}
              </Fragment>
            ))}
          </tbody>
        </table>
      </div>
      <AddShared state={state} />
    </>
  );
}

const HEAD = { textAlign: 'left', padding: '6px 8px 4px 0', fontWeight: 600 } as const;
