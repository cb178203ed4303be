/**
 * What follows from the finishes of layers, against an evaluation of the tests' own: it asks the product for the coverage of single layers
 * and stacks them by itself. Packed maps against glTF 2.0, 5.22.3 (roughness in G, metal in B) and 3.9.3 (occlusion in R).
 */
import { describe, expect, test } from 'vitest';
import { rgbOfHex } from '../colour/hex.ts';
import { renderFinished, renderRegion } from '../compose/renderTile.ts';
import { renderSheet } from '../compose/renderSheet.ts';
import { TileCache } from '../compose/tileCache.ts';
import { mapContent } from '../depends/content.ts';
import { applyEdit, Edit } from '../livery/edit.ts';
import { FIRST_FINISHES, newFinish, shownAs } from '../livery/finish.ts';
import { FinishId, LayerId, Sha256 } from '../livery/ids.ts';
import type { Layer } from '../livery/layer.ts';
import { layersOf, type Livery } from '../livery/livery.ts';
import type { Template } from '../livery/template.ts';
import { isUntouched, putOverRegion } from '../delivery/overOriginal.ts';
import { packChannels } from '../delivery/preparedSheet.ts';
import { packedMaps, SpecFile, ZONE_MAP } from '../livery/spec.ts';
import { packPixels } from '../files/pixels.ts';
import { TILE } from '../raster/image.ts';
import { toStraight8 } from '../raster/tile16.ts';
import { picture, randomFrom } from '../testing/images.ts';
import fc from '../testing/property.ts';
import { layerOf, smallLivery, smallTemplate, sourcesFor } from '../testing/scenes.ts';
import { meaningOf } from './meanings.ts';

const SIDE = 24;
const all = { x: 0, y: 0, width: SIDE, height: SIDE, step: 1 };
const KEYS = FIRST_FINISHES.map(({ id }) => id);
const HALF = 32768;

/** A plank with a packed map in glTF's order, over a picture of the game's own where one is named. */
function packedTemplate(channels: Record<string, string>, over?: string): Template {
  const template = smallTemplate(SIDE);
  const maps = [{ key: 'packed', name: 'Packed', alpha: 'none' as const, holds: 'packed' as const, channels }];
  const pixels = over && layerOf('picture', { blob: over, left: 0, top: 0, width: SIDE, height: SIDE });
  return {
    ...template,
    sheets: template.sheets.map((sheet) => ({ ...sheet, maps })),
    ...(pixels && { begin: { 'face/packed': [pixels] } }),
  };
}

const withPacked = (livery: Livery, layers: Layer[]): Livery => ({
  ...livery,
  sheets: livery.sheets.map((sheet) => ({
    ...sheet,
    maps: [...sheet.maps, { key: 'packed', alpha: 'none' as const, layers }],
  })),
});

/** Layers at random: shapes and stripes, in groups of both sorts, clipped, masked, kept to parts, soft and faint. */
function randomLayers(random: () => number): Layer[] {
  const pick = <T>(of: readonly T[]): T => of[Math.floor(random() * of.length)];
  const maybe = (share: number, what: object) => (random() < share ? what : {});
  const settings = () => ({
    opacity: pick([100, 100, 100, 80, 50, 49, 20]),
    hidden: random() < 0.1,
    ...maybe(0.6, { finish: pick(KEYS) }),
    ...maybe(0.2, { parts: [pick(['left', 'right'])] }),
    ...maybe(0.2, { finishOnly: true }),
    ...maybe(0.2, {
      mask: {
        from: { kind: 'fade', shape: 'linear', x: 4, y: 4, length: 20, angle: pick([0, 90, 45]) },
        ...{ strokes: [], off: false, inverted: random() < 0.5, feather: 0, linked: null },
      },
    }),
  });
  const leaf = (more: object): Layer => {
    const at = { x: random() * SIDE, y: random() * SIDE, angle: random() * 180 };
    const hex = `#${Math.floor(random() * 0xffffff)
      .toString(16)
      .padStart(6, '0')}`;
    const common = { ...settings(), ...more, paint: { hex } };
    return random() < 0.3
      ? layerOf('solid', common)
      : layerOf('stripe', { ...common, ...at, width: 4 + random() * 14, softness: pick([0, 0, 6]) });
  };
  const layers: Layer[] = [];
  for (let n = 0; n < 4; n++) {
    if (random() < 0.4) {
      const group = layerOf('group', { ...settings(), finishOnly: undefined, through: random() < 0.5 });
      for (let k = 0; k < 2; k++) layers.push(leaf({ group: group.id, ...(k > 0 && maybe(0.3, { clipped: true })) }));
      layers.push(group);
    } else {
      layers.push(leaf({}));
      if (random() < 0.3) layers.push(leaf({ clipped: true }));
    }
  }
  return layers;
}

