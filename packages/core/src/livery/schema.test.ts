import { describe, expect, test } from 'vitest';
import { demoBundle, layerOf, smallLivery, smallTemplate } from '../testing/scenes.ts';
import { BLEND_MODES, Layer, paintsOf, W3C_MODES } from './layer.ts';
import { layersIn, Livery } from './livery.ts';
import { SHIPPED_FONTS } from './fonts.ts';
import { Template } from './template.ts';
import { portrait } from '../surface/portrait.ts';
import { picture } from '../testing/images.ts';

describe('the document', () => {
  const good = layerOf('stripe', { paint: { scheme: 'red' }, x: 0, y: 0, angle: 0, width: 4, softness: 0 });

  test.each<[string, object]>([
    ['a blend mode that is not one', { blend: 'vivid' }],
    ['an opacity above 100', { opacity: 101 }],
    ['a width of nothing', { width: 0 }],
    ['a place that is not a number', { x: Number.NaN }],
    ['a place beyond all sheets', { x: 1e9 }],
    ['a colour in capitals', { paint: { hex: '#FF0000' } }],
    ['an empty name', { name: '' }],
    ['a setting that no stripe has', { text: 'x' }],
  ])('does not take %s', (_what, change) => {
    expect(Layer.safeParse({ ...good, ...change }).success).toBe(false);
    expect(Layer.safeParse(good).success).toBe(true);
  });

  test('has the sixteen blend modes of W3C Compositing and Blending Level 1, by name', () => {
    expect(W3C_MODES).toHaveLength(16);
    expect(new Set(BLEND_MODES).size).toBe(25);
    expect(BLEND_MODES.filter((mode) => ['hue', 'saturation', 'color', 'luminosity'].includes(mode))).toHaveLength(4);
  });

  test('names every paint of every kind of layer', () => {
    const [red, blue] = [{ scheme: 'red' }, { scheme: 'blue' }];
    const stops = [
      { at: 0, paint: red, opacity: 100 },
      { at: 1, paint: blue, opacity: 0 },
    ];
    const text = { text: 'A', font: 'anton', size: 9, x: 0, y: 0, turn: 0, spacing: 0, slant: 0, mirrored: false };
    expect(paintsOf(layerOf('solid', { paint: red }))).toEqual([red]);
    expect(paintsOf(layerOf('fade', { shape: 'linear', x: 0, y: 0, length: 9, angle: 0, stops }))).toEqual([red, blue]);
    expect(
      paintsOf(
        layerOf('stripe-set', { paints: [red, blue], x: 0, y: 0, angle: 0, width: 1, gap: 1, count: 2, softness: 0 }),
      ),
    ).toEqual([red, blue]);
    expect(
      paintsOf(layerOf('chequer', { paint: red, other: blue, x: 0, y: 0, angle: 0, cell: 2, columns: 2, rows: 2 })),
    ).toEqual([red, blue]);
    expect(paintsOf(layerOf('lettering', { ...text, paint: red, outline: { paint: blue, width: 1 } }))).toEqual([
      red,
      blue,
    ]);
    expect(paintsOf(layerOf('lettering', { ...text, paint: red, outline: null }))).toEqual([red]);
  });

  test('keeps its keys apart: particulars are named in letters, keys of a pin are hashes', () => {
    const livery = smallLivery([good]);
    expect(Livery.safeParse(livery).success).toBe(true);
    expect(Livery.safeParse({ ...livery, particulars: { 'two words': 'x' } }).success).toBe(false);
    expect(Livery.safeParse({ ...livery, pins: { ...livery.pins, template: 'latest' } }).success).toBe(false);
    expect(Livery.safeParse({ ...livery, schema: 2 }).success).toBe(false);
  });

  test('a template with a sheet of no size, or of too much, is none', () => {
    const template = smallTemplate();
    expect(Template.safeParse(template).success).toBe(true);
    for (const width of [0, 20_000, 12.5])
      expect(Template.safeParse({ ...template, sheets: [{ ...template.sheets[0], width }] }).success).toBe(false);
  });
});

test('a dozen faces or more are shipped, of real variety: condensed, wide, slab, stencil, block numbers, script', () => {
  expect(SHIPPED_FONTS.length).toBeGreaterThanOrEqual(12);
  for (const kind of ['condensed', 'wide', 'slab', 'stencil', 'block numbers', 'script'])
    expect(SHIPPED_FONTS.some((font) => font.kind.includes(kind))).toBe(true);
});

describe('the demo world', () => {
  test('each crew has a livery of its own with stripes, marks and lettering, bound to its particulars and scheme', async () => {
    const teams = new Set<string>();
    for (const key of ['tern-tide', 'ebbline', 'lanternfish'] as const) {
      const { livery } = await demoBundle(key);
      const layers = layersIn(livery);
      expect(layers.length).toBeGreaterThan(30);
      for (const kind of ['lettering', 'decal'])
        expect(layers.filter((layer) => layer.kind === kind).length).toBeGreaterThan(3);
      expect(layers.some((layer) => layer.kind === 'stripe' || layer.kind === 'stripe-set')).toBe(true);
      expect(layers.some((layer) => layer.kind === 'lettering' && layer.text.includes('{number}'))).toBe(true);
      expect(layers.flatMap(paintsOf).every((paint) => 'scheme' in paint)).toBe(true);
      teams.add(livery.particulars.team);
    }
    expect(teams.size).toBe(3);
  });

  test('its craft is drawn on the turntable: paint where a sheet is given, the part’s own colour elsewhere, clear around it', async () => {
    const { template } = await demoBundle('tern-tide');
    const red = picture(8, 8, () => [255, 0, 0, 255]);
    const look = { width: 96, height: 64, heading: 138, elevation: 16 };
    const count = (image: ReturnType<typeof portrait>, wanted: (r: number, g: number, a: number) => boolean) => {
      let n = 0;
      for (let i = 0; i < image.data.length; i += 4)
        if (wanted(image.data[i], image.data[i + 1], image.data[i + 3])) n++;
      return n;
    };
    const painted = portrait(template, new Map([['hull', red]]), look);
    const bare = portrait(template, new Map(), look);
    expect([...painted.data.subarray(0, 4)]).toEqual([0, 0, 0, 0]);
    expect(count(painted, (r, g, a) => a === 255 && r > 90 && g < r / 4)).toBeGreaterThan(400);
    expect(count(bare, (r, g, a) => a === 255 && r > 90 && g < r / 4)).toBe(0);
    expect(count(painted, (_r, _g, a) => a > 0)).toBe(count(bare, (_r, _g, a) => a > 0));
    // Where alpha cuts out, clear texels are holes; a sheet that nobody painted is shown all the same.
    const cut = { ...template, sheets: template.sheets.map((sheet) => ({ ...sheet, alpha: 'cutout' as const })) };
    const half = picture(8, 8, (x) => [255, 0, 0, x < 4 ? 255 : 0]);
    const all = count(bare, (_r, _g, a) => a > 0);
    const holed = count(portrait(cut, new Map([['hull', half]]), look), (_r, _g, a) => a > 0);
    expect(holed).toBeLessThan(all);
    expect(holed).toBeGreaterThan(all / 3);
    const clear = picture(8, 8, () => [0, 0, 0, 0]);
    expect(count(portrait(cut, new Map([['hull', clear]]), look), (_r, _g, a) => a > 0)).toBe(all);
  });
});
