import { drawAlone, sceneOf } from '../../compose/renderTile.ts';
import { isDrawn } from '../../layers/index.ts';
import { layersOf } from '../../livery/livery.ts';
import { originalKey } from '../../livery/template.ts';
import { isPristine } from '../overOriginal.ts';
import type { Check, Finding } from '../finding.ts';
import { wireOf, wireShown } from '../wireIn.ts';

/** Kinds of layers that cannot hold a picture of anything. */
const PLAIN = new Set(['solid', 'fade', 'stripe', 'lettering', 'halftone']);

export const guideInArt: Check = {
  key: 'guide-in-art',
  subject: 'guides left in the art',
  why: 'A template’s wire that was taken for art ends up on the model in the game.',
  needsModel: true,
  run(input) {
    const { livery, template } = input;
    return template.sheets.flatMap((sheet) => {
      const layers = layersOf(livery, sheet.key);
      const pixels = template.originals?.[originalKey(sheet.key)]?.pixels;
      const asked = layers.filter(
        (layer) =>
          isDrawn(layer) &&
          !layer.hidden &&
          !PLAIN.has(layer.kind) &&
          !(pixels && isPristine(layer, { pixels, size: sheet })),
      );
      if (asked.length === 0) return [];
      const wire = wireOf(template, sheet.key);
      const scene = sceneOf(livery, sheet.key, 'colour', input.sources);
      return asked.flatMap((layer): Finding[] => {
        const shown = wireShown(wire, (region) => drawAlone(scene, layer.id, { ...region, step: 1 }, 'full'));
        if (shown === null) return [];
        const delivered = input.plan.files.some(
          (file) => file.kind === 'sheet' && file.master.key === sheet.key && !file.leftOut,
        );
        return [
          {
            check: this.key,
            level: delivered ? 'stop' : 'advice',
            title: `“${layer.name}” looks like the wire`,
            detail: `It shows ${Math.round(100 * shown)} % of the lines of ${sheet.name}’s layout, and would be delivered.`,
            show: { sheet: sheet.key, layer: layer.id },
            fix: { label: 'Hide it', edit: { do: 'set-layer', layer: layer.id, set: { hidden: true } } },
            overrule: `guide ${layer.name}`,
          },
        ];
      });
    });
  },
};
