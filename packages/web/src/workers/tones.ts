import { drawAlone, renderRegion, type Scene } from '@wet-lacquer/core/compose/renderTile.ts';
import { oklabInto, type Oklab } from '@wet-lacquer/core/colour/oklab.ts';
import type { Region } from '@wet-lacquer/core/layers/kind.ts';
import { withLayers } from '@wet-lacquer/core/livery/livery.ts';
import type { LayerTones } from './messages.ts';

const BINS = 256;

/** The tones of a layer before its changes; of an adjustment, those of everything that is there without it. */
export function tonesOf(scene: Scene, id: string, region: Region): LayerTones | null {
  const layer = scene.layers.find((one) => one.id === id);
  if (!layer) return null;
  const { livery, sheet, map, sources } = scene;
  const bare = scene.layers.map((one) => (one.id === id ? { ...one, filters: undefined } : one));
  const texels =
    layer.kind === 'adjust'
      ? renderRegion(
          withLayers(livery, sheet, map, bare.slice(0, scene.layers.indexOf(layer))),
          sheet,
          map,
          region,
          sources,
        )
      : drawAlone({ ...scene, layers: bare }, id, region, 'full');
  const histogram = {
    all: new Uint32Array(BINS),
    red: new Uint32Array(BINS),
    green: new Uint32Array(BINS),
    blue: new Uint32Array(BINS),
  };
  const lightness = new Uint32Array(1001);
  let count = 0;
  const lab: Oklab = [0, 0, 0];
  for (let i = 0; texels && i < texels.length; i += 4) {
    const a = texels[i + 3];
    if (a < 3277) continue;
    count++;
    const rgb = [0, 1, 2].map((c) => texels[i + c] / a);
    (['red', 'green', 'blue'] as const).forEach((name, c) => {
      const bin = Math.round(rgb[c] * 255);
      histogram[name][bin]++;
      histogram.all[bin]++;
    });
    oklabInto(rgb[0], rgb[1], rgb[2], lab);
    lightness[Math.max(0, Math.min(1000, Math.round(lab[0] * 1000)))]++;
  }
  if (count === 0) return null;
  const at = (share: number) => {
    let sum = 0;
    for (let i = 0; i < lightness.length; i++) {
      sum += lightness[i];
      if (sum >= count * share) return i / 1000;
    }
    return 1;
  };
  return { histogram, middle: at(0.5), range: [at(0.05), at(0.95)] };
}
