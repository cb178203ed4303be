import { LinearProgress } from '@mui/material';
import { useEffect, useMemo, useRef, useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import useSWR from 'swr';
import { TextureLoader, SRGBColorSpace, type Texture } from 'three';
import type { Template } from '@wet-lacquer/core/livery/template.ts';
import { lineUp } from '@wet-lacquer/core/surface/lineUp.ts';
import type { BrokenCard, LiveryCard, OpenLivery } from '@wet-lacquer/sync/answers.ts';
import { get, sentenceOf } from '../../lib/api.ts';
import { Column, Row } from '../../parts/layout.tsx';
import { Nothing, Notice } from '../../parts/Notice.tsx';
import { Lights } from '../../parts/Lights.tsx';
import { hasWebGl, Stage, type LightPreset } from '../../parts/stage.ts';
import { Hidden, Quiet } from '../../parts/text.tsx';
import { Toggle } from '../../parts/Toggle.tsx';
import { TopBar } from '../../shell/TopBar.tsx';
import { Trail } from '../../shell/Trail.tsx';
import { INK } from '../../theme.ts';

/** More would be too small to see. */
const MOST = 12;

/** A row is long and low: the camera stands nearer than before one model. */
const NEARER = 0.72;

interface Member {
  id: string;
  name: string;
  template: Template;
}

async function membersOf(ids: readonly string[]): Promise<Member[]> {
  const cards = await get<(LiveryCard | BrokenCard)[]>('/liveries');
  return Promise.all(
    ids.map(async (id) => {
      const { livery } = await get<OpenLivery>(`/liveries/${id}`);
      const name = cards.find((card) => card.id === id)?.name ?? id;
      return { id, name, template: await get<Template>(`/templates/${livery.pins.template}`) };
    }),
  );
}

/** Several liveries on one turntable, in one light. */
export function LineUpScreen() {
  const [search] = useSearchParams();
  const ids = (search.get('of') ?? '').split(',').filter(Boolean).slice(0, MOST);
  const { data: members, error } = useSWR(ids.length > 0 ? ['line-up', ...ids] : null, () => membersOf(ids), {
    revalidateOnFocus: false,
    shouldRetryOnError: false,
  });
  const [able] = useState(hasWebGl);
  return (
    <Column full>
      <TopBar
        trail={
          <Trail to="/" of="Liveries">
            Line-up
          </Trail>
        }
      />
      <main style={{ flex: 1, minHeight: 0, position: 'relative', background: INK.room }}>
        <Hidden as="h1">Line-up</Hidden>
        {error && <Notice level="error">{sentenceOf(error)}</Notice>}
        {ids.length === 0 && (
          <Nothing title="Nobody is in the line-up">
            <Link to="/" style={{ color: INK.text }}>
              Choose several liveries by their ticks
            </Link>
          </Nothing>
        )}
        {ids.length > 0 && !members && !error && <LinearProgress aria-label="Setting them up" />}
        {members && (able ? <Lined members={members} /> : <Nothing title="This browser has no WebGL" />)}
      </main>
    </Column>
  );
}

function Lined({ members }: { members: readonly Member[] }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const stage = useRef<Stage | null>(null);
  const [same, setSame] = useState(false);
  const [light, setLight] = useState<LightPreset>('Overcast');
  const [come, setCome] = useState(0);
  const sheets = useMemo(
    () =>
      members.flatMap(({ id, template }, n) =>
        template.sheets.map(({ key, alpha }) => ({ id, key, of: `${n}/${key}`, alpha })),
      ),
    [members],
  );
  useEffect(() => {
    const loader = new TextureLoader();
    const textures = new Map<string, Texture>();
    for (const { id, key, of } of sheets) {
      const texture = loader.load(`/api/liveries/${id}/sheets/${key}`, () => {
        stage.current?.draw();
        setCome((n) => n + 1);
      });
      texture.colorSpace = SRGBColorSpace;
      texture.flipY = false;
      textures.set(of, texture);
    }
    const row = lineUp(
      members.map(({ template }) => template),
      same,
    );
    const cuts = new Set(sheets.filter(({ alpha }) => alpha === 'cutout' || alpha === 'coverage').map(({ of }) => of));
    const made = new Stage(canvas.current!, { ...members[0].template, ...row }, textures, INK.stage, cuts);
    stage.current = made;
    made.zoom(NEARER);
    made.fill();
    return () => {
      made.close();
      stage.current = null;
      for (const texture of textures.values()) texture.dispose();
    };
  }, [members, sheets, same]);
  useEffect(() => stage.current?.light(light), [light, members, same]);
  const waiting = come < sheets.length;
  return (
    <>
      <canvas
        ref={canvas}
        role="img"
        aria-label={`${members.length} liveries on one turntable`}
        style={{ position: 'absolute', width: '100%', height: '100%', display: 'block' }}
      />
      {waiting && (
        <div style={{ position: 'absolute', left: 0, right: 0, top: 0 }}>
          <LinearProgress
            aria-label="Sheets"
            variant="determinate"
            value={(100 * Math.min(come, sheets.length)) / sheets.length}
          />
        </div>
      )}
      <ul
        aria-label="In the line-up"
        style={{
          position: 'absolute',
          left: 10,
          top: 10,
          margin: 0,
          padding: '6px 10px',
          listStyle: 'none',
          background: INK.panel,
        }}
      >
        {members.map(({ id, name }) => (
          <li key={id}>
            <Link to={`/liveries/${id}`} style={{ color: INK.text }}>
              {name}
            </Link>
          </li>
        ))}
      </ul>
      <div style={{ position: 'absolute', left: 10, bottom: 10, padding: 6, background: INK.panel }}>
        <Row gap={6} wrap>
          <Lights light={light} onLight={setLight} />
          <Toggle on={same} onChange={setSame}>
            All one size
          </Toggle>
          <Quiet>{same ? 'each as large as the largest' : 'in their own metres'}</Quiet>
        </Row>
      </div>
    </>
  );
}
