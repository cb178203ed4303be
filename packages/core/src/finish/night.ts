/**
 * Maps that hold light, as they follow the day: its paint made dark, the shine about what is lit, and what is lit itself as far as nothing
 * covers it. All of it trees of the day's own layers, so that groups, masks, clipping, parts and opacity count as they do by day.
 */
import { rgbOfHex } from '../colour/hex.ts';
import { LayerId } from '../livery/ids.ts';
import { isOff, isUnseen, type Layer } from '../livery/layer.ts';
import { colourOf, layersOf, type Livery } from '../livery/livery.ts';
import type { Lit, NightLook } from '../livery/night.ts';
import { MAIN_MAP } from '../livery/template.ts';
import { treeOf, type Dims, type Glow, type LayerNode, type Light, type Wears } from '../livery/tree.ts';
import type { Derives } from './derives.ts';
import { asCoverage, BASE, covers, standing } from './standing.ts';

/** A light, and the layer, or the group, that it is of. */
interface LitOf {
  lit: Lit;
  key: string;
}

/** The whole of 16 bits. */
const ONE = 65535;

/** What a layer's light is told by: layers of several sheets that are one give one light. */
const lightKey = ({ id, across }: Pick<Layer, 'id' | 'across'>): string => across ?? id;

/** Everything lit on a sheet that is not off, each once, first on first. */
export function lightsOf(livery: Livery, sheet: string): LitOf[] {
  const found = new Map<string, LitOf>();
  const walk = (nodes: readonly LayerNode[]): void => {
    for (const { layer, inside, clipped } of nodes) {
      if (isOff(layer)) continue;
      if (layer.lit) found.set(lightKey(layer), { lit: layer.lit, key: lightKey(layer) });
      walk(inside);
      walk(clipped);
    }
  };
  walk(treeOf(layersOf(livery, sheet)));
  return [...found.values()];
}

const whole = (percent: number): number => Math.round(percent * 655.35);
const grey = (v: number) => [v, v, v] as const;
const texelOf = (livery: Livery, { paint }: Lit): readonly [number, number, number] | null =>
  paint ? (colourOf(livery, paint).map((v) => v * 257) as unknown as readonly [number, number, number]) : null;

const DARK: Wears = { texel: [0, 0, 0], hard: false };
const NOTHING: Wears = { texel: null, hard: false };

/** The layers of a sheet, those that are lit as `show` says, all others black. */
function standIn(livery: Livery, sheet: string, name: string, show: (of: LitOf) => Wears | null): LayerNode[] {
  const all = standing<LitOf>(treeOf(layersOf(livery, sheet)), {
    brings: (layer, around) => (layer.lit ? { lit: layer.lit, key: lightKey(layer) } : around),
    wears(layer, of) {
      // What changes no colour by day covers no light.
      if (layer.kind === 'group' || !covers(layer) || layer.finishOnly) return null;
      const wears = of ? show(of) : null;
      // What is there at night alone covers nothing where it is another light that is asked for.
      return wears ?? (of?.lit.only ? null : DARK);
    },
    as: (layer, of) => asCoverage(layer, name, of !== undefined && of.lit.paint === undefined),
    nothing: NOTHING,
  });
  // What lies below the lowest light covers none.
  const lit = ({ wears, inside, clipped }: LayerNode): boolean =>
    wears?.lit === true || inside.some(lit) || clipped.some(lit);
  const first = all.findIndex(lit);
  return first < 0 ? [] : all.slice(first);
}

/** Where one light can be seen on a sheet: white there, black where anything covers it. */
const seenOf = (livery: Livery, sheet: string, key: string): LayerNode[] =>
  standIn(livery, sheet, `seen ${key}`, (of) => (of.key === key ? { texel: grey(ONE), hard: false, lit: true } : null));

/** Shares of red, green and blue that are left at night. */
function dimsOf({ light, colour, tint }: NightLook): Dims {
  const [r, g, b] = rgbOfHex(tint).map((v) => Math.round((v / 255) * whole(light)));
  return { by: [r, g, b], colour: whole(colour) };
}

const node = (name: string, inside: LayerNode[], rest: Partial<LayerNode>): LayerNode => ({
  layer: { ...BASE, id: LayerId.parse(name), name: 'From the day', kind: 'group', through: false },
  inside,
  clipped: [],
  of: MAIN_MAP,
  ...rest,
});

