import { heldIn } from '../../held.ts';
import { sheetCover, type SheetCover } from '../../surface/layout.ts';
import { layersOf } from '../../livery/livery.ts';
import type { Template } from '../../livery/template.ts';
import type { Check, Finding } from '../finding.ts';
import { islandsFor, samplesOf } from './coverage.ts';

/** Less of a mark is what its soft edge and the raster make of it. */
const LEAST = 0.04;
/** Off the islands by more than this is another check's: it says that the mark is not there at all. */
const MOSTLY = 0.5;

/** Which island covers what, by sheet: worked out once for a template. */
const covers = new WeakMap<Template, Map<string, SheetCover>>();

function coversOf(template: Template): Map<string, SheetCover> {
  let known = covers.get(template);
  if (!known) {
    const islands = islandsFor(template);
    known = new Map(template.sheets.map(({ key }) => [key, sheetCover(template, islands, key, 1024)]));
    covers.set(template, known);
  }
  return known;
}

export const islandEdges: Check = {
  key: 'island-edges',
  subject: 'marks across the edges of islands',
  why: 'What lies across the edge of an island is torn there: the model carries on somewhere else on the sheet.',
  needsModel: true,
  run(input) {
    const { livery, template } = input;
    const [islands, byKey] = [islandsFor(template), coversOf(template)];
    const named = (number: number) => {
      const keys = islands.find((island) => island.number === number)?.parts ?? [];
      return template.parts.find((part) => keys.includes(part.key))?.name ?? `island ${number}`;
    };
    return template.sheets.flatMap((sheet) =>
      layersOf(livery, sheet.key).flatMap((layer): Finding[] => {
        // What lies on the model goes on over every edge.
        if (layer.hidden || layer.on || (layer.kind !== 'decal' && layer.kind !== 'lettering')) return [];
        const cover = heldIn(byKey, sheet.key);
        const [sx, sy] = [cover.width / sheet.width, cover.height / sheet.height];
        const on = new Map<number, number>();
        let all = 0;
        for (const { x, y, alpha } of samplesOf(input, sheet.key, layer)) {
          const island = cover.island[Math.floor(y * sy) * cover.width + Math.floor(x * sx)];
          on.set(island, (on.get(island) ?? 0) + alpha);
          all += alpha;
        }
        const off = (on.get(0) ?? 0) / Math.max(all, 1);
        if (all === 0 || off > MOSTLY) return [];
        on.delete(0);
        const worn = [...on].filter(([, alpha]) => alpha >= all * LEAST).sort((a, b) => b[1] - a[1]);
        const found = (title: string, detail: string): Finding[] => [
          { check: this.key, level: 'advice', title, detail, show: { sheet: sheet.key, layer: layer.id } },
        ];
        const [first, second] = worn.map(([number]) => named(number));
        if (worn.length > 1)
          return found(
            `“${layer.name}” lies across ${worn.length} islands`,
            first === second
              ? `They are all ${first}, and do not meet on the model where they meet here: it is torn there.`
              : `${first} and ${second} do not meet on the model as they do here: it is torn there.`,
          );
        if (off < LEAST || !first) return [];
        return found(
          `“${layer.name}” is cut by an edge of ${first}`,
          `${Math.round(off * 100)} % of it lies beside the island and will not be seen.`,
        );
      }),
    );
  },
};
