import { Button, Snackbar } from '@mui/material';
import { useState } from 'react';
import { Link, useLocation, useNavigate } from 'react-router';
import useSWR from 'swr';
import { MOST_OF_TEAM } from '@wet-lacquer/core/team/team.ts';
import { proposeTeam, type TeamLivery } from '@wet-lacquer/core/team/propose.ts';
import type { OpenLivery, TeamCard } from '@wet-lacquer/sync/answers.ts';
import { person } from '../../easel/person.ts';
import { get, send, sentenceOf } from '../../lib/api.ts';
import { CUT_OFF, Heading, Quiet } from '../../parts/text.tsx';
import { INK } from '../../theme.ts';
import { cutTo } from '@wet-lacquer/core/livery/words.ts';

/** What most of some liveries say that their team is. */
function nameOf(liveries: readonly TeamLivery[]): string {
  const names = liveries.map(({ livery }) => livery.particulars.team?.trim() ?? '').filter(Boolean);
  const times = (name: string) => names.filter((one) => one === name).length;
  return cutTo(
    names.reduce((a, b) => (times(b) > times(a) ? b : a), names[0] ?? 'Team'),
    60,
  );
}

/** Makes a team of liveries and opens it. */
export function MakeTeam({ of, onProblem }: { of: readonly string[]; onProblem(problem: string): void }) {
  const navigate = useNavigate();
  const [busy, setBusy] = useState(false);
  const make = async () => {
    setBusy(true);
    try {
      const liveries = await Promise.all(
        of.map(async (id) => ({ id, livery: (await get<OpenLivery>(`/liveries/${id}`)).livery })),
      );
      const team = proposeTeam(nameOf(liveries), liveries);
      const { id } = await send<{ id: string }>('POST', '/teams', { team, person: person() });
      await navigate(`/teams/${id}`);
    } catch (failure) {
      onProblem(sentenceOf(failure));
      setBusy(false);
    }
  };
  return (
    <Button disabled={busy || of.length < 2 || of.length > MOST_OF_TEAM.members} onClick={() => void make()}>
      Make a team of {of.length}
    </Button>
  );
}

/** The teams that there are; none: nothing. */
export function Teams() {
  const { data, mutate } = useSWR<TeamCard[]>('/teams');
  const { state } = useLocation() as { state: { letGo?: { id: string; name: string } } | null };
  const navigate = useNavigate();
  const gone = state?.letGo;
  const forget = () => void navigate('.', { replace: true, state: null });
  return (
    <>
      {data && data.length > 0 && (
        <section aria-label="Teams" style={{ marginTop: 16 }}>
          <Heading as="h2" size={15}>
            Teams
          </Heading>
          <ul style={{ display: 'flex', flexWrap: 'wrap', gap: 12, margin: '8px 0 0', padding: 0, listStyle: 'none' }}>
            {data.map(({ id, name, members }) => (
              <li key={id} style={{ minWidth: 0, maxWidth: '100%' }}>
                <Link
                  to={`/teams/${id}`}
                  style={{
                    ...{ display: 'block', padding: '8px 14px', background: INK.panel, color: INK.text },
                    ...{ border: `1px solid ${INK.line}`, borderRadius: 2, textDecoration: 'none' },
                  }}
                >
                  <strong style={{ fontWeight: 600 }}>{name}</strong>
                  <div style={{ maxWidth: 420, ...CUT_OFF }}>
                    <Quiet small>{members.map((member) => member.name ?? 'one that cannot be read').join(', ')}</Quiet>
                  </div>
                </Link>
              </li>
            ))}
          </ul>
        </section>
      )}
      <Snackbar
        open={gone !== undefined}
        autoHideDuration={8000}
        onClose={(_, why) => why !== 'clickaway' && forget()}
        message={`The team “${gone?.name}” is let go; its liveries stay.`}
        slotProps={{ content: { sx: { background: INK.raised, color: INK.text, border: `1px solid ${INK.line}` } } }}
        action={
          <Button
            size="small"
            onClick={() =>
              void send('POST', `/teams/${gone!.id}/restore`)
                .then(() => mutate())
                .finally(forget)
            }
          >
            Undo
          </Button>
        }
      />
    </>
  );
}