/**
 * The finish of each texel by the rules as they are written: of nodes from first to last, whatever covers at least half (its mask, parts and
 * opacity counted) takes the texel; a group takes it with what its own layers took; what is clipped counts where its base covers half.
 */
async function zonesByHand(livery: Livery, template: Template): Promise<string[]> {
  const sources = await sourcesFor(livery, template);
  const layers = layersOf(livery, 'face');
  const alphaOf = (layer: Layer, bare: boolean): Uint16Array => {
    const { group: _group, clipped: _clipped, finishOnly: _only, ...plain } = layer;
    const alone = { ...plain, hidden: false, ...(bare && { opacity: 100, parts: [], mask: undefined }) } as Layer;
    const drawn = renderRegion(smallLivery([alone], template), 'face', 'colour', all, sources);
    return Uint16Array.from({ length: SIDE * SIDE }, (_, i) => drawn[i * 4 + 3]);
  };
  /** What a group's mask, parts and opacity let through. */
  const shareOf = (group: Layer): Uint16Array =>
    alphaOf(
      {
        ...layerOf('solid', { paint: { hex: '#ffffff' } }),
        opacity: group.opacity,
        parts: group.parts,
        mask: group.mask,
      } as Layer,
      false,
    );
  type Taken = (string | null)[];
  const stack = (home: string | undefined, around: string | undefined): Taken => {
    const out: Taken = new Array<string | null>(SIDE * SIDE).fill(null);
    const here = layers.filter(({ group }) => group === home);
    let base: { layer: Layer; bare: Uint16Array; shown: Uint16Array } | null = null;
    for (const layer of here) {
      const own = layer.finish ?? around;
      if (layer.clipped && base) {
        if (layer.hidden || base.layer.hidden) continue;
        const mine = alphaOf(layer, false);
        if (own)
          mine.forEach((a, i) => {
            if (a >= HALF && base!.bare[i] >= HALF && base!.shown[i] >= HALF) out[i] = own;
          });
        continue;
      }
      if (layer.kind === 'group') {
        base = null;
        if (layer.hidden) continue;
        const inside = stack(layer.id, own);
        const share = shareOf(layer);
        inside.forEach((finish, i) => {
          if (finish && share[i] >= HALF) out[i] = finish;
        });
        continue;
      }
      const shown = alphaOf(layer, false);
      base = { layer, bare: alphaOf(layer, true), shown: shareOf(layer) };
      // With its coverage the share counts once more where something is clipped to it: both are of the same texel.
      base.shown = shown;
      if (!layer.hidden && own) shown.forEach((a, i) => a >= HALF && (out[i] = own));
    }
    return out;
  };
  const ground = livery.sheets[0].finish;
  return stack(undefined, undefined).map((finish) => finish ?? ground);
}

const hexAt = (texels: Uint8Array, i: number) =>
  `#${[0, 1, 2].map((c) => texels[i * 4 + c].toString(16).padStart(2, '0')).join('')}`;

