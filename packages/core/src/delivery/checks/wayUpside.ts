import { detailOf, WAY_CELLS, wayUp } from '../../surface/wayUp.ts';
import type { Layer } from '../../livery/layer.ts';
import { layersOf } from '../../livery/livery.ts';
import type { Check, Finding } from '../finding.ts';

export const wayUpside: Check = {
  key: 'way-up',
  subject: 'pictures the right way up',
  why: 'Some tools keep textures upside down; a picture that came that way covers the gaps between the islands, not the islands.',
  needsModel: true,
  run({ livery, template, sources }) {
    return template.sheets.flatMap((sheet) => {
      // Only what fills the sheet can be held against its layout.
      const full = layersOf(livery, sheet.key).filter(
        (layer): layer is Extract<Layer, { kind: 'picture' }> =>
          layer.kind === 'picture' &&
          !layer.hidden &&
          layer.left <= 0 &&
          layer.top <= 0 &&
          layer.width >= sheet.width &&
          layer.height >= sheet.height,
      );
      if (full.length === 0) return [];
      const surface = sources.surface(sheet.key);
      const cover = Array.from({ length: WAY_CELLS * WAY_CELLS }, (_, i) => {
        const middle = (cell: number, side: number) => Math.floor(((cell + 0.5) * side) / WAY_CELLS);
        const [x, y] = [middle(i % WAY_CELLS, surface.width), middle(Math.floor(i / WAY_CELLS), surface.height)];
        return surface.insideAt(x, y);
      });
      return full.flatMap((layer): Finding[] => {
        if (wayUp(detailOf(sources.image(layer.blob)), cover) !== 'upside-down') return [];
        return [
          {
            check: this.key,
            level: 'advice',
            title: `“${layer.name}” seems to be upside down`,
            detail: `Turned over it would fit the islands of ${sheet.name}; as it lies, most of it is between them. Turn the picture over where it came from and put it in again.`,
            show: { sheet: sheet.key, layer: layer.id },
          },
        ];
      });
    });
  },
};
