/**
 * Maps that follow from the layers of a sheet's colours: the zones of its finishes, and the channels of packed maps. What is derived is a
 * tree of those same layers, each drawn as its coverage in one value: so groups, masks, clipping, parts and opacity count as for colour.
 */
import { FINISH_CHANNELS, finishOf, finishesOf, PLAIN_FINISH, shownAs, type LiveryFinish } from '../livery/finish.ts';
import { rgbOfHex } from '../colour/hex.ts';
import { LayerId } from '../livery/ids.ts';
import { isOff, type Layer } from '../livery/layer.ts';
import { layersOf, type Livery } from '../livery/livery.ts';
import { filterData } from '../livery/paint.ts';
import { finishMap, ZONE_MAP, type Channel } from '../livery/spec.ts';
import { beginningOf, holdsOf, MAIN_MAP, mapsOf, type Template } from '../livery/template.ts';
import { treeOf, type LayerNode, type Wears } from '../livery/tree.ts';
import { nightNodes } from './night.ts';
import { asCoverage, BASE, covers, standing } from './standing.ts';
import type { Derives } from './derives.ts';
import { isOcclusion, meaningOf, valueOf } from './meanings.ts';

/** Roughness, metal and clear coat of every sheet, as the turntable shows them. */
export const SURFACE_MAP = 'surface';

const SURFACE: Derives['channels'] = { red: 'roughness', green: 'metal', blue: 'coat' };

/** The channels of a map that holds one value; null: it holds something else. */
function valueAlone(map: string): Derives['channels'] | null {
  const value = FINISH_CHANNELS.find((one) => finishMap(one) === map);
  return value ? { red: value, green: value, blue: value } : null;
}

/** What is derived on a map; null: nothing. */
export function derivesOn(template: Pick<Template, 'sheets' | 'begin'>, sheet: string, map: string): Derives | null {
  const asked = map === SURFACE_MAP ? SURFACE : valueAlone(map);
  if (asked) return { channels: asked, neutral: {}, over: new Set(), always: true, night: false, day: new Set() };
  const of = template.sheets.find(({ key }) => key === sheet);
  const named = of && mapsOf(of).find(({ key }) => key === map);
  const channels: Derives['channels'] = {};
  const neutral: Derives['neutral'] = {};
  for (const [channel, name] of Object.entries(named?.channels ?? {})) {
    const meaning = meaningOf(name);
    if (meaning) channels[channel as Channel] = meaning;
    else if (isOcclusion(name)) neutral[channel as Channel] = 255;
  }
  const night = named !== undefined && holdsOf(named) === 'emissive';
  if (Object.keys(channels).length === 0 && !night) return null;
  const begun = (of: string) =>
    new Set<string>(
      beginningOf(template, sheet, of).flatMap((layer) => (layer.kind === 'picture' ? [layer.blob] : [])),
    );
  return { channels, neutral, over: begun(map), always: false, night, day: night ? begun(MAIN_MAP) : new Set() };
}

/** How a finish is shown: straight 8-bit values. */
interface Showing {
  /** Tells what is drawn this way from what is not. */
  name: string;
  hard: boolean;
  value(finish: LiveryFinish): readonly [number, number, number];
}

/** Finishes that a sheet's visible layers wear. */
export function finishesWorn(livery: Livery, sheet: string): LiveryFinish[] {
  const found = wornIn(livery, treeOf(layersOf(livery, sheet)));
  return finishesOf(livery).filter(({ id }) => found.has(id));
}

/** Finishes that can be seen on a sheet: what a layer covers all over is under it. */
export function finishesSeen(livery: Livery, sheet: string): LiveryFinish[] {
  let found = new Set<string>([groundOf(livery, sheet).id]);
  for (const node of treeOf(layersOf(livery, sheet))) {
    const own = wornIn(livery, [node]);
    const hides = finishOf(livery, node.layer.finish) && coversAll(node.layer);
    found = own.size > 0 && hides ? own : new Set([...found, ...own]);
  }
  return finishesOf(livery).filter(({ id }) => found.has(id));
}

/** Whether a layer covers at least half of every texel. */
const coversAll = (layer: Layer): boolean =>
  layer.kind === 'solid' &&
  layer.opacity >= 50 &&
  layer.parts.length === 0 &&
  !layer.on &&
  (!layer.mask || !!layer.mask.off) &&
  !layer.filters?.some((filter) => !filterData(filter).alone);

/** Ids of the finishes that visible nodes wear. */
function wornIn(livery: Livery, all: readonly LayerNode[]): Set<string> {
  const found = new Set<string>();
  const walk = (nodes: readonly LayerNode[], around: string | undefined): void => {
    for (const { layer, inside, clipped } of nodes) {
      if (isOff(layer)) continue;
      const own = finishOf(livery, layer.finish)?.id ?? around;
      if (own && drawsFinish(layer)) found.add(own);
      walk(inside, own);
      walk(clipped, around);
    }
  };
  walk(all, undefined);
  return found;
}

/** The finish of a sheet where no layer says otherwise. */
export const groundOf = (livery: Livery, sheet: string): LiveryFinish =>
  finishOf(livery, livery.sheets.find(({ key }) => key === sheet)?.finish) ?? finishesOf(livery)[0];

/** Whether anybody set a finish on a sheet: then its packed maps follow. */
export const setsFinish = (livery: Livery, sheet: string): boolean =>
  finishesWorn(livery, sheet).length > 0 || groundOf(livery, sheet).id !== PLAIN_FINISH;

