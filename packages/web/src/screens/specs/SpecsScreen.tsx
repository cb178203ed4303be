import { LinearProgress } from '@mui/material';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import useSWR from 'swr';
import type { SpecCard } from '@wet-lacquer/sync/answers.ts';
import { Column, Row } from '../../parts/layout.tsx';
import { Heading, Quiet } from '../../parts/text.tsx';
import { send, sentenceOf } from '../../lib/api.ts';
import { count } from '../../lib/words.ts';
import { FilePick } from '../../parts/FilePick.tsx';
import { Nothing, Notice } from '../../parts/Notice.tsx';
import { TopBar } from '../../shell/TopBar.tsx';
import { bringIn } from '../templates/bring.ts';
import { BringIn } from '../templates/BringIn.tsx';
import { INK, MONO } from '../../theme.ts';

const FROM = { made: 'made here', shipped: 'came with Wet Lacquer', template: 'taken from a skin’s files' };

/** What each game wants of a delivery. */
export function SpecsScreen() {
  const { data, error } = useSWR<SpecCard[]>('/specs');
  const [problem, setProblem] = useState<string | null>(null);
  const navigate = useNavigate();
  const open = async (file: File) => {
    setProblem(null);
    try {
      const document: unknown = await file.text().then((text) => JSON.parse(text) as unknown);
      const { key } = await send<{ key: string }>('POST', '/specs', document);
      await navigate(`/specs/${key}`);
    } catch (reason) {
      setProblem(reason instanceof SyntaxError ? `${file.name} is not JSON.` : sentenceOf(reason));
    }
  };
  return (
    <Column full>
      <TopBar trail="Delivery specs" />
      <main style={{ flex: 1, overflow: 'auto', padding: '20px 24px' }}>
        <Row gap={12} below={12}>
          <Heading as="h1" size={18} grow>
            Delivery specs
          </Heading>
          <FilePick accept=".json,application/json" label="A spec’s file" onFile={(file) => void open(file)}>
            Open a spec’s file
          </FilePick>
        </Row>
        <BringIn
          onFiles={async (files) => navigate(`/templates/bring/${await bringIn(files)}`, { state: { want: 'spec' } })}
        >
          <strong>From a skin that works</strong>
          <Quiet as="div">
            Drop the folder of a skin that the game takes: its formats, names and tree become a spec, and what had to be
            guessed is marked.
          </Quiet>
        </BringIn>
        <div style={{ height: 12 }} />
        {problem && <Notice level="error">{problem}</Notice>}
        {error && !data && <Notice level="error">{sentenceOf(error)}</Notice>}
        {!data && !error && <LinearProgress aria-label="Reading the specs" />}
        {data?.length === 0 && <Nothing title="No spec yet">Open one from a file.</Nothing>}
        {data && data.length > 0 && (
          <table
            aria-label="Delivery specs"
            style={{ width: '100%', borderCollapse: 'collapse', background: INK.panel }}
          >
            <thead>
              <tr style={{ color: INK.quiet, textAlign: 'left' }}>
                {['game', 'files', 'formats', 'goes as', 'from', 'liveries'].map((head) => (
                  <th key={head} scope="col" style={{ ...CELL, fontWeight: 400 }}>
                    {head}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {data.map((spec) => (
                <tr key={`${spec.from} ${spec.key}`}>
                  <td style={CELL}>
                    <Link to={`/specs/${spec.key}`} style={{ color: INK.text, fontWeight: 600 }}>
                      {spec.gameName}
                    </Link>
                    <Quiet as="div" small mono>
                      {spec.key}, version {spec.version}
                    </Quiet>
                  </td>
                  <td style={CELL}>
                    {count(spec.files, 'rule')}
                    {spec.sidecars > 0 && `, ${count(spec.sidecars, 'sidecar')}`}
                  </td>
                  <td style={CELL}>{spec.formats.map((format) => format.toUpperCase()).join(', ')}</td>
                  <td style={CELL}>
                    {spec.package ? `one package, .${spec.package.split('.').at(-1)}` : 'files in a folder'}
                  </td>
                  <td style={CELL}>{FROM[spec.from]}</td>
                  <td style={{ ...CELL, fontFamily: MONO, fontSize: 12 }}>{spec.liveries || '-'}</td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
      </main>
    </Column>
  );
}

const CELL = { padding: '8px 12px', borderBottom: `1px solid ${INK.line}`, verticalAlign: 'top' } as const;
