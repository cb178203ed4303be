import { Button, Dialog, DialogActions, DialogContent, DialogTitle, LinearProgress } from '@mui/material';
import { useEffect, useRef, useState } from 'react';
import type { TemplateSheet } from '@wet-lacquer/core/livery/template.ts';
import { sendAndHear, sentenceOf } from '../../lib/api.ts';
import { Notice } from '../../parts/Notice.tsx';
import { NumberField } from '../../parts/NumberField.tsx';
import { addLayer } from '../actions.ts';
import { useEasel, useLivery } from '../context.ts';
import { shadingLayer } from './makers.ts';

type Step = { done: number } | { blob: string; width: number; height: number } | { error: string };

/** Bakes ambient occlusion for a sheet on the server, and puts it on as a layer that multiplies. */
export function BakeDialog({ sheet, onClose }: { sheet: TemplateSheet; onClose(): void }) {
  const { doc } = useEasel();
  const { pins } = useLivery();
  const [reach, setReach] = useState(1.5);
  const [rays, setRays] = useState(64);
  const [done, setDone] = useState<number | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const stop = useRef<AbortController | null>(null);
  useEffect(() => () => stop.current?.abort(), []);

  const bake = async () => {
    const control = new AbortController();
    stop.current = control;
    setDone(0);
    setProblem(null);
    try {
      const path = `/templates/${pins.template}/sheets/${sheet.key}/occlusion`;
      for await (const step of sendAndHear<Step>(path, { rays, reach }, control.signal)) {
        if ('error' in step) throw new Error(step.error);
        if ('done' in step) setDone(step.done);
        else {
          await addLayer(doc, shadingLayer('Occlusion', step), 'Base');
          onClose();
        }
      }
    } catch (failure) {
      setDone(null);
      if (!control.signal.aborted) setProblem(sentenceOf(failure));
    }
  };
  const cancel = () => {
    stop.current?.abort();
    onClose();
  };
  return (
    <Dialog open onClose={cancel} fullWidth maxWidth="xs" aria-labelledby="bake">
      <DialogTitle id="bake">Occlusion for {sheet.name}</DialogTitle>
      <DialogContent sx={{ display: 'grid', gap: 1.5 }}>
        <p style={{ margin: 0 }}>
          Corners and gaps of the model become darker. The result is a layer that multiplies; fade it as you like.
        </p>
        <NumberField
          label="reaches"
          unit="m"
          value={reach}
          min={0.01}
          max={1000}
          step={0.1}
          digits={2}
          disabled={done !== null}
          onCommit={setReach}
        />
        <NumberField
          label="rays a texel"
          value={rays}
          min={8}
          max={512}
          step={8}
          digits={0}
          disabled={done !== null}
          onCommit={setRays}
        />
        {done !== null && (
          <div role="status">
            {done < 1 ? `Casting rays, ${Math.round(done * 100)} %` : 'Bringing it to the sheet’s size'}
            <LinearProgress variant="determinate" value={done * 100} />
          </div>
        )}
        {problem && <Notice level="error">{problem}</Notice>}
      </DialogContent>
      <DialogActions>
        <Button onClick={cancel}>Cancel</Button>
        <Button variant="contained" color="primary" disabled={done !== null} onClick={() => void bake()}>
          Bake
        </Button>
      </DialogActions>
    </Dialog>
  );
}
