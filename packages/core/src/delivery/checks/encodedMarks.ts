import { MAIN_MAP } from '../../livery/template.ts';
import { DifferenceMeter } from '../../colour/differenceMeter.ts';
import { envOf, renderRegion } from '../../compose/renderTile.ts';
import { layersOf } from '../../livery/livery.ts';
import { carriesAlpha } from '../../livery/spec.ts';
import { toStraight8 } from '../../raster/tile16.ts';
import { FORMATS, isCoarse } from '../../texture/formats/index.ts';
import type { Check } from '../finding.ts';
import { flatten } from '../preparedSheet.ts';
import { bandedFades } from '../proof/bandedFades.ts';
import { EncodedLevel, VISIBLE } from '../proof/encodedLevel.ts';
import { boundsIn } from '../proof/finding.ts';
import { fringesOf } from '../proof/thinLettering.ts';

/** Mean CIEDE2000 of a block from which fringes are seen without looking for them: twice what proof calls visible side by side. */
const SEEN = 2 * VISIBLE;
/** Longest side of the piece of a mark that is encoded, in texels: what harms a mark harms it everywhere. */
const PIECE = 128;

let meter: DifferenceMeter | undefined;

export const encodedMarks: Check = {
  key: 'encoded-marks',
  subject: 'marks and fades as they are compressed',
  why: 'Block compression keeps two colours in 4 x 4 texels: thin saturated marks get fringes, and wide fades break into steps.',
  run(input) {
    const { livery, plan, spec, sources } = input;
    return plan.files.flatMap((file) => {
      if (file.kind !== 'sheet' || file.leftOut || file.follower || file.level?.at || file.spec.map !== MAIN_MAP)
        return [];
      // A copy at another size has other blocks: its own proof shows them.
      const { format, scale, size } = file.spec;
      if (!isCoarse(format) || scale || size) return [];
      const sheet = file.master;
      return layersOf(livery, sheet.key).flatMap((layer) => {
        if (layer.hidden || (layer.kind !== 'lettering' && layer.kind !== 'decal' && layer.kind !== 'fade')) return [];
        const whole = { left: 0, top: 0, right: sheet.width, bottom: sheet.height };
        const box = boundsIn(layer, envOf(livery, sources, sheet.key), whole);
        if (!box) return [];
        // The middle of it, in whole blocks.
        const cut = (low: number, high: number, side: number) => {
          const from = Math.max(low, (low + high - PIECE) / 2);
          const first = Math.max(0, Math.floor(from / 4) * 4);
          return [first, Math.min(side, Math.ceil(Math.min(high, from + PIECE) / 4) * 4) - first];
        };
        const [x, width] = cut(box.left, box.right, sheet.width);
        const [y, height] = cut(box.top, box.bottom, sheet.height);
        if (width < 4 || height < 4) return [];
        const region = { x, y, width, height, step: 1 };
        const data = toStraight8(renderRegion(livery, sheet.key, 'colour', region, sources), width, height, x, y);
        const painted = { width, height, data };
        if (!carriesAlpha(file.spec)) flatten(painted, spec.ground);
        const encoded = new EncodedLevel(painted, format, { effort: 'normal' }, (meter ??= new DifferenceMeter()));
        for (const { cx, cy } of encoded.waiting(0, 0)) encoded.work(cx, cy);
        const proof = { livery, sheet: sheet.key, map: 'colour', sources, painted, encoded, small: null };
        const piece = { left: 0, top: 0, right: width, bottom: height };
        const { many, worst } = fringesOf(encoded, piece);
        const titles =
          layer.kind === 'fade'
            ? bandedFades({ ...proof, at: { x, y }, only: layer.id }).map(({ title }) => title)
            : many && worst >= SEEN
              ? [`“${layer.name}” gets fringes in ${FORMATS[format].name}`]
              : [];
        return titles.map((title) => ({
          check: this.key,
          level: 'advice' as const,
          title,
          detail: 'Proof shows where, and what another format would make of it.',
          show: { sheet: sheet.key, layer: layer.id },
        }));
      });
    });
  },
};