describe('the zone map', () => {
  test('is the topmost finish of at least half coverage, texel for texel: 1,000 liveries', async () => {
    const template = smallTemplate(SIDE);
    const random = randomFrom(24);
    let differ = 0;
    let zones = 0;
    for (let n = 0; n < 1000; n++) {
      const livery = smallLivery(randomLayers(random), template);
      livery.sheets[0].finish = KEYS[n % KEYS.length];
      const shown = renderFinished(livery, 'face', ZONE_MAP, all, await sourcesFor(livery, template));
      const wanted = await zonesByHand(livery, template);
      zones += new Set(wanted).size;
      wanted.forEach((finish, i) => {
        if (hexAt(shown, i) !== shownAs(livery, finish)) differ++;
      });
    }
    expect(differ).toBe(0);
    // They are no liveries of one zone.
    expect(zones).toBeGreaterThan(1900);
  });

  test('colour and zone go together when layers are moved, hidden, reordered or changed', async () => {
    const template = smallTemplate(SIDE);
    await fc.assert(
      fc.asyncProperty(
        fc.array(
          fc.record({
            x: fc.integer({ min: 0, max: SIDE }),
            y: fc.integer({ min: 0, max: SIDE }),
            finish: fc.integer({ min: 0, max: KEYS.length - 1 }),
            angle: fc.integer({ min: 0, max: 180 }),
          }),
          { minLength: 2, maxLength: 8 },
        ),
        fc.array(fc.tuple(fc.nat(7), fc.nat(3), fc.nat(SIDE)), { maxLength: 6 }),
        async (placed, changes) => {
          // No mixture of two is a third.
          const hexes = ['#0a40c8', '#f01030', '#20e070', '#907010', '#1888f0', '#e0e0f8', '#600898', '#304050'];
          let livery = smallLivery(
            placed.map(({ x, y, angle, finish }, i) =>
              layerOf('stripe', {
                ...{ x, y, angle, width: 9, softness: 0, paint: { hex: hexes[i] } },
                finish: KEYS[finish],
              }),
            ),
            template,
          );
          const finishOf = new Map(placed.map(({ finish }, i) => [hexes[i], KEYS[finish]]));
          for (const step of [null, ...changes]) {
            if (step) {
              const [at, how, by] = step;
              const layers = layersOf(livery, 'face');
              const layer = layers[at % layers.length];
              const edit = [
                { do: 'set-layer', layer: layer.id, set: { x: by } },
                { do: 'set-layer', layer: layer.id, set: { hidden: !layer.hidden } },
                { do: 'move-layer', layer: layer.id, sheet: 'face', map: 'colour', index: by % layers.length },
                { do: 'set-layer', layer: layer.id, set: { width: 2 + by } },
              ][how];
              livery = applyEdit(livery, Edit.parse(edit)).livery;
            }
            const sources = await sourcesFor(livery, template);
            const colour = renderFinished(livery, 'face', 'colour', all, sources);
            const zone = renderFinished(livery, 'face', ZONE_MAP, all, sources);
            for (let i = 0; i < SIDE * SIDE; i++) {
              const finish = colour[i * 4 + 3] === 255 && finishOf.get(hexAt(colour, i));
              if (finish) expect(hexAt(zone, i)).toBe(shownAs(livery, finish));
              if (colour[i * 4 + 3] === 0) expect(hexAt(zone, i)).toBe(shownAs(livery, 'gloss'));
            }
          }
        },
      ),
      { numRuns: 30 },
    );
  });

  test('a layer that brings its finish alone leaves colours as they are', async () => {
    const template = smallTemplate(SIDE);
    const base = layerOf('solid', { paint: { hex: '#336699' } });
    const varnish = layerOf('solid', { paint: { hex: '#ff0000' }, finish: 'chrome', finishOnly: true });
    const livery = smallLivery([base, varnish], template);
    const sources = await sourcesFor(livery, template);
    expect(hexAt(renderFinished(livery, 'face', 'colour', all, sources), 5)).toBe('#336699');
    expect(hexAt(renderFinished(livery, 'face', ZONE_MAP, all, sources), 5)).toBe(shownAs(livery, 'chrome'));
    const bare = smallLivery([base], template);
    expect(mapContent(livery, template, 'face', 'colour')).toBe(mapContent(bare, template, 'face', 'colour'));
  });
});

