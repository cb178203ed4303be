import { layersOf } from '../../livery/livery.ts';
import { boxColour } from '../../raster/box.ts';
import { isToldHere, texelsAUnit } from './coverage.ts';
import type { Check, Finding } from '../finding.ts';

/** Texels a pixel of the picture may be stretched over before it looks soft. */
const STRETCH = 1.25;

export const decalQuality: Check = {
  key: 'decal-quality',
  subject: 'decals’ pictures',
  why: 'A logo in a white box is the most common beginner’s fault, and a small picture made large is soft.',
  run(input) {
    const { livery, template, sources } = input;
    return template.sheets.flatMap((sheet) =>
      layersOf(livery, sheet.key).flatMap((layer): Finding[] => {
        if (layer.kind !== 'decal' || layer.source !== 'pixels' || layer.hidden || !isToldHere(livery, layer))
          return [];
        const picture = sources.picture(layer);
        const [{ width, height }] = picture.levels;
        const stretch = Math.max(layer.width / width, layer.height / height) * texelsAUnit(input, sheet.key, layer);
        const found = (title: string, detail: string): Finding => ({
          check: this.key,
          level: 'advice',
          title,
          detail,
          show: { sheet: sheet.key, layer: layer.id },
        });
        return [
          ...(boxColour(picture)
            ? [
                found(
                  `“${layer.name}” has a box around it`,
                  'Its border is opaque and of one colour: the background of its picture comes along. Knock it out in the easel.',
                ),
              ]
            : []),
          ...(stretch > STRETCH
            ? [
                found(
                  `“${layer.name}” is larger than its picture`,
                  `Each of its ${width} x ${height} pixels covers ${stretch.toFixed(1)} texels, so it looks soft.`,
                ),
              ]
            : []),
        ];
      }),
    );
  },
};
