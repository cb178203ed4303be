import { useEffect, useRef } from 'react';
import type { BayPicture } from '@wet-lacquer/core/bay/report.ts';

/** What a game in two dimensions shows, whole, in texels that stay square. */
export function BayLevel({ scene }: { scene: BayPicture }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const { width, height, pixels } = scene;
    const image = new ImageData(new Uint8ClampedArray(pixels), width, height);
    canvas.current?.getContext('2d')?.putImageData(image, 0, 0);
  }, [scene]);
  return (
    <div style={{ height: '100%', display: 'grid', placeItems: 'center', padding: 16 }}>
      <canvas
        ref={canvas}
        role="img"
        aria-label="The level in the game"
        width={scene.width}
        height={scene.height}
        style={{ maxWidth: '100%', maxHeight: '100%', display: 'block', imageRendering: 'pixelated' }}
      />
    </div>
  );
}
