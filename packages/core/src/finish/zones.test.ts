/** Finishes and the zones of a game: who gets which, what is said, and what the game makes of the files. */
import { describe, expect, test } from 'vitest';
import { finishIgnored } from '../delivery/checks/finishIgnored.ts';
import { finishZones } from '../delivery/checks/finishZones.ts';
import { flakeUnseen } from '../delivery/checks/flakeUnseen.ts';
import { shineTooSmall } from '../delivery/checks/shineTooSmall.ts';
import type { Check } from '../delivery/finding.ts';
import { planDelivery } from '../delivery/plan.ts';
import { NO_TARGET } from '../delivery/target.ts';
import { inZoneColours } from '../delivery/preparedSheet.ts';
import { renderSheet } from '../compose/renderSheet.ts';
import { SHIPPED_SPECS } from '../games/index.ts';
import { loadLivery } from '../games/brackwaterRun/loader.ts';
import { FINISH_VALUES, finishesOf, newFinish, type FinishKind } from '../livery/finish.ts';
import { FinishId } from '../livery/ids.ts';
import type { Layer } from '../livery/layer.ts';
import type { Livery } from '../livery/livery.ts';
import { packLayers, unpackLayers } from '../livery/parcel.ts';
import { applyEdit } from '../livery/edit.ts';
import { DeliverySpec, ZONE_MAP, type SpecZone } from '../livery/spec.ts';
import { writeDds } from '../texture/dds.ts';
import { encodeImage } from '../texture/encode.ts';
import { mipChain } from '../texture/mips.ts';
import { resample } from '../texture/resample.ts';
import type { Image8 } from '../raster/image.ts';
import fc from '../testing/property.ts';
import { layerOf, smallLivery, smallTemplate, sourcesFor } from '../testing/scenes.ts';
import { giveZones, zoneColours } from './zones.ts';

const spec = SHIPPED_SPECS['brackwater-run'];
const KINDS = Object.keys(FINISH_VALUES) as FinishKind[];

/** A livery whose layers wear finishes of these kinds, each its own. */
function wearing(kinds: readonly FinishKind[], more: Partial<Layer> = {}): Livery {
  const finishes = [
    finishesOf({})[0],
    ...kinds.map((kind, i) => newFinish(kind, FinishId.parse(`f${i}`), `${kind} ${i}`)),
  ];
  const layers = kinds.map((_, i) =>
    layerOf('solid', { paint: { hex: '#305070' }, finish: `f${i}`, parts: ['left'], ...more }),
  );
  return { ...smallLivery(layers), finishes };
}

