import { useEffect, useRef } from 'react';
import type { Layer } from '@wet-lacquer/core/livery/layer.ts';
import { useEasel, useLivery } from '../context.ts';

const [WIDTH, HEIGHT] = [128, 58];

/** The chosen layer alone, on mid grey. */
export function LayerThumb({ layer }: { layer: Layer }) {
  const { model } = useEasel();
  const livery = useLivery();
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    let wanted = true;
    const timer = setTimeout(() => {
      model
        .ask('layerThumb', { layer: layer.id, width: WIDTH, height: HEIGHT })
        .then((thumb) => {
          const ctx = canvas.current?.getContext('2d');
          if (!wanted || !ctx) return;
          ctx.clearRect(0, 0, WIDTH, HEIGHT);
          if (thumb) ctx.putImageData(new ImageData(thumb.pixels, thumb.width, thumb.height), 0, 0);
        })
        .catch(() => {});
    }, 150);
    return () => {
      wanted = false;
      clearTimeout(timer);
    };
  }, [layer, livery, model]);
  return (
    <canvas
      ref={canvas}
      aria-hidden
      width={WIDTH}
      height={HEIGHT}
      style={{ width: '100%', height: 54, background: '#777', flex: 'none' }}
    />
  );
}
