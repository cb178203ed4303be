import { z } from 'zod';
import { layerBase } from '../../livery/layerBase.ts';
import { flowKey, type FieldKey } from '../../livery/fields.ts';
import { degrees, Paint, percent } from '../../livery/paint.ts';
import { metre } from '../../livery/settings.ts';
import { metres } from '../../livery/values.ts';
import { NO_PLACE, PAINT, round, type LayerData, type LayerMaker } from '../data.ts';

/** What use and weather leave behind. */
export const WEAR = ['dust', 'grime', 'streaks', 'chips', 'scratches', 'soot', 'salt', 'sun'] as const;
export type WearHow = (typeof WEAR)[number];

/** Wear by what the model is like at each of its points: the same on both sides of every seam, and on every sheet. */
export const WearLayer = z.strictObject({
  kind: z.literal('wear'),
  ...layerBase,
  paint: Paint,
  how: z.enum(WEAR),
  /** 0: none; 100: wherever it can be. */
  amount: percent,
  /** Of its patches, metres of the model. */
  size: z.number().min(0.0001).max(1000),
  /** How far it goes, metres: grime and salt up from the lowest point, streaks down their way, soot from its place. */
  reach: z.number().min(0.001).max(10_000),
  /** Of its edges. */
  soft: percent,
  seed: z.number().int().min(0).max(9999),
  /** Where it goes, or comes from: degrees from forward to starboard, and up from level; see directionOf. */
  heading: degrees,
  rise: z.number().min(-90).max(90),
  /** Where soot comes from, metres of the model. */
  ahead: metres,
  height: metres,
  starboard: metres,
});
type Wear = z.infer<typeof WearLayer>;

interface Look {
  name: string;
  what: string;
  /** Begun with: how much, and size and reach as shares of the model's diagonal. */
  amount: number;
  size: number;
  reach: number | null;
  soft: number;
  hex: string;
  /** What it is on the surface, where the livery has that finish. */
  finish: string | null;
  opacity: number;
  /** What its direction is called, and how it begins; null: it has none. */
  direction: { label: string; heading: number; rise: number } | null;
  /** It comes from a place. */
  from?: true;
  fields: (layer: Wear) => readonly FieldKey[];
}

const hollows = (): readonly FieldKey[] => ['hollows'];
const edges = (): readonly FieldKey[] => ['edges'];

/** Common practice, no source: where painters put it, and in which colour. */
export const WEAR_LOOKS: Readonly<Record<WearHow, Look>> = {
  dust: {
    ...{ name: 'Dust', what: 'on what looks up, and in hollows', amount: 45, size: 1 / 12, reach: null, soft: 70 },
    ...{ hex: '#a8977c', finish: 'matt', opacity: 75, fields: hollows },
    direction: { label: 'from', heading: 0, rise: 90 },
  },
  grime: {
    ...{ name: 'Grime', what: 'from below upwards', amount: 55, size: 1 / 16, reach: 1 / 6, soft: 45 },
    ...{ hex: '#463a2c', finish: 'matt', opacity: 80, fields: hollows, direction: null },
  },
  streaks: {
    ...{ name: 'Streaks', what: 'down from edges and ledges', amount: 45, size: 1 / 180, reach: 1 / 8, soft: 50 },
    ...{ hex: '#3d3226', finish: 'satin', opacity: 70 },
    direction: { label: 'towards', heading: 0, rise: -90 },
    fields: ({ heading, rise }) => [flowKey(heading, rise)],
  },
  chips: {
    ...{ name: 'Chips', what: 'on edges that stand out', amount: 45, size: 1 / 120, reach: null, soft: 6 },
    ...{ hex: '#8d8f90', finish: 'brushed', opacity: 100, fields: edges, direction: null },
  },
  scratches: {
    ...{
      name: 'Scratches',
      what: 'fine lines, most of them on edges',
      amount: 40,
      size: 1 / 10,
      reach: null,
      soft: 20,
    },
    ...{ hex: '#c9ccce', finish: null, opacity: 70, fields: edges, direction: null },
  },
  soot: {
    ...{ name: 'Soot', what: 'from a place along a direction', amount: 70, size: 1 / 24, reach: 1 / 3, soft: 80 },
    ...{ hex: '#17140f', finish: 'matt', opacity: 85, from: true, fields: () => [] },
    direction: { label: 'towards', heading: 180, rise: 5 },
  },
  salt: {
    ...{ name: 'Salt', what: 'dried spray, on what it meets', amount: 45, size: 1 / 70, reach: 1 / 3, soft: 40 },
    ...{ hex: '#e6e6df', finish: 'matt', opacity: 60, fields: hollows },
    direction: { label: 'from', heading: 0, rise: 0 },
  },
  sun: {
    ...{ name: 'Sun fade', what: 'paler where the sun gets to', amount: 50, size: 1 / 5, reach: null, soft: 100 },
    ...{ hex: '#ece7da', finish: null, opacity: 40, fields: hollows },
    direction: { label: 'from', heading: 0, rise: 90 },
  },
};

const makers = WEAR.map((how): LayerMaker => {
  const look = WEAR_LOOKS[how];
  return {
    key: how,
    phase: 'Wear',
    name: look.name,
    what: look.what,
    make: ({ model: { low, high }, finishes, spot }) => {
      const diagonal = Math.hypot(...high.map((v, i) => v - low[i])) || 1;
      const from = (look.from && spot()) || high.map((v, i) => (v + low[i]) / 2);
      return {
        how,
        paint: { hex: look.hex },
        amount: look.amount,
        size: round(Math.max(0.001, look.size * diagonal), 4),
        reach: round(Math.max(0.01, (look.reach ?? 1 / 4) * diagonal), 3),
        soft: look.soft,
        seed: 1,
        heading: look.direction?.heading ?? 0,
        rise: look.direction?.rise ?? 90,
        ahead: round(from[0], 3),
        height: round(from[1], 3),
        starboard: round(from[2], 3),
        opacity: look.opacity,
        ...(look.finish && finishes.includes(look.finish) && { finish: look.finish }),
      };
    },
  };
});

export const wear: LayerData<Wear> = {
  ...NO_PLACE,
  name: 'Wear',
  onModel: true,
  fields: (layer) => WEAR_LOOKS[layer.how].fields(layer),
  paints: ({ paint }) => [paint],
  place: ({ how }) => {
    const { reach, direction, from } = WEAR_LOOKS[how];
    return [
      { is: 'slide', key: 'amount', label: 'amount', min: 0, max: 100, unit: '%' },
      { is: 'slide', key: 'soft', label: 'softness', min: 0, max: 100, unit: '%' },
      [
        metre('size', 'patches', 0.0001, { max: 1000, digits: 4 }),
        ...(reach === null ? [] : [metre('reach', 'reach', 0.001, { max: 1000 })]),
      ],
      ...(direction
        ? [
            [
              { key: 'heading', label: direction.label, unit: '°' as const, min: -3600, max: 3600 },
              { key: 'rise', label: 'upwards', unit: '°' as const, min: -90, max: 90 },
            ],
          ]
        : []),
      ...(from
        ? [
            [metre('ahead', 'ahead', -10_000), metre('height', 'height', -10_000)],
            [metre('starboard', 'starboard', -10_000)],
            'spot' as const,
          ]
        : []),
      [{ key: 'seed', label: 'seed', unit: '', min: 0, max: 9999, digits: 0 }],
    ];
  },
  colours: [PAINT],
  numbers: ({ how, amount }) => `${WEAR_LOOKS[how].name.toLowerCase()} ${round(amount)} %`,
  makers,
};