/** Layers that only change what is below them, or its alpha, bring no surface; no more do those that are only there as light. */
const drawsFinish = (layer: Layer): boolean => layer.kind !== 'group' && layer.lit?.only !== true && covers(layer);

/** What is derived on a map, as nodes; the same list as long as nothing that it follows from changes. */
export function derivedNodes(
  livery: Livery,
  sheet: string,
  map: string,
  derives: Derives | null,
): readonly LayerNode[] {
  if (map !== ZONE_MAP && !derives) return NONE;
  if (derives?.night) return nightNodes(livery, sheet, derives);
  const from = layersOf(livery, sheet);
  const known = kept.get(from) ?? new Map<string, Kept>();
  kept.set(from, known);
  const [key, ground] = [`${sheet}/${map}`, groundOf(livery, sheet)];
  const held = known.get(key);
  if (held && held.finishes === livery.finishes && held.ground === ground && held.derives === derives)
    return held.nodes;
  const nodes = makeNodes(livery, sheet, map, derives);
  known.set(key, { finishes: livery.finishes, ground, derives, nodes });
  return nodes;
}

interface Kept {
  finishes: Livery['finishes'];
  ground: LiveryFinish;
  derives: Derives | null;
  nodes: readonly LayerNode[];
}
const NONE: readonly LayerNode[] = [];
const kept = new WeakMap<readonly Layer[], Map<string, Kept>>();

function makeNodes(livery: Livery, sheet: string, map: string, derives: Derives | null): LayerNode[] {
  if (map === ZONE_MAP) {
    const value = (finish: LiveryFinish) => rgbOfHex(shownAs(livery, finish.id));
    return [derivedNode(livery, sheet, { name: map, hard: true, value }, true, undefined)!];
  }
  if (!derives!.always && !setsFinish(livery, sheet)) return [];
  const ground = derives!.over.size === 0;
  return showingsOf(derives!).flatMap(({ channels: of, ...showing }) => {
    // Where nothing is below, all three channels are there.
    const whole = of.length === 3 || (ground && of[0] !== 'alpha');
    return derivedNode(livery, sheet, showing, ground, whole ? undefined : of) ?? [];
  });
}

/** The nodes of a map: what is on it by hand, and what is derived, above the pictures with which it began. */
export function nodesOf(livery: Livery, sheet: string, map: string, derives: Derives | null): readonly LayerNode[] {
  const derived = derivedNodes(livery, sheet, map, derives);
  if (map === ZONE_MAP) return derived;
  const own = treeOf(layersOf(livery, sheet, map));
  if (derived.length === 0) return own;
  const over = derives?.over;
  const last = own.findLastIndex(({ layer }) => layer.kind === 'picture' && over?.has(layer.blob));
  return own.toSpliced(last + 1, 0, ...derived);
}

/** The ways in which channels are drawn: the three of colour at once, alpha by itself. */
function showingsOf({ channels, neutral }: Derives): (Showing & { channels: Channel[] })[] {
  const colours = (['red', 'green', 'blue'] as const).filter((channel) => channels[channel]);
  const showing = (name: string, of: readonly Channel[]) => ({
    name,
    hard: false,
    value: (finish: LiveryFinish) =>
      of.map((channel) => {
        const meaning = channels[channel];
        return meaning ? valueOf(finish, meaning) : (neutral[channel] ?? 0);
      }) as unknown as readonly [number, number, number],
  });
  const names = colours.map((channel) => channels[channel]).join();
  return [
    ...(colours.length > 0
      ? [{ ...showing(names, ['red', 'green', 'blue']), channels: [...colours] as Channel[] }]
      : []),
    ...(channels.alpha
      ? [{ ...showing(channels.alpha, ['alpha', 'alpha', 'alpha']), channels: ['alpha' as const] }]
      : []),
  ];
}

/** A group that holds a sheet's layers as they are shown; null: nothing in it shows. */
function derivedNode(
  livery: Livery,
  sheet: string,
  showing: Showing,
  ground: boolean,
  channels: Channel[] | undefined,
): LayerNode | null {
  const inside: LayerNode[] = shown(livery, treeOf(layersOf(livery, sheet)), showing);
  if (ground) {
    const layer: Layer = {
      ...BASE,
      id: LayerId.parse(`ground~${showing.name}`),
      name: 'Ground',
      kind: 'solid',
      paint: { hex: '#000000' },
    };
    inside.unshift({ layer, inside: [], clipped: [], wears: worn(groundOf(livery, sheet), showing) });
  }
  if (inside.length === 0) return null;
  const layer: Layer = {
    ...BASE,
    id: LayerId.parse(`derived~${showing.name}`),
    name: 'From the finishes',
    kind: 'group',
    through: false,
    ...(channels && { channels }),
  };
  return { layer, inside, clipped: [], of: MAIN_MAP };
}

const worn = (finish: LiveryFinish | null, { value, hard }: Showing): Wears => ({
  texel: finish && (value(finish).map((v) => v * 257) as [number, number, number]),
  hard,
});

/** Nodes as their finishes show. */
const shown = (livery: Livery, nodes: readonly LayerNode[], showing: Showing): LayerNode[] =>
  standing<LiveryFinish>(nodes, {
    brings: (layer, around) => finishOf(livery, layer.finish) ?? around,
    wears: (layer, finish) => (finish && drawsFinish(layer) ? worn(finish, showing) : null),
    as: (layer) => asCoverage(layer, showing.name),
    nothing: worn(null, showing),
  });
