import { useEffect, useMemo, useRef, useState } from 'react';
import { SRGBColorSpace, TextureLoader, type Texture } from 'three';
import type { Template } from '@wet-lacquer/core/livery/template.ts';
import type { Fit } from '@wet-lacquer/core/transfer/fit.ts';
import { laidOver } from '@wet-lacquer/core/transfer/laidOver.ts';
import { Stage, type ModelSpot } from '../../parts/stage.ts';
import { hasWebGl } from '../../parts/stageTextures.ts';
import { Nothing } from '../../parts/Notice.tsx';

export const VIEWS = ['both', 'old', 'now', 'fit'] as const;
export type View = (typeof VIEWS)[number];

/** The two models, apart from one another by colour. */
export const TONES = { old: '#c8914a', now: '#8fa3b5' } as const;

interface Props {
  old: Template;
  now: Template;
  fit: Fit;
  view: View;
  /** How each sheet of the new model fits. */
  pictures: readonly { sheet: string; png: string }[];
  /** A place that was clicked on, in the metres of the new model. */
  onSpot: ((side: 'old' | 'now', spot: ModelSpot) => void) | null;
}

/** Both models on one turntable, or the new one in the colours of how it fits. */
export function OntoStage({ old, now, fit, view, pictures, onSpot }: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const stage = useRef<Stage | null>(null);
  const pressed = useRef({ x: 0, y: 0 });
  const [able] = useState(hasWebGl);
  // Of a fit only how both lie is seen.
  const lies = JSON.stringify([fit.turn, fit.scale, fit.shift]);
  const shown = useMemo(() => {
    if (view === 'fit') return now;
    const [turn, scale, shift] = JSON.parse(lies) as [Fit['turn'], Fit['scale'], Fit['shift']];
    const hexes = { old: view === 'now' ? null : TONES.old, now: view === 'old' ? null : TONES.now };
    return { ...now, ...laidOver(old, now, { turn, scale, shift }, hexes) };
  }, [old, now, view, lies]);
  const art = view === 'fit' ? pictures : null;
  useEffect(() => {
    if (!able) return;
    const loader = new TextureLoader();
    const textures = new Map<string, Texture>();
    for (const { sheet, png } of art ?? []) {
      const texture = loader.load(png, () => stage.current?.draw());
      texture.colorSpace = SRGBColorSpace;
      texture.flipY = false;
      textures.set(sheet, texture);
    }
    const made = new Stage(canvas.current!, shown, textures);
    if (stage.current) made.lookAs(stage.current);
    const before = stage.current;
    stage.current = made;
    before?.close();
    made.fill();
    return () => {
      for (const texture of textures.values()) texture.dispose();
    };
  }, [shown, art, able]);
  useEffect(
    () => () => {
      stage.current?.close();
      stage.current = null;
    },
    [],
  );
  if (!able)
    return (
      <Nothing title="The models cannot be shown">This browser has no WebGL. The list beside it says the same.</Nothing>
    );
  return (
    <canvas
      ref={canvas}
      role="img"
      aria-label={view === 'fit' ? `How ${now.name} fits` : `${old.name} and ${now.name}`}
      style={{
        position: 'absolute',
        width: '100%',
        height: '100%',
        display: 'block',
        cursor: onSpot ? 'crosshair' : undefined,
      }}
      onPointerDown={(event) => (pressed.current = { x: event.clientX, y: event.clientY })}
      onClick={(event) => {
        const { x, y } = pressed.current;
        if (!onSpot || Math.abs(event.clientX - x) + Math.abs(event.clientY - y) > 4) return;
        const spot = stage.current?.spotUnder(event);
        // The old model's triangles come first.
        const isOld = view === 'old' || (view === 'both' && spot && spot.triangle < old.mesh.indices.length / 3);
        if (spot) onSpot(isOld ? 'old' : 'now', spot);
      }}
    />
  );
}
