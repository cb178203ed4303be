import { Button, LinearProgress } from '@mui/material';
import { useEffect, useMemo, useRef, useState, type ReactNode } from 'react';
import type { Texture } from 'three';
import type { Edit } from '@wet-lacquer/core/livery/edit.ts';
import type { Template } from '@wet-lacquer/core/livery/template.ts';
import { lineUp } from '@wet-lacquer/core/surface/lineUp.ts';
import { getBytes, sentenceOf, takeBytes } from '../../lib/api.ts';
import { context2d } from '../../parts/context2d.ts';
import { Column, Row } from '../../parts/layout.tsx';
import { Lights } from '../../parts/Lights.tsx';
import { Notice } from '../../parts/Notice.tsx';
import type { LightPreset } from '../../parts/lamps.ts';
import { Stage } from '../../parts/stage.ts';
import { sheetTexture } from '../../parts/stageTextures.ts';
import { Quiet } from '../../parts/text.tsx';
import { Toggle } from '../../parts/Toggle.tsx';
import { ART, INK } from '../../theme.ts';
import { keepPicture } from './picture.ts';

export interface Lined {
  id: string;
  name: string;
  /** With the plates that stand on it as parts of it. */
  template: Template;
  /** Which step of the livery is shown. */
  revision: number;
  /** A change that nobody has made yet, shown all the same. */
  tried?: Edit | null;
}

/** A change is shown when the hand has rested for so long. */
const REST_MS = 350;

interface Props {
  members: readonly Lined[];
  /** What the picture is called when it is kept. */
  name: string;
  children?: ReactNode;
}

/** Several liveries on one turntable, in one light. */
export function LinedUp({ members, name, children }: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const stage = useRef<Stage | null>(null);
  const textures = useRef<ReadonlyMap<string, Texture>>(new Map());
  const [same, setSame] = useState(false);
  const [light, setLight] = useState<LightPreset>('Overcast');
  const who = members.map(({ id, template }) => `${id} ${template.key} ${template.parts.length}`).join();
  const { row, sheets } = useMemo(
    () => ({
      row: lineUp(
        members.map(({ template }) => template),
        same,
      ),
      sheets: members.flatMap(({ template }, n) =>
        template.sheets.map(({ key, alpha }) => ({ of: `${n}/${key}`, alpha })),
      ),
    }),
    // The stage is built anew only for other models.
    // eslint-disable-next-line react-hooks/exhaustive-deps
    [who, same],
  );
  useEffect(() => {
    const made = new Map(sheets.map(({ of }) => [of, bareTexture()]));
    textures.current = made;
    const cuts = new Set(sheets.filter(({ alpha }) => alpha === 'cutout' || alpha === 'coverage').map(({ of }) => of));
    const own = new Stage(canvas.current!, { ...members[0].template, ...row }, made, ART.stage, cuts);
    stage.current = own;
    own.fill();
    own.showWhole();
    return () => {
      own.close();
      stage.current = null;
      for (const texture of made.values()) texture.dispose();
    };
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [row, sheets]);
  const { waiting, problem } = useSheets(members, row, (of, picture) => {
    const texture = textures.current.get(of);
    if (!texture) return;
    // A texture of another size is another texture.
    texture.dispose();
    texture.image = picture;
    texture.needsUpdate = true;
    stage.current?.draw();
  });
  useEffect(() => stage.current?.light(light), [light, row]);
  const keep = () => {
    const seen = stage.current;
    if (seen)
      void keepPicture(
        name,
        seen,
        members.map((member) => member.name),
        row,
      );
  };
  return (
    <Column full>
      <div style={{ flex: 1, minHeight: 0, position: 'relative' }}>
        <canvas
          ref={canvas}
          role="img"
          aria-label={`${members.length} liveries on one turntable`}
          style={{ position: 'absolute', width: '100%', height: '100%', display: 'block' }}
        />
        <div style={{ position: 'absolute', left: 0, right: 0, top: 0 }}>
          {waiting > 0 && (
            <LinearProgress
              aria-label="Sheets"
              variant="determinate"
              value={(100 * Math.max(0, sheets.length - waiting)) / sheets.length}
            />
          )}
          {problem && <Notice level="warning">{problem}</Notice>}
        </div>
      </div>
      <div style={{ flex: 'none', padding: '6px 10px', background: INK.panel }}>
        {children}
        <Row gap={6} wrap>
          <Lights light={light} onLight={setLight} />
          <Toggle on={same} onChange={setSame}>
            All one size
          </Toggle>
          <Quiet>{same ? 'each as large as the largest' : 'in their own metres'}</Quiet>
          <Button disabled={waiting > 0} onClick={keep}>
            Save as a picture
          </Button>
        </Row>
      </div>
    </Column>
  );
}

/** A sheet of which nothing is known yet. */
function bareTexture(): Texture {
  const canvas = new OffscreenCanvas(1, 1);
  const context = context2d(canvas);
  context.fillStyle = ART.stage;
  context.fillRect(0, 0, 1, 1);
  return sheetTexture(canvas);
}

async function pictureOf({ id, tried }: Lined, sheet: string, signal: AbortSignal): Promise<ImageBitmap> {
  const path = `/liveries/${id}/sheets/${sheet}`;
  const bytes = await (tried ? takeBytes(`${path}/tried`, { edit: tried }, signal) : getBytes(path, signal));
  return createImageBitmap(new Blob([bytes], { type: 'image/png' }), { premultiplyAlpha: 'none' });
}

/** Asks for the sheets of liveries, and again for those that are to look otherwise. */
function useSheets(members: readonly Lined[], row: unknown, show: (of: string, picture: ImageBitmap) => void) {
  const [waiting, setWaiting] = useState(1);
  const [problem, setProblem] = useState<string | null>(null);
  /** How each sheet is shown now, on which stage. */
  const shown = useRef<{ row: unknown; looks: Map<string, string> }>({ row: null, looks: new Map() });
  const shows = useRef(show);
  useEffect(() => {
    shows.current = show;
  });
  const looks = members.map(({ id, revision, tried }) => `${id} ${revision} ${JSON.stringify(tried ?? null)}`);
  const look = looks.join('\n');
  useEffect(() => {
    const fresh = shown.current.row !== row;
    if (fresh) shown.current = { row, looks: new Map() };
    const now = shown.current.looks;
    const wanted = members.flatMap((member, n) =>
      member.template.sheets
        .map(({ key }) => ({ member, key, of: `${n}/${key}`, look: looks[n] }))
        .filter(({ of, look: own }) => now.get(of) !== own),
    );
    const stop = new AbortController();
    const soon = setTimeout(
      () => {
        setWaiting(wanted.length);
        setProblem(null);
        const take = async ({ member, key, of, look: own }: (typeof wanted)[number]) => {
          try {
            const picture = await pictureOf(member, key, stop.signal);
            if (stop.signal.aborted) return;
            shows.current(of, picture);
            now.set(of, own);
          } catch (error) {
            if (!stop.signal.aborted) setProblem(`${member.name}, ${key}: ${sentenceOf(error)}`);
          }
          if (!stop.signal.aborted) setWaiting((left) => left - 1);
        };
        void Promise.all(wanted.map(take));
      },
      fresh ? 0 : REST_MS,
    );
    return () => {
      clearTimeout(soon);
      stop.abort();
    };
    // What there is to see says when to ask.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [look, row]);
  return { waiting, problem };
}
