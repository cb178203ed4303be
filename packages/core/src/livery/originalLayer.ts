import { newLayerId, type LayerId, type Sha256 } from './ids.ts';
import type { LayerOf } from './layer.ts';

/** A map as it came, as the layer that all paint lies on: locked, whole, changed by nothing. @param blob its stored pixels */
export const originalLayer = (
  blob: Sha256,
  { width, height }: { width: number; height: number },
  id: LayerId = newLayerId(),
): LayerOf<'picture'> => ({
  kind: 'picture',
  id,
  name: 'Original',
  phase: 'Base',
  hidden: false,
  locked: true,
  opacity: 100,
  blend: 'normal',
  parts: [],
  blob,
  left: 0,
  top: 0,
  width,
  height,
});
