import { LinearProgress } from '@mui/material';
import { Link } from 'react-router';
import { sentenceOf } from '../../lib/api.ts';
import { useRouteParam } from '../../lib/useRouteParam.ts';
import { count } from '../../lib/words.ts';
import { Column, PlainList, Row, Stack } from '../../parts/layout.tsx';
import { Notice } from '../../parts/Notice.tsx';
import { Tick } from '../../parts/Tick.tsx';
import { Heading, Hidden, Quiet } from '../../parts/text.tsx';
import { TopBar } from '../../shell/TopBar.tsx';
import { Trail } from '../../shell/Trail.tsx';
import { STANDS_ALONE } from '../../parts/field.ts';
import { INK } from '../../theme.ts';
import { stopsOf, toWrite } from '../deliver/answers.ts';
import { TeamClashes } from './TeamClashes.tsx';
import { TeamRun } from './TeamRun.tsx';
import { useTeam } from './useTeam.ts';
import { useTeamDelivery, type Looked, type TeamDelivery } from './useTeamDelivery.ts';

/** Preflight of every livery of a team, and the delivery of all of them in one go. */
export function TeamDeliverScreen() {
  const id = useRouteParam('id');
  const state = useTeam(id);
  const delivery = useTeamDelivery(id, state.mates);
  const { looked, error } = delivery;
  const failed = state.error ?? error;
  return (
    <Column full>
      <TopBar
        trail={
          <Trail to={`/teams/${id}`} of={state.team?.name ?? 'Team'}>
            Deliver all
          </Trail>
        }
      />
      <main style={{ flex: 1, minHeight: 0, overflow: 'auto', padding: '18px 24px' }}>
        <Heading as="h1" size={18}>
          Deliver {state.team?.name ?? 'the team'}
        </Heading>
        <Quiet as="p">Each livery goes to its own game, by its own spec: all of them, or none.</Quiet>
        {failed && <Notice level="error">{sentenceOf(failed)}</Notice>}
        <div style={{ marginTop: 12 }}>
          <TeamClashes state={state} />
        </div>
        {!looked && !failed && <LinearProgress aria-label="Looking through the liveries" />}
        <PlainList gap={10} aria-label="Liveries">
          {looked?.map((one) => (
            <Livery key={one.mate.id} one={one} delivery={delivery} />
          ))}
        </PlainList>
      </main>
      {looked && <TeamRun delivery={delivery} />}
    </Column>
  );
}

function Livery({ one, delivery }: { one: Looked; delivery: TeamDelivery }) {
  const { mate, answers } = one;
  const overruled = delivery.overruledOf(mate.id);
  const stops = answers.reduce((sum, answer) => sum + stopsOf(answer, overruled), 0);
  const findings = answers.flatMap(({ spec, preflight }) =>
    preflight.findings.map((finding) => ({ finding, game: spec.gameName })),
  );
  return (
    <li style={{ background: INK.panel, border: `1px solid ${stops > 0 ? INK.red : INK.line}`, padding: '10px 14px' }}>
      <Row gap={12} wrap>
        <Tick label={mate.name} checked={!delivery.left.has(mate.id)} onChange={(on) => delivery.leave(mate.id, !on)} />
        <Quiet>
          {answers.map((answer) => `${count(toWrite(answer).length, 'file')} to ${answer.spec.gameName}`).join(', ')}
        </Quiet>
        <Quiet>{stops > 0 ? count(stops, 'finding stops it', 'findings stop it') : 'nothing stops it'}</Quiet>
        <Link to={`/liveries/${mate.id}/deliver`} style={{ color: INK.text, marginLeft: 'auto', ...STANDS_ALONE }}>
          Its own preflight<Hidden> of {mate.name}</Hidden>
        </Link>
      </Row>
      {findings.length > 0 && (
        <details open={stops > 0}>
          <summary style={{ cursor: 'pointer', padding: '6px 0', color: INK.quiet }}>
            {count(findings.length, 'finding')}
          </summary>
          <Stack as="div" gap={8}>
            {findings.map(({ finding, game }, n) => (
              <div key={n} style={{ borderTop: `1px solid ${INK.line}`, paddingTop: 6 }}>
                <strong style={{ color: finding.level === 'stop' ? INK.red : INK.text, fontWeight: 600 }}>
                  {finding.level === 'stop' ? 'Stops it: ' : ''}
                  {finding.title}
                </strong>
                {answers.length > 1 && <Quiet> ({game})</Quiet>}
                <Quiet as="div">{finding.detail}</Quiet>
                {finding.overrule && (
                  <Tick
                    label="Deliver all the same"
                    checked={overruled.has(finding.overrule)}
                    onChange={(on) => delivery.overrule(mate.id, finding.overrule!, on)}
                  />
                )}
              </div>
            ))}
          </Stack>
        </details>
      )}
    </li>
  );
}
