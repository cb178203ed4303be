import { ciede2000, labOf } from '../../colour/ciede2000.ts';
import { rgbOfHex, type SrgbRgb } from '../../colour/hex.ts';
import { LINEAR_OF_SRGB8, srgb8OfLinear } from '../../colour/srgb.ts';
import { finishOf, type Flake } from '../../livery/finish.ts';
import { isUnseen, paintsOf } from '../../livery/layer.ts';
import { colourOf, layersOf } from '../../livery/livery.ts';
import { groupsAround } from '../../livery/tree.ts';
import type { Check, Finding } from '../finding.ts';

/** Least difference (CIEDE2000) between paint and paint with flakes that is seen in sun (common practice, no source). */
const SEEN = 3;

/** A paint with flakes in it, seen from far: their share of the light. Straight 8-bit sRGB. */
export function withFlakes(paint: SrgbRgb, { tint, density, strength }: Flake): SrgbRgb {
  const share = (density * strength) / 10_000;
  const flake = rgbOfHex(tint);
  return paint.map((v, c) =>
    srgb8OfLinear(Math.round(LINEAR_OF_SRGB8[v] * (1 - share) + LINEAR_OF_SRGB8[flake[c]] * share)),
  ) as unknown as SrgbRgb;
}

export const flakeUnseen: Check = {
  key: 'flake-unseen',
  subject: 'flakes in paint',
  why: 'Flakes of the paint’s own colour, or too few of them, cost a zone and are not seen even in low sun.',
  run({ livery, template }) {
    return template.sheets.flatMap((sheet) => {
      const layers = layersOf(livery, sheet.key);
      return layers.flatMap((layer): Finding[] => {
        if (isUnseen(layer) || layer.kind === 'group') return [];
        const around = groupsAround(layers, layer).map(({ finish }) => finish);
        const finish = finishOf(
          livery,
          [layer.finish, ...around].find((id) => finishOf(livery, id)),
        );
        const [paint] = paintsOf(layer);
        if (!finish?.flake || !paint) return [];
        const colour = colourOf(livery, paint);
        const apart = ciede2000(labOf(colour), labOf(withFlakes(colour, finish.flake)));
        if (apart >= SEEN) return [];
        return [
          {
            check: this.key,
            level: 'advice',
            title: `The flakes of “${finish.name}” are not seen on “${layer.name}”`,
            detail: `They change its colour by ${apart.toFixed(1)} (CIEDE2000); under ${SEEN} nobody sees them in sun. Another tint, more of them, or stronger ones.`,
            show: { sheet: sheet.key, layer: layer.id },
          },
        ];
      });
    });
  },
};
