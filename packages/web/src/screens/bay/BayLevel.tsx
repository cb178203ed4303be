import { useEffect, useRef, useState } from 'react';
import type { BayPicture } from '@wet-lacquer/core/bay/report.ts';
import { Row } from '../../parts/layout.tsx';
import { Toggle } from '../../parts/Toggle.tsx';

const WHOLE = { maxWidth: '100%', maxHeight: '100%', display: 'block', imageRendering: 'pixelated' } as const;

/** What a game in two dimensions shows, whole, in texels that stay square; beside it, where asked for, with a bare sheet. */
export function BayLevel({ scene, game }: { scene: BayPicture; game: string }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const [beside, setBeside] = useState(false);
  useEffect(() => {
    const { width, height, pixels } = scene;
    const image = new ImageData(new Uint8ClampedArray(pixels), width, height);
    canvas.current?.getContext('2d')?.putImageData(image, 0, 0);
  }, [scene]);
  return (
    <div style={{ height: '100%', display: 'flex', flexDirection: 'column' }}>
      <div
        style={{
          flex: 1,
          minHeight: 0,
          display: 'grid',
          gap: 8,
          padding: 16,
          placeItems: 'center',
          ...ROWS[beside ? 2 : 1],
        }}
      >
        {beside && (
          <img src={`/api/bay/${game}/picture?own=yes&wide=yes`} alt="The level with a bare sheet" style={WHOLE} />
        )}
        <canvas
          ref={canvas}
          role="img"
          aria-label={beside ? 'The level as delivered' : 'The level in the game'}
          width={scene.width}
          height={scene.height}
          style={WHOLE}
        />
      </div>
      <Row gap={6} pad="0 10px 10px">
        <Toggle on={beside} onChange={setBeside}>
          Beside a bare sheet
        </Toggle>
      </Row>
    </div>
  );
}
const ROWS = { 1: { gridTemplateRows: 'minmax(0, 1fr)' }, 2: { gridTemplateRows: 'minmax(0, 1fr) minmax(0, 1fr)' } };
