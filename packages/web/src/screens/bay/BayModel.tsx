import { Button } from '@mui/material';
import { useEffect, useRef, useState } from 'react';
import type { BaySheet } from '@wet-lacquer/core/bay/report.ts';
import type { Template } from '@wet-lacquer/core/livery/template.ts';
import { hasWebGl, LIGHTS, sheetTexture, Stage, type LightPreset } from '../../easel/turntable/stage.ts';
import { Nothing } from '../../parts/Notice.tsx';
import { INK } from '../../theme.ts';

/** The craft as the game shows it, from the textures that it decoded. */
export function BayModel({ template, sheets }: { template: Template; sheets: readonly BaySheet[] }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const stage = useRef<Stage | null>(null);
  const [light, setLight] = useState<LightPreset>('Low sun');
  const [able] = useState(hasWebGl);
  useEffect(() => {
    const shown = sheets.filter((sheet) => sheet.status !== 'own');
    const textures = new Map(
      shown.map((sheet) => {
        const picture = new OffscreenCanvas(sheet.width, sheet.height);
        picture
          .getContext('2d')!
          .putImageData(new ImageData(new Uint8ClampedArray(sheet.pixels), sheet.width, sheet.height), 0, 0);
        return [sheet.key, sheetTexture(picture)] as const;
      }),
    );
    stage.current = able ? new Stage(canvas.current!, template, textures, '#8b8b8b') : null;
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
  }, [template, sheets, able]);
  useEffect(() => stage.current?.light(light), [light, sheets]);
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
        {LIGHTS.map((preset) => (
          <Button
            key={preset}
            aria-pressed={preset === light}
            onClick={() => setLight(preset)}
            sx={{ background: preset === light ? INK.accentDeep : INK.panel, minHeight: 26, py: 0, px: 1 }}
          >
            {preset}
          </Button>
        ))}
      </div>
    </div>
  );
}