describe('packed maps', () => {
  const ORM = { red: 'occlusion', green: 'Roughness', blue: 'metallic' };

  test('hold roughness in green and metal in blue, mixed by coverage; what no finish says stays', async () => {
    const template = packedTemplate(ORM);
    const matt = layerOf('solid', { paint: { hex: '#112233' }, finish: 'matt' });
    const chrome = layerOf('solid', { paint: { hex: '#112233' }, finish: 'chrome', opacity: 40 });
    const hand = layerOf('solid', { paint: { hex: '#c80000' }, channels: ['red'] });
    const livery = withPacked(smallLivery([matt, chrome], template), [hand]);
    const shown = renderFinished(livery, 'face', 'packed', all, await sourcesFor(livery, template));
    const mixed = (a: number, b: number) => Math.round((a * 0.6 + b * 0.4) * 2.55);
    expect(shown[0]).toBe(200);
    expect(Math.abs(shown[1] - mixed(82, 5))).toBeLessThanOrEqual(1);
    expect(Math.abs(shown[2] - mixed(0, 100))).toBeLessThanOrEqual(1);
    expect(shown[3]).toBe(255);
  });

  test('over the game’s own map only texels whose finish somebody set change', async () => {
    const own = picture(SIDE, SIDE, (x, y) => [x * 8, y * 8, (x * y) & 255, 255]);
    const blob = Sha256.parse('ab'.repeat(32));
    const template = packedTemplate(ORM, blob);
    const half = layerOf('solid', { paint: { hex: '#ffffff' }, finish: 'rubber', parts: ['left'] });
    const plain = layerOf('solid', { paint: { hex: '#00ff00' } });
    const livery = withPacked(smallLivery([plain, half], template), [...template.begin!['face/packed']]);
    const blobs = new Map([[blob as string, packPixels(own)]]);
    const sources = await sourcesFor(livery, template, blobs);
    const shown = renderFinished(livery, 'face', 'packed', all, sources);
    const surface = sources.surface('face');
    let set = 0;
    for (let y = 0, i = 0; y < SIDE; y++)
      for (let x = 0; x < SIDE; x++, i += 4) {
        const rubber = surface.ownerAt(x, y) === 1;
        if (rubber) set++;
        const wanted = rubber ? [own.data[i], Math.round(95 * 2.55), 0, 255] : [...own.data.subarray(i, i + 4)];
        expect([...shown.subarray(i, i + 4)]).toEqual(wanted);
      }
    expect(set).toBeGreaterThan(50);
    // A delivery over the game's file takes just those for painted.
    const place = { livery, sheet: 'face', map: 'packed', size: { width: SIDE, height: SIDE }, pixels: blob };
    const [into, changed] = [own.data.slice(), new Uint8Array(SIDE * SIDE)];
    expect(isUntouched(place, all, sources)).toBe(false);
    putOverRegion(place, all, sources, own, into, changed);
    expect([...into]).toEqual([...shown]);
    expect(changed.reduce((n, one) => n + one, 0)).toBe(set);
    // Nobody set a finish: it is the game's own, and no name says otherwise.
    const without = withPacked(smallLivery([plain], template), [...template.begin!['face/packed']]);
    const bare = await sourcesFor(without, template, blobs);
    expect([...renderFinished(without, 'face', 'packed', all, bare)]).toEqual([...own.data]);
    expect(isUntouched({ ...place, livery: without }, all, bare)).toBe(true);
  });

  test('gloss is roughness the other way round, in alpha too', async () => {
    const template = packedTemplate({ red: 'metal', alpha: 'smoothness' });
    template.sheets[0].maps![0].alpha = 'data';
    const matt = layerOf('solid', { paint: { hex: '#112233' }, finish: 'matt' });
    const livery = withPacked(smallLivery([matt], template), [layerOf('solid', { paint: { hex: '#405060' } })]);
    const sources = await sourcesFor(livery, template);
    const under = withPacked(smallLivery([matt], template), []);
    const shown = toStraight8(renderRegion(under, 'face', 'packed', all, sources), SIDE, SIDE, 0, 0);
    expect(shown[3]).toBe(Math.round((100 - 82) * 2.55));
    // What is painted by hand lies above it.
    expect(renderFinished(livery, 'face', 'packed', all, sources)[1]).toBe(0x50);
  });

  test('a spec has values of the finishes in the channels that it names, whatever maps the template has', async () => {
    const template = smallTemplate(SIDE);
    const chrome = layerOf('solid', { paint: { hex: '#112233' }, finish: 'chrome', parts: ['left'] });
    const livery = smallLivery([chrome], template);
    livery.sheets[0].finish = KEYS[2];
    const sources = await sourcesFor(livery, template);
    const packed = SpecFile.shape.packed.parse({
      ...{
        red: { finish: 'gloss' },
        green: { value: 7 },
        blue: { finish: 'metal' },
        alpha: { map: 'colour', channel: 'blue' },
      },
    })!;
    const maps = new Map(
      [...packedMaps(packed)].map((map) => [
        map,
        renderSheet(livery, 'face', map, { width: SIDE, height: SIDE }, sources),
      ]),
    );
    expect([...maps.keys()].sort()).toEqual(['colour', 'finish:gloss', 'finish:metal']);
    const { data } = packChannels(packed, maps, { width: SIDE, height: SIDE });
    const surface = sources.surface('face');
    for (let y = 0, i = 0; y < SIDE; y++)
      for (let x = 0; x < SIDE; x++, i += 4) {
        const on = surface.ownerAt(x, y) === 1;
        const wanted = on ? [Math.round(95 * 2.55), 7, 255, 0x33] : [Math.round(18 * 2.55), 7, 0, 0];
        expect([...data.subarray(i, i + 4)]).toEqual(wanted);
      }
    // A finish that changes changes what such a file depends on, and not what the colour does.
    const other = applyEdit(livery, Edit.parse({ do: 'set-finish', finish: 'chrome', set: { roughness: 44 } })).livery;
    expect(mapContent(other, template, 'face', 'finish:gloss')).not.toBe(
      mapContent(livery, template, 'face', 'finish:gloss'),
    );
    expect(mapContent(other, template, 'face', 'finish:metal')).toBe(
      mapContent(livery, template, 'face', 'finish:metal'),
    );
    expect(mapContent(other, template, 'face', 'colour')).toBe(mapContent(livery, template, 'face', 'colour'));
  });

  test.each([
    ['Roughness', 'roughness'],
    ['ROUGH', 'roughness'],
    ['Glossiness', 'gloss'],
    ['smoothness', 'gloss'],
    ['Metalness', 'metal'],
    ['clear coat', 'coat'],
    ['Clearcoat roughness', 'coatRoughness'],
    ['flakes', 'flake'],
    ['occlusion', null],
    ['height', null],
    ['specular', null],
  ])('a channel called %s means %s', (name, meaning) => expect(meaningOf(name)).toBe(meaning));
});

