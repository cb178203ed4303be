import { Button } from '@mui/material';
import { useState, type ReactNode } from 'react';
import { useNavigate } from 'react-router';
import { capital } from '@wet-lacquer/core/capital.ts';
import { CHECKS } from '@wet-lacquer/core/delivery/checks/index.ts';
import type { Finding } from '@wet-lacquer/core/delivery/finding.ts';
import { findingGroups, isGroup, type FindingGroup } from '@wet-lacquer/core/delivery/findingGroups.ts';
import type { PreflightAnswer } from '@wet-lacquer/sync/answers.ts';
import { PlainList, Row, Stack } from '../../parts/layout.tsx';
import { Quiet } from '../../parts/text.tsx';
import { choose, useSession } from '../../easel/session.ts';
import { sentenceOf } from '../../lib/api.ts';
import { sendStep } from '../../lib/step.ts';
import { count } from '../../lib/words.ts';
import { Notice } from '../../parts/Notice.tsx';
import { stopsOf } from './answers.ts';
import { Tick } from '../../parts/Tick.tsx';
import { ART, INK } from '../../theme.ts';
import { AlertOutline, CheckMark, MinusCircleOutline } from '../../parts/icons.tsx';

/** What preflight found, worst first; each with "show me" and, where there is one, a fix. */
export function PreflightColumn({
  answer,
  liveryId,
  onFixed,
  problem: asking,
  top,
  overruled,
  onOverrule,
}: {
  answer: PreflightAnswer;
  liveryId: string;
  onFixed(): Promise<void>;
  /** Why what is shown is not of now. */
  problem: string | null;
  /** What stands above the findings. */
  top: ReactNode;
  /** Names of findings that somebody lets go on. */
  overruled: ReadonlySet<string>;
  onOverrule(name: string, on: boolean): void;
}) {
  const at = { liveryId, revision: answer.revision };
  const [problem, setProblem] = useState<string | null>(null);
  const navigate = useNavigate();
  const { findings, fine, checks } = answer.preflight;
  const stops = stopsOf(answer, overruled);

  const show = (finding: Finding) => {
    if (!finding.show) return;
    if ('particular' in finding.show) {
      useSession.setState({ column: 'particulars', focus: `particular-${finding.show.particular}` });
      void navigate(`/liveries/${liveryId}?particular=${finding.show.particular}`);
    } else {
      choose(finding.show.layer ?? null, finding.show.sheet);
      void navigate(`/liveries/${liveryId}`);
    }
  };
  const mend = async ({ edit, label }: Fix) => {
    setProblem(null);
    try {
      await sendStep(liveryId, answer.revision, edit, label);
    } catch (error) {
      setProblem(sentenceOf(error));
    }
    await onFixed();
  };

  return (
    <section aria-label="Preflight" style={{ overflowY: 'auto', background: INK.panel, padding: '14px 12px' }}>
      {top}
      <h1 style={{ fontSize: 15, margin: '0 0 2px 4px' }}>Preflight</h1>
      <p style={{ margin: '0 0 10px 4px', color: INK.quiet }}>
        {answer.spec.gameName}, {count(checks, 'check')},{' '}
        {stops === 0 ? 'nothing stops the delivery' : `${stops} ${stops === 1 ? 'stops' : 'stop'} the delivery`}
      </p>
      {(problem ?? asking) && <Notice level="error">{problem ?? asking}</Notice>}
      <PlainList gap={10}>
        {findingGroups(findings).map((one, i) =>
          isGroup(one) ? (
            <GroupItem key={`${one.title}-${i}`} at={at} group={one} onFix={(fix) => void mend(fix)} onShow={show} />
          ) : (
            <FindingItem
              key={`${one.check}-${i}`}
              at={at}
              finding={one}
              overruled={one.overrule !== undefined && overruled.has(one.overrule)}
              onOverrule={onOverrule}
              onFix={(fix) => void mend(fix)}
              onShow={show}
            />
          ),
        )}
        {fine.length > 0 && (
          <Stack as="li" columns="26px 1fr" pad={8}>
            <CheckMark fontSize="small" sx={{ color: INK.good }} />
            <details>
              <summary style={{ fontWeight: 600, cursor: 'pointer' }}>
                {fine.length === 1 ? '1 check is fine' : `${fine.length} checks are fine`}
              </summary>
              <PlainList gap={2}>
                {fine.map((subject) => (
                  <Quiet as="li" key={subject}>
                    {capital(subject)}
                  </Quiet>
                ))}
              </PlainList>
            </details>
          </Stack>
        )}
      </PlainList>
    </section>
  );
}

