import { describe, expect, test } from 'vitest';
import { renderSheet } from '../compose/renderSheet.ts';
import { finished, renderRegion } from '../compose/renderTile.ts';
import { planDelivery, type PlannedSheet } from '../delivery/plan.ts';
import { preparedSheet } from '../delivery/preparedSheet.ts';
import { resample } from '../texture/resample.ts';
import { sheetState, signaturesOf } from '../delivery/checklist.ts';
import { SHIPPED_SPECS } from '../games/index.ts';
import { flipRows } from '../raster/image.ts';
import { mirrorImage } from '../raster/mirror.ts';
import { layerOf, smallLivery, smallTemplate, sourcesFor } from '../testing/scenes.ts';
import { boxesOf, rgbaOfHex8 } from './boxes.ts';
import { applyEdit } from './edit.ts';
import type { Template } from './template.ts';

const fog = { key: 'fog', name: 'Fog', means: 'haze', left: 2, top: 60, width: 3, height: 2, hex: '#11223300' };
const template: Template = (() => {
  const small = smallTemplate();
  return { ...small, sheets: [{ ...small.sheets[0], boxes: [fog] }] };
})();
const painted = smallLivery([layerOf('solid', { paint: { scheme: 'red' } })]);
const set = (hex: string) =>
  applyEdit(painted, { do: 'set-sheet', sheet: 'face', set: { boxes: { fog: hex } } }).livery;
const texel = (data: Uint8Array, x: number, y: number, width = 64) => [
  ...data.subarray((y * width + x) * 4, (y * width + x) * 4 + 4),
];

describe('parameter boxes', () => {
  test('have the template’s colour until the livery gives another, and taking that back gives it again', () => {
    expect(boxesOf(painted, template, 'face')[0].hex).toBe('#11223300');
    const edit = { do: 'set-sheet' as const, sheet: 'face', set: { boxes: { fog: '#aabbcc80' } } };
    const { livery, inverse } = applyEdit(painted, edit);
    expect(boxesOf(livery, template, 'face')[0].hex).toBe('#aabbcc80');
    expect(boxesOf(applyEdit(livery, inverse).livery, template, 'face')[0].hex).toBe('#11223300');
    expect(rgbaOfHex8('#aabbcc80')).toEqual([0xaa, 0xbb, 0xcc, 0x80]);
  });

  test('lie in their pixels and nowhere else, colour under alpha 0 included', async () => {
    const livery = set('#01020300');
    const image = renderSheet(livery, 'face', 'colour', template.sheets[0], await sourcesFor(livery, template));
    for (let y = 0; y < 64; y++)
      for (let x = 0; x < 64; x++) {
        const inside = x >= 2 && x < 5 && y >= 60 && y < 62;
        expect(texel(image.data, x, y)).toEqual(inside ? [1, 2, 3, 0] : texel(image.data, 0, 0));
      }
  });

  test('are in what is delivered even where everything else becomes opaque, padded or upside down', async () => {
    const livery = set('#0a0b0c40');
    const sources = await sourcesFor(livery, template);
    const flat = renderSheet(livery, 'face', 'colour', template.sheets[0], sources);
    const rule = { ...SHIPPED_SPECS['brackwater-run'].files[0], flip: true };
    const made = preparedSheet(flat, rule, 'colour', sources.surface('face'), '#808080', sources.boxes('face'));
    expect(texel(flipRows(made).data, 3, 61)).toEqual([10, 11, 12, 64]);
    expect(texel(flipRows(made).data, 5, 61)[3]).toBe(255);
  });

  test('show in coarse tiles where their texels are sampled', async () => {
    const sources = await sourcesFor(painted, template);
    const region = { x: 0, y: 0, width: 32, height: 32, step: 2 };
    const coarse = finished(
      renderRegion(painted, 'face', 'colour', region, sources),
      'face',
      'colour',
      region,
      sources,
    );
    // Samples lie at texels 1, 3, 5 ...: of columns 2 to 4 only 3 is one.
    expect(texel(coarse, 1, 30, 32)).toEqual([0x11, 0x22, 0x33, 0]);
    expect(texel(coarse, 2, 30, 32)[3]).toBe(255);
  });

  test('a changed box is a changed file', () => {
    const signature = (livery: typeof painted) =>
      (planDelivery(livery, template, SHIPPED_SPECS['brackwater-run']).files[0] as PlannedSheet).signature;
    expect(signature(set('#aabbcc80'))).not.toBe(signature(painted));
  });
});

