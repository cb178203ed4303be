import { layersOf } from '../../livery/livery.ts';
import type { Picture } from '../../raster/picture.ts';
import type { Check, Finding } from '../finding.ts';

/** Texels a pixel of the picture may be stretched over before it looks soft. */
const STRETCH = 1.25;
/** Share of the border's pixels that have to be opaque, and how far their colours may stray, for it to be a box. */
const [OPAQUE, STRAY] = [0.98, 10];

export const decalQuality: Check = {
  key: 'decal-quality',
  subject: 'decals’ pictures',
  why: 'A logo in a white box is the most common beginner’s fault, and a small picture made large is soft.',
  run({ livery, template, sources }) {
    return template.sheets.flatMap((sheet) =>
      layersOf(livery, sheet.key).flatMap((layer): Finding[] => {
        if (layer.kind !== 'decal' || layer.source !== 'pixels' || layer.hidden) return [];
        const picture = sources.picture(layer);
        const [{ width, height }] = picture.levels;
        const stretch = Math.max(layer.width / width, layer.height / height);
        const found = (title: string, detail: string): Finding => ({
          check: this.key,
          level: 'advice',
          title,
          detail,
          show: { sheet: sheet.key, layer: layer.id },
        });
        return [
          ...(hasBox(picture)
            ? [
                found(
                  `“${layer.name}” has a box around it`,
                  'Its border is opaque and of one colour: the background of its picture comes along.',
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

/** Whether a picture's outermost pixels are opaque and nearly of one colour, and its inside is not the same again. */
function hasBox({ levels }: Picture): boolean {
  const [{ width, height, data }] = levels;
  if (width < 8 || height < 8) return false;
  const at = (x: number, y: number) => (y * width + x) * 4;
  const border = [
    ...Array.from({ length: width }, (_, x) => [at(x, 0), at(x, height - 1)]).flat(),
    ...Array.from({ length: height }, (_, y) => [at(0, y), at(width - 1, y)]).flat(),
  ];
  const opaque = border.filter((i) => data[i + 3] > 64_000);
  if (opaque.length < border.length * OPAQUE) return false;
  const mean = [0, 1, 2].map((c) => opaque.reduce((sum, i) => sum + data[i + c], 0) / opaque.length);
  const strays = (i: number) => Math.max(...[0, 1, 2].map((c) => Math.abs(data[i + c] - mean[c]))) > STRAY * 257;
  if (opaque.filter(strays).length > opaque.length * (1 - OPAQUE)) return false;
  let other = 0;
  for (let y = 1; y < height - 1; y += 2) for (let x = 1; x < width - 1; x += 2) if (strays(at(x, y))) other++;
  return other > 4;
}
