import { MAIN_MAP } from '../../livery/template.ts';
import { contrast, hexOfRgb } from '../../colour/hex.ts';
import { renderRegion } from '../../compose/renderTile.ts';
import { colourOf, fillIn, layersOf, type Livery } from '../../livery/livery.ts';
import type { Layer } from '../../livery/layer.ts';
import type { Check, Finding } from '../finding.ts';
import { regionOf, samplesOf } from './coverage.ts';

/** Least contrast of large text (WCAG 2.2, 1.4.3). */
const LEAST = 3;

/** The livery with a sheet's layers up to one of them. */
function below(livery: Livery, sheet: string, layer: Layer): Livery {
  const sheets = livery.sheets.map((state) =>
    state.key !== sheet
      ? state
      : {
          ...state,
          maps: state.maps.map((map) =>
            map.key === MAIN_MAP
              ? {
                  ...map,
                  layers: map.layers.slice(
                    0,
                    map.layers.findIndex((l) => l.id === layer.id),
                  ),
                }
              : map,
          ),
        },
  );
  return { ...livery, sheets };
}

export const letteringContrast: Check = {
  key: 'lettering-contrast',
  subject: 'numbers and names against their ground',
  why: 'A number that stands out from its ground by less than 3:1 cannot be read from the other end of the water.',
  run(input) {
    const { livery, template, sources } = input;
    return template.sheets.flatMap((sheet) =>
      layersOf(livery, sheet.key).flatMap((layer): Finding[] => {
        if (
          layer.kind !== 'lettering' ||
          layer.hidden ||
          layer.outline ||
          !/\d/.test(fillIn(layer.text, livery.particulars))
        )
          return [];
        const region = regionOf(input, sheet.key, layer);
        const samples = samplesOf(input, sheet.key, layer);
        if (samples.length === 0) return [];
        const ground = renderRegion(below(livery, sheet.key, layer), sheet.key, 'colour', region, sources);
        const sum = [0, 0, 0];
        let weight = 0;
        for (const { index, alpha } of samples) {
          const a = ground[index * 4 + 3];
          if (a < 6554) continue;
          for (let c = 0; c < 3; c++) sum[c] += (ground[index * 4 + c] / a) * 255 * alpha;
          weight += alpha;
        }
        if (weight === 0) return [];
        const under = sum.map((value) => Math.round(value / weight)) as [number, number, number];
        const ratio = contrast(colourOf(livery, layer.paint), under);
        if (ratio >= LEAST) return [];
        return [
          {
            check: this.key,
            level: 'advice',
            title: `“${layer.name}” is hard to read`,
            detail: `It stands out from ${hexOfRgb(under)} by ${ratio.toFixed(1)}:1; 3:1 is the least for large text.`,
            show: { sheet: sheet.key, layer: layer.id },
          },
        ];
      }),
    );
  },
};