describe('followers', () => {
  const follower = { key: 'wet', name: 'wet', width: 32, height: 32, mirror: 'across' as const, stem: null };
  const followedTemplate: Template = {
    ...smallTemplate(),
    sheets: [
      {
        ...smallTemplate().sheets[0],
        followers: [follower, { ...follower, key: 'lod', mirror: 'none', stem: 'far/face_lod1' }],
      },
    ],
  };
  const plan = planDelivery(painted, followedTemplate, SHIPPED_SPECS['brackwater-run']);
  const sheets = plan.files.filter((file) => file.kind === 'sheet') as PlannedSheet[];

  test('are delivered with the sheet: at their own size, under the pattern’s name or their own', () => {
    expect(sheets.map(({ name, sheet, mips }) => [name, sheet.width, mips])).toEqual([
      ['test_face.dds', 64, 7],
      ['test_wet.dds', 32, 6],
      ['far/face_lod1.dds', 32, 6],
    ]);
  });

  test('carry the art mirrored and at their size', async () => {
    const livery = smallLivery([
      layerOf('stripe', { paint: { scheme: 'red' }, x: 8, y: 0, angle: 90, width: 16, softness: 0 }),
    ]);
    const sources = await sourcesFor(livery, followedTemplate);
    const flat = renderSheet(livery, 'face', 'colour', followedTemplate.sheets[0], sources);
    const made = resample(mirrorImage(flat, sheets[1].mirror), sheets[1].sheet.width, sheets[1].sheet.height, 'srgb');
    expect([made.width, made.height]).toEqual([32, 32]);
    const back = mirrorImage(made, 'across');
    expect(texel(back.data, 2, 16, 32)[3]).toBe(255);
    expect(texel(back.data, 20, 16, 32)[3]).toBe(0);
  });

  test('count in the checklist: a sheet is delivered only when its followers are', async () => {
    const now = await signaturesOf(plan);
    expect(sheetState(painted, 'face', plan, now, now)).toBe('delivered');
    const without = new Map([...now].filter(([name]) => name !== 'test_wet.dds'));
    expect(sheetState(painted, 'face', plan, now, without)).toBe('work');
  });
});

describe('maps beside colour', () => {
  const original = layerOf('solid', { paint: { hex: '#8080ff' } });
  const withNormal: Template = {
    ...smallTemplate(),
    sheets: [{ ...smallTemplate().sheets[0], maps: [{ key: 'normal', name: 'Normal', alpha: 'none' }] }],
    begin: { 'face/normal': [original] },
  };
  const rule = SHIPPED_SPECS['brackwater-run'].files[0];
  const spec = {
    ...SHIPPED_SPECS['brackwater-run'],
    files: [
      rule,
      {
        ...rule,
        map: 'normal',
        name: '{sheet.key}_n.dds',
        colourSpace: 'normal' as const,
        size: { width: 16, height: 16 },
      },
    ],
  };
  const start = {
    ...painted,
    sheets: [
      {
        ...painted.sheets[0],
        maps: [...painted.sheets[0].maps, { key: 'normal', alpha: 'none' as const, layers: [original] }],
      },
    ],
  };

  test('are left out while they are as they were, and delivered once they are painted on', () => {
    const normal = (livery: typeof start) => planDelivery(livery, withNormal, spec).files[1] as PlannedSheet;
    expect(normal(start)).toMatchObject({ name: 'face_n.dds', leftOut: 'original' });
    const layer = layerOf('stripe', { paint: { hex: '#9080f0' }, x: 8, y: 8, angle: 0, width: 4, softness: 0 });
    const { livery } = applyEdit(start, { do: 'add-layer', sheet: 'face', map: 'normal', index: 1, layer });
    expect(normal(livery)).toMatchObject({ leftOut: null, sheet: { width: 16 }, mips: 5 });
  });
});