type Fix = NonNullable<Finding['fix']>;

interface Acts {
  /** What the findings are of. */
  at: { liveryId: string; revision: number };
  onFix(fix: Fix): void;
  onShow(finding: Finding): void;
}

/** The frame of a finding: what it weighs by shape, word and colour. */
function Weighed({ stop, children }: { stop: boolean; children: ReactNode }) {
  const Icon = stop ? MinusCircleOutline : AlertOutline;
  return (
    <li
      style={{
        display: 'grid',
        gridTemplateColumns: '26px 1fr',
        padding: '8px 8px 10px',
        border: `1px solid ${stop ? INK.red : INK.line}`,
        borderRadius: 2,
        background: stop ? INK.raised : 'transparent',
      }}
    >
      <Icon
        fontSize="small"
        aria-label={stop ? 'stops the delivery' : 'advice'}
        sx={{ color: stop ? INK.red : INK.amber }}
      />
      <div>{children}</div>
    </li>
  );
}

function FindingItem({
  finding,
  overruled,
  onOverrule,
  ...acts
}: Acts & { finding: Finding; overruled: boolean; onOverrule(name: string, on: boolean): void }) {
  const { overrule } = finding;
  return (
    <Weighed stop={finding.level === 'stop' && !overruled}>
      <div style={{ fontWeight: 600 }}>{finding.title}</div>
      <About finding={finding} at={acts.at} />
      <Ways finding={finding} {...acts} />
      {overrule && (
        <Tick label="Deliver all the same" checked={overruled} onChange={(on) => onOverrule(overrule, on)} />
      )}
    </Weighed>
  );
}

/** Many of a kind: one line that opens, and what mends all of them. */
function GroupItem({ group: { title, findings, fix }, ...acts }: Acts & { group: FindingGroup }) {
  return (
    <Weighed stop={findings[0].level === 'stop'}>
      <details>
        <summary style={{ fontWeight: 600, cursor: 'pointer' }}>{title}</summary>
        <PlainList gap={8}>
          {findings.map((finding) => (
            <li key={finding.title + finding.detail} style={{ borderTop: `1px solid ${INK.line}`, paddingTop: 6 }}>
              <div>{finding.title}</div>
              <About finding={finding} at={acts.at} />
              <Ways finding={finding} {...acts} />
            </li>
          ))}
        </PlainList>
      </details>
      {fix && (
        <Row gap={6} above={6}>
          <Button size="small" onClick={() => acts.onFix(fix)}>
            {fix.label}: all {findings.length}
          </Button>
        </Row>
      )}
    </Weighed>
  );
}

/** What was found, where it is, and why anybody should mind. */
function About({ finding: { check, detail, show }, at }: { finding: Finding; at: Acts['at'] }) {
  const layer = show && 'layer' in show ? show.layer : undefined;
  const why = WHY.get(check);
  return (
    <>
      <div style={{ color: INK.quiet, margin: '2px 0 6px' }}>{detail}</div>
      {layer && <Place key={layer} layer={layer} at={at} />}
      {why && (
        <div style={{ margin: '0 0 8px', paddingLeft: 8, borderLeft: `2px solid ${INK.line}` }}>
          <Quiet small>{why}</Quiet>
        </div>
      )}
    </>
  );
}
const WHY = new Map(CHECKS.map(({ key, why }) => [key, why]));

/** The sheet about a layer; nothing while it cannot be had. */
function Place({ layer, at: { liveryId, revision } }: { layer: string; at: Acts['at'] }) {
  const [failed, setFailed] = useState(false);
  if (failed) return null;
  return (
    <img
      loading="lazy"
      src={`/api/liveries/${liveryId}/layers/${layer}/place?revision=${revision}`}
      alt="Where it lies on its sheet"
      onError={() => setFailed(true)}
      style={{
        ...{ display: 'block', width: '100%', aspectRatio: '560 / 240', objectFit: 'contain' },
        ...{ background: ART.ground, marginBottom: 6 },
      }}
    />
  );
}

/** What can be done about a finding. */
function Ways({ finding, onFix, onShow }: Acts & { finding: Finding }) {
  return (
    <Row align="stretch" gap={6} wrap>
      {[finding.fix, finding.otherFix].map(
        (one) =>
          one && (
            <Button key={one.label} size="small" onClick={() => onFix(one)}>
              {one.label}
            </Button>
          ),
      )}
      {finding.show && (
        <Button size="small" onClick={() => onShow(finding)}>
          Show me
        </Button>
      )}
    </Row>
  );
}
