import { Button } from '@mui/material';
import { useEffect, useRef, useState } from 'react';
import type { Texture } from 'three';
import type { BayGame, BaySheet } from '@wet-lacquer/core/bay/report.ts';
import type { Template } from '@wet-lacquer/core/livery/template.ts';
import { hasWebGl, levelsTexture, LIGHTS, Stage, type LightPreset } from '../../parts/stage.ts';
import { Nothing } from '../../parts/Notice.tsx';
import { INK } from '../../theme.ts';

interface Props {
  template: Template;
  sheets: readonly BaySheet[];
  view: BayGame['view'];
}

/** What a sheet is shown as beside its plain look: "night", "far", "wet" ... */
const lookOf = (key: string) => key.split('/')[1] ?? null;

/** The craft as the game shows it, from the textures that it decoded. */
export function BayModel({ template, sheets, view }: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const stage = useRef<Stage | null>(null);
  const [light, setLight] = useState<LightPreset>(view.light);
  const [look, setLook] = useState<string | null>(null);
  const [able] = useState(hasWebGl);
  const looks = [...new Set(sheets.flatMap(({ key }) => lookOf(key) ?? []))];
  useEffect(() => {
    const textures = new Map<string, Texture>();
    for (const { key } of template.sheets) {
      const as = (wanted: string) => sheets.find((sheet) => sheet.key === wanted && sheet.status !== 'own');
      const sheet = (look && as(`${key}/${look}`)) ?? as(key);
      if (!sheet) continue;
      const levels = [sheet, ...sheet.levels].map(({ width, height, pixels }) => ({ width, height, data: pixels }));
      textures.set(key, levelsTexture(levels, view.texels === 'nearest' ? 'nearest' : 'linear'));
    }
    stage.current = able ? new Stage(canvas.current!, template, textures, '#8b8b8b') : null;
    stage.current?.zoom(view.distance);
    const watch = new ResizeObserver(([entry]) => {
      const { width, height } = entry.contentRect;
      if (width > 1 && height > 1) stage.current?.resize(width, height);
    });
    watch.observe(canvas.current!.parentElement!);
    return () => {
      watch.disconnect();
      stage.current?.close();
      stage.current = null;
      for (const texture of textures.values()) texture.dispose();
    };
  }, [template, sheets, able, look, view]);
  useEffect(() => stage.current?.light(light), [light, sheets, look]);
  const choice = (name: string, on: boolean, choose: () => void) => (
    <Button
      key={name}
      aria-pressed={on}
      onClick={choose}
      sx={{ background: on ? INK.accentDeep : INK.panel, minHeight: 26, py: 0, px: 1 }}
    >
      {name}
    </Button>
  );
  return (
    <div style={{ position: 'relative', height: '100%', overflow: 'hidden' }}>
      <canvas
        ref={canvas}
        role="img"
        aria-label="The craft in the game"
        style={{ width: '100%', height: '100%', display: 'block' }}
      />
      {!able && (
        <div style={{ position: 'absolute', inset: 0, background: INK.room }}>
          <Nothing title="The craft cannot be shown">
            This browser has no WebGL. The list beside it says what the game loaded.
          </Nothing>
        </div>
      )}
      <div
        role="group"
        aria-label="Light"
        style={{ position: 'absolute', left: 10, bottom: 10, display: 'flex', gap: 6 }}
      >
        {LIGHTS.map((preset) => choice(preset, preset === light, () => setLight(preset)))}
      </div>
      {looks.length > 0 && (
        <div
          role="group"
          aria-label="Look"
          style={{ position: 'absolute', right: 10, bottom: 10, display: 'flex', gap: 6 }}
        >
          {[null, ...looks].map((one) => choice(one ?? 'plain', one === look, () => setLook(one)))}
        </div>
      )}
    </div>
  );
}