/** The day's own layers; where the game brought a night, without the pictures that its day began with. */
function dayNodes(livery: Livery, sheet: string, { over, day }: Derives): readonly LayerNode[] {
  const nodes = treeOf(layersOf(livery, sheet));
  return over.size === 0 ? nodes : nodes.filter(({ layer }) => layer.kind !== 'picture' || !day.has(layer.blob));
}

/** The shine of everything lit that shines, on whichever sheet it is. */
function glowNodes(livery: Livery): LayerNode[] {
  const glows = new Map<string, { glow: Omit<Glow, 'on'>; on: Glow['on'][number][] }>();
  for (const { key: sheet } of livery.sheets)
    for (const { lit, key } of lightsOf(livery, sheet)) {
      if (lit.spread === 0 || lit.strength === 0) continue;
      const texel = texelOf(livery, lit);
      const glow = { key, texel, strength: whole(lit.strength), spread: lit.spread, flicker: lit.flicker ?? null };
      const one = glows.get(key) ?? { glow, on: [] };
      glows.set(key, one);
      one.on.push({
        sheet,
        nodes: seenOf(livery, sheet, key),
        colours: texel
          ? []
          : standIn(livery, sheet, `own ${key}`, (of) =>
              of.key === key ? { texel: 'own', hard: false, lit: true } : null,
            ),
      });
    }
  return [...glows.values()].map(({ glow, on }) => ({
    layer: {
      ...BASE,
      id: LayerId.parse(`glow~${glow.key}`),
      name: 'Glow',
      kind: 'solid',
      paint: { hex: '#ffffff' },
      blend: 'screen',
    },
    inside: [],
    clipped: [],
    glow: { ...glow, on },
  }));
}

/** Whether anything is lit that shines: what is drawn of one sheet is of all of them then. */
export const shines = (livery: Livery): boolean =>
  livery.night !== undefined &&
  livery.sheets.some(({ key }) => lightsOf(livery, key).some(({ lit }) => lit.spread > 0 && lit.strength > 0));

/** What is lit on a sheet: its light, and where it is. */
function litNode(livery: Livery, sheet: string): LayerNode[] {
  const all = lightsOf(livery, sheet);
  if (all.length === 0) return [];
  const seen = new Map(all.map(({ key, lit }) => [key, lit.flicker ? seenOf(livery, sheet, key) : []]));
  const lightOf = ({ lit, key }: LitOf): Light => ({
    share: whole(lit.strength),
    flicker: lit.flicker ?? null,
    seen: seen.get(key) ?? [],
  });
  const colours = standIn(livery, sheet, 'lit', (of) => ({
    texel: texelOf(livery, of.lit) ?? 'own',
    hard: false,
    lit: true,
    light: lightOf(of),
  }));
  const shares = standIn(livery, sheet, 'share', (of) => ({
    texel: grey(ONE),
    hard: false,
    lit: true,
    light: lightOf(of),
  }));
  return [node('lit', colours, { shares })];
}

interface Kept {
  livery: Pick<Livery, 'night' | 'scheme'>;
  layers: readonly (readonly Layer[])[];
  derives: Derives;
  nodes: readonly LayerNode[];
}
const kept = new WeakMap<readonly Layer[], Map<string, Kept>>();
const NONE: readonly LayerNode[] = [];

/** What follows from the day on a map that holds light; the same list as long as nothing that it follows from changes. */
export function nightNodes(livery: Livery, sheet: string, derives: Derives): readonly LayerNode[] {
  const { night, scheme } = livery;
  if (!night) return NONE;
  const from = layersOf(livery, sheet);
  const layers = livery.sheets.map(({ key }) => layersOf(livery, key));
  const known = kept.get(from) ?? new Map<string, Kept>();
  kept.set(from, known);
  const held = known.get(sheet);
  if (
    held &&
    held.livery.night === night &&
    held.livery.scheme === scheme &&
    held.derives === derives &&
    held.layers.length === layers.length &&
    held.layers.every((one, i) => one === layers[i])
  )
    return held.nodes;
  const day = dayNodes(livery, sheet, derives);
  const lit = litNode(livery, sheet);
  // Of a day as the game brought it, with nothing lit on it, the night stays as the game brought it, too, whatever shines nearby.
  const painted = day.some(
    ({ layer }) => !isUnseen(layer) && !(layer.kind === 'picture' && derives.day.has(layer.blob)),
  );
  const nodes =
    painted || lit.length > 0
      ? [...(day.length > 0 ? [node('dark', [...day], { dims: dimsOf(night) })] : []), ...glowNodes(livery), ...lit]
      : NONE;
  known.set(sheet, { livery: { night, scheme }, layers, derives, nodes });
  return nodes;
}