describe('the cache', () => {
  test('gives what drawing everything gives, after any step: finishes, layers, strokes, hot or not', async () => {
    const template = packedTemplate({ red: 'occlusion', green: 'roughness', blue: 'metal' });
    const random = randomFrom(7);
    const cache = new TileCache(64 * 1024 * 1024);
    let livery = withPacked(smallLivery(randomLayers(random), template), [
      layerOf('solid', { id: 'hand', paint: { hex: '#305070' }, opacity: 30 }),
    ]);
    const size = { width: SIDE, height: SIDE };
    for (let n = 0; n < 36; n++) {
      const layers = layersOf(livery, 'face');
      const layer = layers[Math.floor(random() * layers.length)];
      const steps: unknown[] = [
        { do: 'set-layer', layer: layer.id, set: { finish: random() < 0.3 ? null : KEYS[Math.floor(random() * 6)] } },
        { do: 'set-layer', layer: layer.id, set: { hidden: random() < 0.3 } },
        { do: 'set-layer', layer: layer.id, set: { opacity: Math.floor(random() * 100) } },
        { do: 'set-finish', finish: KEYS[Math.floor(random() * 6)], set: { roughness: Math.floor(random() * 100) } },
        { do: 'set-sheet', sheet: 'face', set: { finish: KEYS[Math.floor(random() * 6)] } },
        { do: 'set-layer', layer: 'hand', set: { opacity: Math.floor(random() * 60) } },
      ];
      livery = applyEdit(livery, Edit.parse(steps[n % steps.length])).livery;
      const sources = await sourcesFor(livery, template);
      for (const map of [ZONE_MAP, 'packed', 'colour']) {
        const region = { x: 0, y: 0, width: TILE, height: TILE, step: 1 };
        const hot = [undefined, layer.id as string, 'hand'][n % 3];
        const kept = cache.exact(livery, 'face', map, size, 0, 0, 0, sources, { hot });
        const plain = renderRegion(livery, 'face', map, region, sources);
        expect(
          Buffer.compare(Buffer.from(kept.buffer, kept.byteOffset, kept.byteLength), Buffer.from(plain.buffer)),
        ).toBe(0);
      }
    }
  });
});