describe('finishes are given to zones', () => {
  test('each its own as long as that can be, whatever their order: as many as brute force finds', () => {
    const zone = fc.record({ kinds: fc.option(fc.subarray(KINDS.slice(0, 5), { minLength: 1 })) });
    fc.assert(
      fc.property(
        fc.array(zone, { minLength: 1, maxLength: 5 }),
        fc.array(fc.constantFrom(...KINDS.slice(0, 5)), { minLength: 1, maxLength: 5 }),
        (made, kinds) => {
          const zones = made.map(({ kinds: of }, i): SpecZone => ({
            ...{ key: `z${i}`, name: `Z ${i}`, hex: `#00000${i}` },
            ...(of && { kinds: of }),
          }));
          const livery = wearing(kinds);
          const given = giveZones(livery, zones, ['face']);
          const own = given.filter(({ shares, allowed }) => allowed && !shares);
          expect(new Set(own.map(({ zone: of }) => of)).size).toBe(own.length);
          for (const { zone: of, finish } of own) expect(!of.kinds || of.kinds.includes(finish.kind)).toBe(true);
          const wanted = [...given.map(({ finish }) => finish)];
          const most = (i: number, taken: ReadonlySet<SpecZone>): number =>
            i === wanted.length
              ? 0
              : Math.max(
                  most(i + 1, taken),
                  ...zones
                    .filter((of) => !taken.has(of) && (!of.kinds || of.kinds.includes(wanted[i].kind)))
                    .map((of) => 1 + most(i + 1, new Set([...taken, of]))),
                );
          expect(own.length).toBe(most(0, new Set()));
        },
      ),
      { numRuns: 200 },
    );
  });

  test('what is covered all over takes none', () => {
    const [under, over] = [
      layerOf('solid', { paint: { hex: '#000000' }, finish: 'satin' }),
      layerOf('solid', { paint: { hex: '#ffffff' }, finish: 'matt' }),
    ];
    const names = (layers: Layer[]) =>
      giveZones(smallLivery(layers), spec.zones!, ['face']).map(({ finish }) => finish.name);
    expect(names([under, over])).toEqual(['Matt']);
    expect(names([under, { ...over, opacity: 49 }])).toEqual(['Satin', 'Matt']);
    expect(names([under, { ...over, hidden: true }])).toEqual(['Satin']);
    expect(names([{ ...over, parts: ['left'] }])).toEqual(['Gloss', 'Matt']);
  });

  test('where layers bring their finish alone the zones go along, and no colours', () => {
    const gloss = layerOf('solid', { paint: { hex: '#ffffff' }, finish: 'matt', finishOnly: true });
    const left = (livery: Livery) =>
      planDelivery(livery, smallTemplate(), spec).files.flatMap((file) =>
        'leftOut' in file ? [[file.spec.map, file.leftOut]] : [],
      );
    expect(left(smallLivery([gloss]))).toEqual([
      ['colour', 'bare'],
      [ZONE_MAP, null],
    ]);
    expect(left(smallLivery([{ ...gloss, hidden: true }])).map(([, why]) => why)).toEqual(['bare']);
  });

  test('one too many shares the zone of the nearest; one that is not allowed is said', () => {
    const crowd = giveZones(wearing(['fabric', 'carbon', 'chrome']), spec.zones!, ['face']);
    expect(crowd.filter(({ shares }) => shares)).toEqual([]);
    const many = giveZones(wearing(['reflective', 'reflective']), spec.zones!, ['face']);
    expect(many.map(({ zone, shares }) => [zone.key, shares?.name ?? null])).toEqual([
      ['shell', null],
      ['safety', null],
      ['safety', 'reflective 0'],
    ]);
    const few = spec.zones!.slice(0, 2);
    const [, chrome] = giveZones(wearing(['chrome']), few, ['face']);
    expect([chrome.allowed, chrome.zone.key, chrome.shares?.name]).toEqual([false, 'shell', 'Gloss']);
  });
});

async function found(check: Check, livery: Livery, of: DeliverySpec = spec) {
  const template = smallTemplate();
  const plan = planDelivery(livery, template, of);
  return check.run({
    livery,
    template,
    spec: of,
    plan,
    target: NO_TARGET,
    sources: await sourcesFor(livery, template),
  });
}

describe('what preflight says of finishes', () => {
  test('a finish without a zone of its own', async () => {
    expect(await found(finishZones, wearing(['carbon', 'matt']))).toEqual([]);
    const [one] = await found(finishZones, wearing(['reflective', 'reflective']));
    expect(one.title).toBe('“reflective 1” gets no zone of its own');
    expect(one.detail).toMatch(/Safety marks, which is reflective 0/);
  });

  test('finishes that the game does not read', async () => {
    expect(await found(finishIgnored, wearing(['matt']))).toEqual([]);
    const plain = DeliverySpec.parse({ ...spec, zones: undefined, files: [spec.files[0]], sidecars: [] });
    const [one] = await found(finishIgnored, wearing(['matt']), plain);
    expect(one.title).toMatch(/does not see the finishes of face/);
    expect(await found(finishIgnored, wearing([]), plain)).toEqual([]);
  });

  test('flakes of the paint’s own colour', async () => {
    expect(await found(flakeUnseen, wearing(['metallic']))).toEqual([]);
    const livery = wearing(['metallic']);
    livery.finishes![1].flake!.tint = '#305070';
    const [one] = await found(flakeUnseen, livery);
    expect(one.title).toMatch(/flakes of “metallic 0” are not seen/);
  });

  test('chrome that its mips turn to grey', async () => {
    const line = (width: number) =>
      smallLivery([
        layerOf('stripe', { x: 9, y: 9, angle: 0, width, softness: 0, paint: { hex: '#ffffff' }, finish: 'chrome' }),
      ]);
    expect(await found(shineTooSmall, line(9))).toEqual([]);
    expect((await found(shineTooSmall, line(5)))[0].detail).toMatch(/about 5 texels, and 1.3 two mip levels on/);
  });
});

