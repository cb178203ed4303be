import { LinearProgress } from '@mui/material';
import { Link, useNavigate } from 'react-router';
import useSWR from 'swr';
import type { TemplateCard } from '@wet-lacquer/sync/answers.ts';
import { sidesOf } from '../../lib/words.ts';
import { Column } from '../../parts/layout.tsx';
import { Quiet } from '../../parts/text.tsx';
import { sendFile, sentenceOf } from '../../lib/api.ts';
import { Nothing, Notice } from '../../parts/Notice.tsx';
import { TopBar } from '../../shell/TopBar.tsx';
import { ART, INK } from '../../theme.ts';
import { bringIn } from './bring.ts';
import { BringIn } from './BringIn.tsx';

/** All subjects that can be painted, and the way in for new ones. */
export function TemplatesScreen() {
  const { data, error } = useSWR<TemplateCard[]>('/templates');
  const navigate = useNavigate();
  return (
    <Column full>
      <TopBar trail="Templates" />
      <main style={{ flex: 1, overflow: 'auto', padding: '20px 24px' }}>
        <h1 style={{ fontSize: 18, margin: '0 0 12px' }}>Templates</h1>
        <BringIn
          onFiles={async (files) => {
            if (files.length === 1 && /\.template\.zip$/i.test(files[0].path)) {
              const { hash } = await sendFile<{ hash: string }>('/templates/packages', files[0].file);
              await navigate(`/templates/${hash}`);
            } else await navigate(`/templates/bring/${await bringIn(files)}`);
          }}
        >
          <strong>A new subject</strong>
          <Quiet as="div">
            Drop a folder, an archive, layered files, textures or a model; or a package (.template.zip) that somebody
            saved. They are copied; the originals stay as they are.
          </Quiet>
        </BringIn>
        <p style={{ margin: '8px 0 0', color: INK.quiet }}>
          Only one texture out of a game’s container?{' '}
          <Link to="/templates/container" style={{ color: INK.text }}>
            Open a container
          </Link>
        </p>
        {error && !data && <Notice level="error">{sentenceOf(error)}</Notice>}
        {!data && !error && <LinearProgress aria-label="Reading the templates" />}
        {data?.length === 0 && (
          <Nothing title="No template yet">Bring in what the game or its community gives out.</Nothing>
        )}
        <ul
          aria-label="Templates"
          style={{
            display: 'grid',
            gridTemplateColumns: 'repeat(auto-fill, minmax(260px, 1fr))',
            gap: 16,
            padding: 0,
            margin: '16px 0 0',
            listStyle: 'none',
          }}
        >
          {data?.map((template) => (
            <li key={template.hash} style={{ background: INK.panel, border: `1px solid ${INK.line}`, borderRadius: 2 }}>
              <Link
                to={`/templates/${template.hash}`}
                style={{ color: 'inherit', textDecoration: 'none', display: 'block' }}
              >
                <img
                  src={`/api/templates/${template.hash}/picture`}
                  alt=""
                  style={{
                    width: '100%',
                    height: 'auto',
                    display: 'block',
                    background: ART.ground,
                    aspectRatio: '560 / 360',
                  }}
                />
                <div style={{ padding: '10px 12px' }}>
                  <div style={{ fontWeight: 600, fontSize: 14 }}>{template.name}</div>
                  <Quiet as="div">
                    for {template.gameName}
                    {template.own && ', from files brought in'}
                  </Quiet>
                  <div style={{ marginTop: 6 }}>
                    {template.sheets.map((sheet) => `${sheet.name} ${sidesOf(sheet)}`).join(', ')}
                  </div>
                </div>
              </Link>
            </li>
          ))}
        </ul>
      </main>
    </Column>
  );
}
