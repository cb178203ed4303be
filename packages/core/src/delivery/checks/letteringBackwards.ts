import type { Template } from '../../livery/template.ts';
import { sheetCover, type SheetCover } from '../../surface/layout.ts';
import type { LayerOf } from '../../livery/layer.ts';
import { layersOf } from '../../livery/livery.ts';
import type { Projector } from '../../livery/projector.ts';
import type { Check, Finding } from '../finding.ts';
import { islandsFor, isToldHere, samplesOf } from './coverage.ts';

/** What islands of each hand cover, by sheet: worked out once for a template. */
const hands = new WeakMap<Template, Map<string, { upright: SheetCover; mirrored: SheetCover }>>();

function handsOf(template: Template, sheet: string) {
  const known = hands.get(template) ?? new Map<string, { upright: SheetCover; mirrored: SheetCover }>();
  hands.set(template, known);
  let found = known.get(sheet);
  if (!found) {
    const all = islandsFor(template);
    const cover = (mirrored: boolean) =>
      sheetCover(
        template,
        all.filter((i) => i.mirrored === mirrored),
        sheet,
        512,
      );
    found = { upright: cover(false), mirrored: cover(true) };
    known.set(sheet, found);
  }
  return found;
}

/** Lettering lies on an island when so much of it does. */
const MOST = 0.4;

/** On the model a plane is the same way round wherever it lies; only a mirror turns it, and that once for all sheets. */
function backwardsOnModel(layer: LayerOf<'lettering'>, { partner }: Projector, sheet: string): Finding[] {
  const inMirror = partner?.readable === false;
  if (!layer.mirrored && !inMirror) return [];
  const { check, level } = { check: letteringBackwards.key, level: 'advice' } as const;
  const title = `“${layer.name}” reads backwards`;
  const show = { sheet, layer: layer.id };
  if (layer.mirrored)
    return [
      {
        ...{ check, level, title, show },
        detail: inMirror ? 'It is mirrored, and only its partner reads right.' : 'It is mirrored on the model.',
        fix: { label: 'Turn it round', edit: { do: 'set-layer', layer: layer.id, set: { mirrored: false } } },
      },
    ];
  return [
    {
      ...{ check, level, title, show },
      detail: 'Its partner on the other side is as a mirror shows it.',
      fix: {
        label: 'Let its partner be read',
        edit: {
          do: 'set-layer',
          layer: layer.id,
          set: { on: { ...layer.on!, partner: { ...partner!, readable: true } } },
        },
      },
    },
  ];
}

export const letteringBackwards: Check = {
  key: 'lettering-backwards',
  subject: 'lettering that reads',
  why: 'Some islands are laid out mirrored to save room; lettering on them reads backwards on the model.',
  needsModel: true,
  run(input) {
    const { livery, template } = input;
    return template.sheets.flatMap((sheet) =>
      layersOf(livery, sheet.key).flatMap((layer): Finding[] => {
        if (layer.kind !== 'lettering' || layer.hidden) return [];
        if (layer.on) return isToldHere(livery, layer) ? backwardsOnModel(layer, layer.on, sheet.key) : [];
        const { upright, mirrored } = handsOf(template, sheet.key);
        const [sx, sy] = [mirrored.width / sheet.width, mirrored.height / sheet.height];
        let [all, straight, turned] = [0, 0, 0];
        for (const { x, y, alpha } of samplesOf(input, sheet.key, layer)) {
          const i = Math.floor(y * sy) * mirrored.width + Math.floor(x * sx);
          all += alpha;
          if (upright.island[i] > 0) straight += alpha;
          if (mirrored.island[i] > 0) turned += alpha;
        }
        if (all === 0) return [];
        const [onStraight, onTurned] = [straight / all > MOST, turned / all > MOST];
        const wrong = layer.mirrored ? onStraight : onTurned;
        if (!wrong) return [];
        const both = onStraight && onTurned;
        return [
          {
            check: this.key,
            level: 'advice',
            title: `“${layer.name}” reads backwards`,
            detail: both
              ? 'Two parts of the model wear this spot, one of them mirrored: it reads right on one of them only.'
              : layer.mirrored
                ? 'It is mirrored, and the part that wears it is not.'
                : 'The part that wears it is laid out mirrored.',
            show: { sheet: sheet.key, layer: layer.id },
            ...(!both && {
              fix: {
                label: layer.mirrored ? 'Turn it round' : 'Mirror it',
                edit: { do: 'set-layer', layer: layer.id, set: { mirrored: !layer.mirrored } },
              },
            }),
          },
        ];
      }),
    );
  },
};
