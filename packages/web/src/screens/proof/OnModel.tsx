import { Button } from '@mui/material';
import { useEffect, useRef, useState } from 'react';
import type { Livery } from '@wet-lacquer/core/livery/livery.ts';
import type { Template } from '@wet-lacquer/core/livery/template.ts';
import { Stage } from '../../parts/stage.ts';
import { hasWebGl, levelsTexture } from '../../parts/stageTextures.ts';
import { stagePlates } from '../../parts/stagePlates.ts';
import { Nothing } from '../../parts/Notice.tsx';
import { ART, INK } from '../../theme.ts';
import type { Trial } from '../../workers/proofMessages.ts';
import type { ProofClient } from './cells.ts';
import { useProof } from './proofState.ts';

interface Props {
  template: Template;
  plates: Livery['plates'];
  client: ProofClient;
  trial: Trial;
}

/** The model with the encoded levels on it; which level shows where is the graphics processor's choice, by distance. */
export function OnModel({ template, plates, client, trial }: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const { sheet, news } = useProof();
  const [able] = useState(hasWebGl);
  const [shows, setShows] = useState(false);
  const stage = useRef<Stage | null>(null);
  const finished = news?.findings !== null && news !== null;
  const version = news?.version;
  useEffect(() => {
    if (!able || !finished) return;
    let closed = false;
    const show = (answer: Awaited<ReturnType<typeof client.ask<'model'>>>) => {
      if (closed || !answer || !canvas.current) return;
      const { levels } = useProof.getState().news!;
      const texture = levelsTexture(levels.map((level, i) => ({ ...level, data: answer[i] })));
      const made = new Stage(canvas.current, template, new Map([[sheet, texture]]));
      const worn = plates?.filter((plate) => plate.sheet === sheet);
      made.plates(stagePlates(worn, template));
      made.light('Unlit');
      stage.current = made;
      made.fill();
      setShows(true);
    };
    // A proof that is left at once needs no answer.
    client.ask('model', { trial }).then(show, () => {});
    return () => {
      closed = true;
      stage.current?.close();
      stage.current = null;
      setShows(false);
    };
  }, [able, client, finished, plates, sheet, template, trial, version]);
  return (
    <section
      aria-label="On the model"
      style={{ position: 'relative', minWidth: 0, minHeight: 0, overflow: 'hidden', background: ART.stage }}
    >
      <canvas
        key={`${trial.format} ${version}`}
        ref={canvas}
        tabIndex={0}
        role="application"
        aria-label="The model with the encoded sheet. Plus and minus come nearer and go farther."
        onKeyDown={(event) => {
          if (event.key === '+' || event.key === '=') stage.current?.zoom(0.8);
          else if (event.key === '-') stage.current?.zoom(1.25);
          else if (event.key === 'ArrowLeft') stage.current?.orbit(-10, 0);
          else if (event.key === 'ArrowRight') stage.current?.orbit(10, 0);
        }}
        style={{ width: '100%', height: '100%', display: 'block', touchAction: 'none', outlineOffset: -2 }}
      />
      {!able && (
        <div style={{ position: 'absolute', inset: 0, background: INK.room }}>
          <Nothing title="The model cannot be shown">This browser has no WebGL.</Nothing>
        </div>
      )}
      {able && !shows && (
        <p role="status" style={{ position: 'absolute', left: 12, top: 8, margin: 0 }}>
          The model comes when every level is encoded.
        </p>
      )}
      <span style={{ position: 'absolute', left: 8, bottom: 8, display: 'flex', gap: 6 }}>
        <Button sx={{ background: INK.panel }} onClick={() => stage.current?.zoom(0.7)}>
          Nearer
        </Button>
        <Button sx={{ background: INK.panel }} onClick={() => stage.current?.zoom(1.4)}>
          Farther
        </Button>
      </span>
    </section>
  );
}