describe('the finishes of a livery', () => {
  const livery = smallLivery([layerOf('solid', { paint: { hex: '#ffffff' } })]);
  const step = (edit: unknown, on = livery) => applyEdit(on, Edit.parse(edit));

  test('are those that every livery begins with until one changes; a step back is all the way back', () => {
    const pearl = newFinish('pearl', FinishId.parse('p'), 'Pearl');
    const added = step({ do: 'add-finish', finish: pearl, index: 2 });
    expect(added.livery.finishes!.map(({ name }) => name)).toEqual([
      ...['Gloss', 'Satin', 'Pearl', 'Matt', 'Metallic', 'Chrome', 'Rubber'],
    ]);
    expect(applyEdit(added.livery, added.inverse).livery).toEqual(livery);
    const set = step({ do: 'set-finish', finish: 'metallic', set: { flake: null, roughness: 9 } });
    expect(set.livery.finishes![3]).not.toHaveProperty('flake');
    expect(applyEdit(set.livery, set.inverse).livery).toEqual(livery);
    const gone = step({ do: 'remove-finish', finish: 'satin' });
    expect(applyEdit(gone.livery, gone.inverse).livery).toEqual(livery);
  });

  test('one that is gone leaves what is under it; the last one stays; there are 24 at most', () => {
    let one = livery;
    for (const { id } of FIRST_FINISHES.slice(1)) one = step({ do: 'remove-finish', finish: id }, one).livery;
    expect(() => step({ do: 'remove-finish', finish: 'gloss' }, one)).toThrow(/one finish at least/);
    let many = livery;
    for (let i = 6; i < 24; i++)
      many = step(
        { do: 'add-finish', finish: newFinish('own', FinishId.parse(`f${i}`), 'More'), index: 0 },
        many,
      ).livery;
    const shown = many.finishes!.map(({ id }) => shownAs(many, id));
    expect(new Set(shown).size).toBe(24);
    for (const hex of shown) expect(rgbOfHex(hex)).toHaveLength(3);
    const more = { do: 'add-finish', finish: newFinish('own', FinishId.parse('f'), 'More'), index: 0 };
    expect(() => step(more, many)).toThrow(/24 finishes at most/);
    expect(LayerId.parse('x')).toBe('x');
  });
});
