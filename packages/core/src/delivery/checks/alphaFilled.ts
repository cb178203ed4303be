import { againstOriginal, fillers } from '../againstOriginal.ts';
import type { Edit } from '../../livery/edit.ts';
import type { Layer } from '../../livery/layer.ts';
import { carriesAlpha } from '../../livery/spec.ts';
import { FORMATS } from '../../texture/formats/index.ts';
import type { Check, Finding } from '../finding.ts';

/** Share of what was clear or soft that may become opaque without a word, and from which on a delivery stops. */
const [SMALL, STOPS] = [0.02, 0.2];

const percent = (share: number) =>
  share === 0 ? 'none' : share < 0.001 ? 'under 0.1 %' : `${(share * 100).toFixed(1)} %`;

const colourOnly = (layer: Layer): Edit & { do: 'set-layer' } => ({
  do: 'set-layer',
  layer: layer.id,
  set: { channels: ['red', 'green', 'blue'] },
});

export const alphaFilled: Check = {
  key: 'alpha-filled',
  subject: 'the original’s alpha',
  why: 'A layer over everything makes clear texels opaque: hair, glass and gloss in alpha are lost, and the game shows slabs.',
  run(input) {
    return input.plan.files.flatMap((file): Finding[] => {
      if (file.kind !== 'sheet' || file.leftOut || !file.original || file.original.stored.alpha === 'none') return [];
      const { spec, master } = file;
      if (!carriesAlpha(spec) || (spec.container === 'dds' && FORMATS[spec.format].alpha === 'none')) return [];
      const found = againstOriginal(input, file);
      if (!found || found.filled < SMALL) return [];
      const { before, after } = found;
      const layers = fillers(input, file);
      const stop = found.filled >= STOPS;
      const figures = `Clear ${percent(before.clear)} before, ${percent(after.clear)} now; soft ${percent(before.soft)}, now ${percent(after.soft)}; opaque ${percent(before.opaque)}, now ${percent(after.opaque)}.`;
      const who = layers[0]
        ? `“${layers[0].name}”${layers.length > 1 ? ` and ${layers.length - 1} more` : ''} `
        : 'What was painted ';
      return [
        {
          check: this.key,
          level: stop ? 'stop' : 'advice',
          title: `${master.name} loses its alpha`,
          detail: `${who}${layers.length > 1 ? 'fill' : 'fills'} ${percent(found.filled)} of what was clear or soft. ${figures}`,
          show: { sheet: master.key, ...(layers[0] && { layer: layers[0].id }) },
          ...(layers[0] && {
            fix: { label: `Keep the original’s alpha under “${layers[0].name}”`, edit: colourOnly(layers[0]) },
          }),
          ...(layers.length > 1 && {
            otherFix: {
              label: 'Keep it on the whole sheet',
              edit: { do: 'together' as const, edits: layers.map(colourOnly) },
            },
          }),
          ...(stop && { overrule: `alpha of ${master.key}` }),
        },
      ];
    });
  },
};
