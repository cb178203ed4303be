/** Finishes: what a surface is, not which colour it has. A livery's own stand beside its scheme; layers and sheets wear them by reference. */
import { z } from 'zod';
import { HEX } from '../colour/hex.ts';
import { FinishId } from './ids.ts';
import { percent } from './values.ts';
import { words } from './words.ts';

/** What kind of surface a finish is: what games allow in a zone. */
export const FINISH_KINDS = [
  'gloss',
  'satin',
  'matt',
  'metallic',
  'pearl',
  'chrome',
  'brushed',
  'carbon',
  'rubber',
  'fabric',
  'glass',
  'reflective',
  'own',
] as const;
export type FinishKind = (typeof FINISH_KINDS)[number];

/** Flakes in the paint. */
export const Flake = z.strictObject({
  /** Their colour. */
  tint: z.string().regex(HEX),
  /** Across, millimetres. */
  size: z.number().min(0.01).max(10),
  /** How much of the surface they cover, and how strongly they show, percent. */
  density: percent,
  strength: percent,
});
export type Flake = z.infer<typeof Flake>;

/** Values in percent: roughness 0 is a mirror, metal 100 bare metal; a clear coat lies over both. */
export const LiveryFinish = z.strictObject({
  id: FinishId,
  name: words(60, 1),
  kind: z.enum(FINISH_KINDS),
  roughness: percent,
  metal: percent,
  coat: percent,
  coatRoughness: percent,
  sheen: percent,
  flake: Flake.optional(),
});
export type LiveryFinish = z.infer<typeof LiveryFinish>;
export type FinishValues = Omit<LiveryFinish, 'id' | 'name' | 'kind'>;

const plain = (roughness: number, metal = 0, rest: Partial<FinishValues> = {}): FinishValues => ({
  roughness,
  metal,
  coat: 0,
  coatRoughness: 0,
  sheen: 0,
  ...rest,
});

/** What each kind is when nobody changed it (common practice, no source: painters set them by eye). */
export const FINISH_VALUES: Readonly<Record<FinishKind, FinishValues>> = {
  gloss: plain(12, 0, { coat: 100, coatRoughness: 4 }),
  satin: plain(38),
  matt: plain(82),
  metallic: plain(30, 60, {
    coat: 100,
    coatRoughness: 5,
    flake: { tint: '#ffffff', size: 0.3, density: 40, strength: 60 },
  }),
  pearl: plain(26, 20, {
    coat: 100,
    coatRoughness: 5,
    flake: { tint: '#f4e8ff', size: 0.1, density: 70, strength: 45 },
  }),
  chrome: plain(5, 100),
  brushed: plain(34, 100),
  carbon: plain(32, 0, { coat: 100, coatRoughness: 8 }),
  rubber: plain(95),
  fabric: plain(90, 0, { sheen: 60 }),
  glass: plain(3, 0, { coat: 100 }),
  reflective: plain(55, 0, { sheen: 20 }),
  own: plain(50),
};

/** Values of a finish that a channel can hold, 0 to 255; gloss is roughness the other way round, flake its density times its strength. */
export const FINISH_CHANNELS = [
  'roughness',
  'gloss',
  'metal',
  'coat',
  'coatRoughness',
  'coatGloss',
  'sheen',
  'flake',
] as const;

/** A finish of a kind, as it begins. */
export const newFinish = (kind: FinishKind, id: FinishId, name: string): LiveryFinish => ({
  id,
  name,
  kind,
  ...FINISH_VALUES[kind],
});

const first = (kind: FinishKind, name: string) => newFinish(kind, FinishId.parse(kind), name);

/** What a livery has that nobody gave others: sheets of older liveries name them by these ids. */
export const FIRST_FINISHES: readonly LiveryFinish[] = [
  first('gloss', 'Gloss'),
  first('satin', 'Satin'),
  first('matt', 'Matt'),
  first('metallic', 'Metallic'),
  first('chrome', 'Chrome'),
  first('rubber', 'Rubber'),
];

/** What a sheet is that nobody finished otherwise. */
export const PLAIN_FINISH = FIRST_FINISHES[0].id;

export const finishesOf = ({ finishes }: { finishes?: readonly LiveryFinish[] }): readonly LiveryFinish[] =>
  finishes ?? FIRST_FINISHES;

/** The finish of an id; undefined: it is gone, and what wears it leaves what is under it. */
export const finishOf = (
  livery: { finishes?: readonly LiveryFinish[] },
  id: string | undefined,
): LiveryFinish | undefined => (id === undefined ? undefined : finishesOf(livery).find((one) => one.id === id));

/** Flat colours in which finishes are shown apart, by their place in the livery's list: no two alike. */
const SHOWN = [
  '#d8d8d8', '#8fa3b8', '#4d5660', '#c9a227', '#f2f2c2', '#a5462d', '#3f7d58', '#6b4fa0',
  '#d97fb0', '#2e8fb5', '#8c6d3f', '#b8d468', '#e0a080', '#245070', '#70c0b0', '#903060',
  '#505020', '#c0b0e0', '#e06040', '#306030', '#a0a060', '#603020', '#90d0f0', '#202838',
] as const; // prettier-ignore
export const MOST_FINISHES = SHOWN.length;

/** The colour in which a finish is shown in views of zones, `#rrggbb`. */
export function shownAs(livery: { finishes?: readonly LiveryFinish[] }, id: string): string {
  const at = finishesOf(livery).findIndex((one) => one.id === id);
  return SHOWN[at < 0 ? 0 : at % SHOWN.length];
}
