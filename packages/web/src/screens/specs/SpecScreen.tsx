import { Button, LinearProgress } from '@mui/material';
import { useState } from 'react';
import { Link, useLocation, useNavigate } from 'react-router';
import useSWR, { useSWRConfig } from 'swr';
import { SHIPPED_SPECS } from '@wet-lacquer/core/games/index.ts';
import { DeliverySpec } from '@wet-lacquer/core/livery/spec.ts';
import type { SpecCard } from '@wet-lacquer/sync/answers.ts';
import { Column, Row, Stack } from '../../parts/layout.tsx';
import { Heading } from '../../parts/text.tsx';
import { useRouteParam } from '../../lib/useRouteParam.ts';
import { send, sentenceOf } from '../../lib/api.ts';
import { saveFile } from '../../lib/saveFile.ts';
import { Nothing, Notice } from '../../parts/Notice.tsx';
import { ShareButton } from '../../people/ShareButton.tsx';
import { TopBar } from '../../shell/TopBar.tsx';
import { INK } from '../../theme.ts';
import { Guesses } from './Guesses.tsx';
import { SpecForm } from './SpecForm.tsx';
import { SpecText } from './SpecText.tsx';
import { SpecTrial } from './SpecTrial.tsx';

const textOf = (spec: DeliverySpec) => JSON.stringify(spec, null, 2) + '\n';

/** One delivery spec: as fields, as text, and as it would come out. */
export function SpecScreen() {
  const key = useRouteParam('key');
  const { data, error } = useSWR<DeliverySpec>(`/specs/${key}`, { revalidateOnFocus: false });
  return (
    <Column full>
      <TopBar
        trail={
          <>
            <Link to="/specs" style={{ color: 'inherit', textDecoration: 'none' }}>
              Delivery specs
            </Link>{' '}
            / <span style={{ color: INK.text, fontWeight: 600 }}>{data?.gameName ?? key}</span>
          </>
        }
      />
      {error && !data && (
        <Nothing title="This spec could not be opened">
          <Notice level="error">{sentenceOf(error)}</Notice>
        </Nothing>
      )}
      {!data && !error && <LinearProgress aria-label="Opening the spec" />}
      {data && <Spec key={`${data.key} ${data.version}`} stored={data} />}
    </Column>
  );
}

function Spec({ stored }: { stored: DeliverySpec }) {
  const { data: cards } = useSWR<SpecCard[]>('/specs');
  const { mutate } = useSWRConfig();
  const navigate = useNavigate();
  const { remarks = [] } = (useLocation().state ?? {}) as { remarks?: string[] };
  const [text, setText] = useState(() => textOf(stored));
  const [spec, setSpec] = useState(stored);
  const [problem, setProblem] = useState<string | null>(null);
  const [valid, setValid] = useState(true);
  const readOnly = cards?.find((card) => card.key === stored.key)?.from !== 'made';
  const changed = text !== textOf(stored);

  const write = (next: string) => {
    setText(next);
    try {
      const parsed = DeliverySpec.safeParse(JSON.parse(next));
      setValid(parsed.success);
      if (parsed.success) setSpec(parsed.data);
    } catch {
      setValid(false);
    }
  };
  const keep = async (document: DeliverySpec) => {
    setProblem(null);
    try {
      await send('POST', '/specs', document);
      await mutate('/specs');
      await mutate(`/specs/${document.key}`);
      await navigate(`/specs/${document.key}`);
    } catch (error) {
      setProblem(sentenceOf(error));
    }
  };
  const duplicate = () => {
    const taken = new Set([...(cards ?? []).map((card) => card.key), ...Object.keys(SHIPPED_SPECS)]);
    let n = 2;
    while (taken.has(`${stored.key}-${n}`)) n++;
    void keep({ ...spec, key: `${stored.key}-${n}`, version: 1 });
  };
  const save = () => saveFile(`${spec.key}.spec.json`, textOf(spec), 'application/json');

  return (
    <Stack as="main" columns="460px minmax(0, 1fr)" grow shrink>
      <div
        style={{ overflowY: 'auto', background: INK.panel, padding: '14px 16px', borderRight: `1px solid ${INK.line}` }}
      >
        <Heading as="h1" size={15}>
          {spec.gameName}
        </Heading>
        <p style={{ margin: '2px 0 10px', color: INK.quiet }}>
          {stored.key}, version {stored.version}
          {readOnly && '. It stays as it is; a duplicate can be changed.'}
        </p>
        <Row align="stretch" gap={6} wrap below={12}>
          {!readOnly && (
            <Button
              variant="contained"
              disabled={!changed || !valid}
              onClick={() => void keep({ ...spec, key: stored.key, version: stored.version + 1 })}
            >
              Save as version {stored.version + 1}
            </Button>
          )}
          <ShareButton kind="spec" object={spec.key} name={spec.gameName} />
          <Button onClick={duplicate} disabled={!valid}>
            Duplicate
          </Button>
          <Button onClick={save} disabled={!valid}>
            Save to a file
          </Button>
        </Row>
        {problem && <Notice level="error">{problem}</Notice>}
        {!valid && (
          <Notice level="warning">
            The text is not a spec yet; where is marked in it. The fields show it as it was.
          </Notice>
        )}
        {remarks.map((remark) => (
          <Notice key={remark} level="warning">
            {remark}
          </Notice>
        ))}
        {spec.guesses && spec.guesses.length > 0 && (
          <Guesses
            guesses={spec.guesses}
            readOnly={readOnly || !valid}
            onChange={(change) => write(textOf({ ...spec, ...change }))}
          />
        )}
        {spec.lacks && <p style={{ color: INK.quiet }}>{spec.lacks}</p>}
        <SpecForm spec={spec} readOnly={readOnly || !valid} onChange={(next) => write(textOf(next))} />
        <SpecTrial spec={spec} />
      </div>
      <SpecText text={text} readOnly={readOnly} onChange={write} />
    </Stack>
  );
}