describe('a coat map, and what the game makes of it', () => {
  const SIDE = 512;
  const COAT = SIDE / 2;
  const template = smallTemplate(SIDE);
  const half = layerOf('solid', { paint: { hex: '#203040' }, finish: 'rubber', parts: ['left'] });
  const ring = layerOf('stripe', {
    ...{ x: 275, y: 225, angle: 20, width: 23, softness: 0, finish: 'chrome', paint: { hex: '#ffffff' } },
  });
  const livery = smallLivery([layerOf('solid', { paint: { hex: '#806040' } }), half, ring], template);
  const KEY = 'wharf/turnstone/test/';

  /** finish.toml and the fan's coat map, as they are delivered. */
  let once: Promise<{ toml: string; bytes: Uint8Array; levels: Image8[] }> | undefined;
  const delivered = () => (once ??= make());
  async function make() {
    const plan = planDelivery(livery, template, spec);
    const text = plan.files.find(({ name }) => name === 'finish.toml') as { text: string };
    const image = renderSheet(
      livery,
      'face',
      ZONE_MAP,
      { width: SIDE, height: SIDE },
      await sourcesFor(livery, template),
    );
    inZoneColours(image, zoneColours(livery, giveZones(livery, spec.zones!, ['face'])));
    const levels = mipChain(resample(image, COAT, COAT, 'ids'), { kind: 'ids', filter: 'box' });
    const bytes = writeDds(
      { width: COAT, height: COAT, format: 'bgra8', header: 'legacy', colourSpace: 'linear' },
      levels.map((level) => encodeImage(level, 'bgra8', { effort: 'fast' })),
    );
    return { toml: text.text.replaceAll('"face"', '"fan"'), bytes, levels };
  }
  const load = (toml: string, bytes: Uint8Array) => {
    const folder = new Map([
      [`${KEY}finish.toml`, new TextEncoder().encode(toml)],
      [`${KEY}test_fan_coatmap.dds`, bytes],
    ]);
    const report = loadLivery(folder, 'turnstone', 'test');
    return { report, coat: report.sheets.find(({ key }) => key === 'fan/zones')! };
  };

  test('is read: every level in the game’s own colours, none between them', async () => {
    const { toml, bytes, levels } = await delivered();
    const { report, coat } = load(toml, bytes);
    expect(report.ignored).toEqual([]);
    expect(coat.status).toBe('shown');
    expect(coat.levels).toHaveLength(8);
    const colours = (data: Uint8Array) =>
      new Set(Array.from({ length: data.length / 4 }, (_, i) => data.slice(i * 4, i * 4 + 3).join()));
    const top = colours(levels[0].data);
    expect(top).toEqual(new Set(['208,32,32', '32,32,32', '32,64,208']));
    for (const level of levels) for (const one of colours(level.data)) expect(top).toContain(one);
    expect(report.facts.map(({ label }) => label)).toEqual(['shell', 'trim', 'grip']);
  });

  const texts: readonly [string, (toml: string) => string, RegExp][] = [
    ['a zone that the game does not have', (t) => t.replace('key = "grip"', 'key = "sole"'), /no zone "sole"/],
    ['a zone twice', (t) => t.replace('key = "grip"', 'key = "trim"'), /trim is there twice/],
    ['another colour', (t) => t.replace('#202020', '#202021'), /#202020 in the game, not #202021/],
    [
      'a finish that the zone does not take',
      (t) => t.replace('kind = "rubber"', 'kind = "chrome"'),
      /grip cannot be chrome/,
    ],
    ['roughness in percent', (t) => t.replace(/roughness = 0.95/, 'roughness = 95'), /roughness of the zone grip/],
    ['metal below nothing', (t) => t.replace('metal = 1', 'metal = -1'), /metal of the zone trim/],
    ['no clear coat', (t) => t.replace(/^coat = .*$/m, ''), /coat of the zone shell/],
    ['coat roughness as text', (t) => t.replace(/coat_roughness = [\d.]+/, 'coat_roughness = "low"'), /coat_roughness/],
    ['too much flake', (t) => t.replace('flake = 0', 'flake = 1.5'), /flake of the zone shell/],
    ['flakes as large as hands', (t) => t.replace('flake_size = 0', 'flake_size = 100'), /flake_size/],
    ['a tint without its sign', (t) => t.replace('flake_tint = "#', 'flake_tint = "'), /flake_tint/],
    ['no zones', (t) => t.slice(0, t.indexOf('[[zone]]')), /no \[\[zone\]\]/],
    ['a sheet without a key', (t) => t.replace(/key = "fan"/, 'name = "fan"'), /\[\[sheet\]\] has no key/],
    ['another livery’s', (t) => t.replace('key = "test"', 'key = "rest"'), /"rest", but the folder is "test"/],
    ['broken off', (t) => t.slice(0, -20) + '"', /Ignored/],
  ];
  test.each(texts)('finish.toml with %s is named', async (_what, change, why) => {
    const { toml, bytes } = await delivered();
    const wrong = change(toml);
    expect(wrong).not.toBe(toml);
    const { report, coat } = load(wrong, bytes);
    expect(report.ignored.map(({ why: says }) => says).join()).toMatch(why);
    expect(coat.status).toBe('refused');
  });

  const word = (at: number, value: number) => (bytes: Uint8Array) => {
    const out = bytes.slice();
    new DataView(out.buffer).setUint32(at, value, true);
    return out;
  };
  const maps: readonly [string, (bytes: Uint8Array) => Uint8Array, RegExp][] = [
    ['a colour between two zones', (b) => b.with(128 + 400, 0x21), /none of the game’s zones/],
    ['one wrong texel in the last level', (b) => b.with(b.length - 4, 0x21), /mip level 8 .*none of the game’s zones/],
    ['half its size', word(16, 128), /128 x 256; this sheet is 256 x 256/],
    ['a missing level', word(28, 8), /8 mip levels; 9 are needed/],
    ['24 bits', word(88, 24), /24 bits a texel/],
    ['red and blue changed over', word(92, 0xff), /not in the order/],
    ['a compressed header', word(80, 4), /plain texels|of the kind/],
    ['bytes missing', (b) => b.subarray(0, b.length - 4), /bytes where its header asks for/],
    ['no header', (b) => b.subarray(0, 100), /ends inside its header/],
    ['another kind of file', (b) => b.with(0, 80), /not a DDS/],
  ];
  test.each(maps)('a coat map with %s is refused', async (_what, change, why) => {
    const { toml, bytes } = await delivered();
    expect(load(toml, change(bytes)).coat.why).toMatch(why);
  });

  test('a zone that is painted and has no values is named', async () => {
    const { toml, bytes } = await delivered();
    const [head, ...zones] = toml.split('[[zone]]');
    const without = [head, ...zones.filter((zone) => !zone.includes('grip'))].join('[[zone]]');
    expect(load(without, bytes).coat.why).toMatch(/the zone grip, which finish.toml does not have/);
  });
});

test('finishes go along with layers into another livery: the same ones are met, others are brought', () => {
  const from = wearing(['pearl']);
  from.finishes![1].roughness = 17;
  const template = smallTemplate();
  const parcel = packLayers(from, template.sheets[0], 'colour', [from.sheets[0].maps[0].layers[0].id]);
  const to = smallLivery([]);
  const place = { sheet: template.sheets[0], map: 'colour', index: 0 };
  const once = unpackLayers(parcel, to, place);
  const after = applyEdit(to, { do: 'together', edits: once.edits }).livery;
  const brought = finishesOf(after).at(-1)!;
  expect([brought.kind, brought.roughness, once.layers[0].finish]).toEqual(['pearl', 17, brought.id]);
  const twice = unpackLayers(parcel, after, place);
  expect(twice.edits.map((edit) => edit.do)).toEqual(['add-layer']);
  expect(twice.layers[0].finish).toBe(brought.id);
});
