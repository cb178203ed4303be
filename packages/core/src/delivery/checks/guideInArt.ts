import { layersOf } from '../../livery/livery.ts';
import { uvLines } from '../../surface/guides.ts';
import type { Check, Finding } from '../finding.ts';

/** A layer with so much of the wire's lines in it, and no more paint than lines have, is the wire. */
const [ON_LINES, OF_SHEET] = [0.85, 0.4];
/** Points that are looked at along the lines. */
const POINTS = 2000;

export const guideInArt: Check = {
  key: 'guide-in-art',
  subject: 'guides left in the art',
  why: 'A template’s wire that was taken for art ends up on the model in the game.',
  run({ livery, template, sources }) {
    return template.sheets.flatMap((sheet) => {
      const pictures = layersOf(livery, sheet.key).filter((layer) => layer.kind === 'picture' && !layer.hidden);
      if (pictures.length === 0) return [];
      const { wire } = uvLines(template, sheet.key);
      const lines = wire.length / 4;
      if (lines < 8) return [];
      return pictures.flatMap((layer): Finding[] => {
        if (layer.kind !== 'picture') return [];
        const { width, height, data } = sources.image(layer.blob);
        const painted = (x: number, y: number) => {
          const [px, py] = [Math.floor(x) - layer.left, Math.floor(y) - layer.top];
          return px >= 0 && py >= 0 && px < width && py < height && data[(py * width + px) * 4 + 3] > 60;
        };
        let [on, all] = [0, 0];
        for (let k = 0; k < POINTS; k++) {
          const i = Math.floor((k / POINTS) * lines) * 4;
          const t = ((k * 0.618) % 1) * 0.9 + 0.05;
          const [x, y] = [wire[i] + (wire[i + 2] - wire[i]) * t, wire[i + 1] + (wire[i + 3] - wire[i + 1]) * t];
          all++;
          // A line may have been drawn a texel beside ours.
          if ([-1, 0, 1].some((dy) => [-1, 0, 1].some((dx) => painted(x + dx, y + dy)))) on++;
        }
        if (on < all * ON_LINES) return [];
        let cover = 0;
        for (let i = 3; i < data.length; i += 4) if (data[i] > 60) cover++;
        if (cover > sheet.width * sheet.height * OF_SHEET) return [];
        return [
          {
            check: this.key,
            level: 'advice',
            title: `“${layer.name}” looks like the wire`,
            detail: `It follows ${Math.round((100 * on) / all)} % of the lines of ${sheet.name}’s layout, and would be delivered.`,
            show: { sheet: sheet.key, layer: layer.id },
            fix: { label: 'Hide it', edit: { do: 'set-layer', layer: layer.id, set: { hidden: true } } },
          },
        ];
      });
    });
  },
};
