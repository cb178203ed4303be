import { Button, LinearProgress } from '@mui/material';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { send, sentenceOf } from '../../lib/api.ts';
import { useRouteParam } from '../../lib/useRouteParam.ts';
import { Columns } from '../../parts/Columns.tsx';
import { Column, Row } from '../../parts/layout.tsx';
import { Nothing, Notice } from '../../parts/Notice.tsx';
import { hasWebGl } from '../../parts/stageTextures.ts';
import { TextEntry } from '../../parts/TextEntry.tsx';
import { Heading, Hidden } from '../../parts/text.tsx';
import { TopBar } from '../../shell/TopBar.tsx';
import { Trail } from '../../shell/Trail.tsx';
import { ShareButton } from '../../people/ShareButton.tsx';
import { INK } from '../../theme.ts';
import { LinedUp } from '../lineUp/LinedUp.tsx';
import { AddLivery } from './AddLivery.tsx';
import { GiveBar } from './GiveBar.tsx';
import { SharedTable } from './SharedTable.tsx';
import { TeamClashes } from './TeamClashes.tsx';
import { useTeam, type TeamState } from './useTeam.ts';
import { Versions } from './Versions.tsx';

/** A team: all its liveries on one turntable, and what they share, changed once for all. */
export function TeamScreen() {
  const id = useRouteParam('id');
  const state = useTeam(id);
  const { team, saved, mates, error } = state;
  return (
    <Column full>
      <TopBar
        trail={
          <Trail to="/" of="Liveries">
            {saved?.team.name ?? 'Team'}
          </Trail>
        }
      />
      {error && <Notice level="error">{sentenceOf(error)}</Notice>}
      {!error && !team && <LinearProgress aria-label="Reading the team" />}
      {team && (
        <Columns sizes={['minmax(0, 5fr)', 'minmax(420px, 6fr)']} heights={['44vh']}>
          <section aria-label="Turntable" style={{ position: 'relative', background: INK.room, minHeight: 0 }}>
            <Turntable state={state} />
          </section>
          <div style={{ display: 'flex', flexDirection: 'column', minWidth: 0, minHeight: 0, background: INK.panel }}>
            <div style={{ flex: 1, minHeight: 0, overflow: 'auto', padding: '14px 18px' }}>
              <Hidden as="h1">{team.name}</Hidden>
              <Head id={id} state={state} />
              <TeamClashes state={state} />
              <Heading as="h2" size={15}>
                Shared
              </Heading>
              {mates.length > 0 && <SharedTable state={state} />}
              <Versions state={state} />
            </div>
            <GiveBar state={state} />
          </div>
        </Columns>
      )}
    </Column>
  );
}

function Turntable({ state: { lined, team } }: { state: TeamState }) {
  const [able] = useState(hasWebGl);
  if (!able) return <Nothing title="This browser has no WebGL" />;
  return lined.length > 0 ? (
    <LinedUp members={lined} name={team!.name} />
  ) : (
    <LinearProgress aria-label="Setting them up" />
  );
}

function Head({ id, state: { team, change, changed, missing } }: { id: string; state: TeamState }) {
  const navigate = useNavigate();
  const [problem, setProblem] = useState<string | null>(null);
  if (!team) return null;
  const letGo = () =>
    send('DELETE', `/teams/${id}`).then(
      () => navigate('/', { state: { letGo: { id, name: team.name } } }),
      (failure: unknown) => setProblem(sentenceOf(failure)),
    );
  return (
    <>
      <Row gap={8} wrap below={12}>
        <div style={{ flex: '1 1 180px' }}>
          <TextEntry
            label="called"
            value={team.name}
            required
            maxLength={60}
            onCommit={(name) => change({ ...team, name })}
          />
        </div>
        <AddLivery team={team} onAdd={change} />
        <Button
          component={Link}
          to={`/teams/${id}/deliver`}
          disabled={changed}
          title={changed ? 'Give the liveries what is changed first' : undefined}
        >
          Deliver all
        </Button>
        <ShareButton kind="team" object={id} name={team.name} />
        <Button variant="text" sx={{ color: INK.quiet }} onClick={() => void letGo()}>
          Let the team go
        </Button>
      </Row>
      {problem && <Notice level="error">{problem}</Notice>}
      {missing.length > 0 && (
        <Notice
          level="warning"
          action={
            <Button
              size="small"
              disabled={missing.length >= team.members.length}
              onClick={() =>
                change({ ...team, members: team.members.filter(({ livery }) => !missing.includes(livery)) })
              }
            >
              Take out
            </Button>
          }
        >
          {missing.length === 1 ? 'One livery' : `${missing.length} liveries`} of this team cannot be read, or{' '}
          {missing.length === 1 ? 'is' : 'are'} no longer here.
        </Notice>
      )}
    </>
  );
}
