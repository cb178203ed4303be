import type { Layer } from '@wet-lacquer/core/livery/layer.ts';
import { useThumb } from '../useThumb.ts';
import { ART } from '../../theme.ts';

const [WIDTH, HEIGHT] = [128, 58];

/** The chosen layer alone, on mid grey. */
export function LayerThumb({ layer }: { layer: Layer }) {
  const canvas = useThumb('layerThumb', { layer: layer.id, width: WIDTH, height: HEIGHT }, 150);
  return (
    <canvas
      ref={canvas}
      aria-hidden
      width={WIDTH}
      height={HEIGHT}
      style={{ width: '100%', height: 54, background: ART.ground, flex: 'none' }}
    />
  );
}
