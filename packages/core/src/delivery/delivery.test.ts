import { beforeAll, describe, expect, test } from 'vitest';
import { parse } from 'smol-toml';
import type { Sources } from '../compose/renderTile.ts';
import { applyEdit, type Edit } from '../livery/edit.ts';
import type { Layer } from '../livery/layer.ts';
import { layersOf, type Livery } from '../livery/livery.ts';
import type { Template } from '../livery/template.ts';
import { compareImages } from '../texture/compare.ts';
import { renderSheet } from '../compose/renderSheet.ts';
import { demoBundle, layerOf, smallLivery, smallTemplate, sourcesFor } from '../testing/scenes.ts';
import { sheetState, signaturesOf } from './checklist.ts';
import { expand, nameFacts } from './names.ts';
import { outlineCover } from './outlineCover.ts';
import { planDelivery, type PlannedSheet } from './plan.ts';
import { CHECKS } from './checks/index.ts';
import { preflight } from './preflight.ts';
import { preparedSheet, straighten } from './preparedSheet.ts';
import { randomFrom } from '../testing/images.ts';
import { DeliverySpec } from '../livery/spec.ts';
import { SHIPPED_SPECS } from '../games/index.ts';
import { NO_TARGET } from './target.ts';

const spec = SHIPPED_SPECS['brackwater-run'];
const sheetsOf = (livery: Livery, template: Template, of = spec) =>
  planDelivery(livery, template, of).files.filter((f) => f.kind === 'sheet') as PlannedSheet[];

async function look(livery: Livery, template = smallTemplate(), of: DeliverySpec = spec) {
  const sources = await sourcesFor(livery, template);
  return preflight({
    livery,
    template,
    spec: of,
    plan: planDelivery(livery, template, of),
    target: NO_TARGET,
    sources,
  });
}
const covered = (more: Layer[] = []) => smallLivery([layerOf('solid', { paint: { scheme: 'red' } }), ...more]);
const found = async (livery: Livery, check: string, template?: Template, of?: DeliverySpec) =>
  (await look(livery, template, of)).findings.filter((f) => f.check === check);
const withKey = (key: string) => applyEdit(covered(), { do: 'set-particular', key: 'key', value: key }).livery;

describe('names by pattern', () => {
  const facts = nameFacts(smallLivery([]), smallTemplate(), null, smallTemplate().sheets[0]);

  test('are filled from the craft, the livery and its particulars, through filters', () => {
    expect(expand('wharf/{craft.key}/{livery.key}_{sheet.key}.dds', facts)).toBe('wharf/plank/test_face.dds');
    expect(expand('{particulars.name|slug}-{particulars.number|upper}', facts)).toBe('test-7-7');
  });

  test('that ask for something unknown say what', () => {
    expect(() => expand('{craft.length}', facts)).toThrow(/asks for "craft.length"/);
    expect(() => expand('{craft.key|reverse}', facts)).toThrow(/filter "reverse"/);
  });
});

describe('the plan', () => {
  test('has every sheet under its final name, with its exact size, and the sidecar', () => {
    const plan = planDelivery(covered(), smallTemplate(), spec);
    expect(plan.folder).toBe('wharf/plank/test/');
    expect(plan.files.map((f) => f.name)).toEqual(['test_face.dds', 'finish.toml']);
    // 148 bytes of header, then 16 x 16, 8 x 8, 4 x 4, 2 x 2 and three single blocks of 16 bytes.
    expect(sheetsOf(covered(), smallTemplate())[0]).toMatchObject({
      mips: 7,
      bytes: 148 + (256 + 64 + 16 + 4 + 1 + 1 + 1) * 16,
      leftOut: null,
    });
  });

  test('leaves out what is bare, hidden or kept on purpose', () => {
    expect(sheetsOf(smallLivery([]), smallTemplate())[0].leftOut).toBe('bare');
    expect(
      sheetsOf(smallLivery([layerOf('solid', { paint: { scheme: 'red' }, hidden: true })]), smallTemplate())[0].leftOut,
    ).toBe('bare');
    const kept = applyEdit(covered(), { do: 'set-sheet', sheet: 'face', set: { kept: true } }).livery;
    expect(sheetsOf(kept, smallTemplate())[0].leftOut).toBe('kept');
  });

  test('the signature changes with what can be seen, by reference too, and with nothing else', () => {
    const livery = covered([
      layerOf('lettering', {
        id: 'n',
        text: '{number}',
        font: 'anton',
        size: 9,
        x: 20,
        y: 20,
        turn: 0,
        paint: { scheme: 'blue' },
        outline: null,
        spacing: 0,
        slant: 0,
        mirrored: false,
      }),
    ]);
    const signature = (edit: Edit) => sheetsOf(applyEdit(livery, edit).livery, smallTemplate())[0].signature;
    const now = sheetsOf(livery, smallTemplate())[0].signature;
    const layer = layersOf(livery, 'face')[1].id;
    expect(signature({ do: 'set-layer', layer, set: { name: 'Renamed', locked: true } })).toBe(now);
    expect(signature({ do: 'set-particular', key: 'team', value: 'x' })).toBe(now);
    expect(signature({ do: 'set-particular', key: 'number', value: '8' })).not.toBe(now);
    expect(signature({ do: 'set-colour', colour: livery.scheme[1].id, set: { hex: '#00ff00' } })).not.toBe(now);
    expect(signature({ do: 'set-layer', layer, set: { hidden: true } })).not.toBe(now);
  });

  test('finish.toml is TOML with the delivered sheets and the zones of their finishes', () => {
    const sidecar = planDelivery(covered(), smallTemplate(), spec).files[1];
    const toml = parse(sidecar.kind === 'sidecar' ? sidecar.text : '') as {
      livery: object;
      sheet: object[];
      zone: object[];
    };
    expect(toml.livery).toEqual({ key: 'test', name: 'Test 7', number: '7', craft: 'plank' });
    expect(toml.sheet).toEqual([{ key: 'face' }]);
    const flakes = { flake: 0, flake_size: 0, flake_tint: '#ffffff' };
    const values = { kind: 'gloss', roughness: 0.12, metal: 0, coat: 1, coat_roughness: 0.04, ...flakes };
    expect(toml.zone).toEqual([{ key: 'shell', colour: '#d02020', ...values }]);
  });
});

describe('the checklist', () => {
  const template = smallTemplate();
  const state = async (livery: Livery, delivered: [string, string][] = []) => {
    const plan = planDelivery(livery, template, spec);
    return sheetState(livery, 'face', plan, await signaturesOf(plan), new Map(delivered));
  };

  test('follows from facts', async () => {
    expect(await state(smallLivery([]))).toBe('bare');
    expect(await state(covered())).toBe('work');
    const ready = applyEdit(covered(), { do: 'set-sheet', sheet: 'face', set: { ready: true } }).livery;
    expect(await state(ready)).toBe('ready');
    const [[name, signature]] = await signaturesOf(planDelivery(ready, template, spec));
    expect(await state(ready, [[name, signature]])).toBe('delivered');
    expect(await state(ready, [[name, 'other']])).toBe('ready');
    expect(await state(applyEdit(ready, { do: 'set-sheet', sheet: 'face', set: { kept: true } }).livery)).toBe('kept');
  });
});

describe('normals as they are delivered', () => {
  test('have length one within what 8 bits can say; those that had it stay, to the bit', () => {
    const random = randomFrom(5);
    const painted = Uint8Array.from({ length: 4096 }, () => Math.floor(random() * 256));
    const data = painted.slice();
    straighten(data);
    const vector = (of: Uint8Array, i: number) => [0, 1, 2].map((c) => of[i + c] / 127.5 - 1);
    const kept: boolean[] = [];
    for (let i = 0; i < data.length; i += 4) {
      const [before, after] = [vector(painted, i), vector(data, i)];
      const [was, is] = [Math.hypot(...before), Math.hypot(...after)];
      expect(Math.abs(is - 1)).toBeLessThan(0.0069);
      expect(data[i + 3]).toBe(painted[i + 3]);
      // The direction stays, within the half steps of 8 bits and the slack in length.
      if (was > 0.1)
        for (let c = 0; c < 3; c++) expect(Math.abs(after[c] - before[c] / was)).toBeLessThan(0.0041 + 0.007);
      if (Math.abs(was - 1) < 0.0069) kept.push([0, 1, 2].every((c) => data[i + c] === painted[i + c]));
    }
    expect(kept.length).toBeGreaterThan(5);
    expect(kept.every(Boolean)).toBe(true);
    // Unit vectors as others store them: n x 127.5 + 127.5, rounded.
    const stored = Uint8Array.from([128, 128, 255, 9, 218, 218, 128, 9, 128, 128, 128, 9]);
    straighten(stored);
    expect([...stored]).toEqual([128, 128, 255, 9, 218, 218, 128, 9, 128, 128, 255, 9]);
  });
});

describe('preflight', () => {
  test('finds nothing on a covered sheet with a good name', async () => {
    const result = await look(covered());
    expect(result.findings).toEqual([]);
    expect(result.fine).toHaveLength(CHECKS.length);
  });

  test.each([
    ['Tern', /capital letter/, /character 1/, 'tern'],
    ['tern tide', /a space/, /character 5/, 'tern-tide'],
    ['tern_tide', /character "_"/, /character 5/, 'tern-tide'],
    ['a'.repeat(40), /too long/, /40/, 'a'.repeat(32)],
    ['', /no key/, /lower-case/, 'test-7'],
  ])('name characters: "%s" stops the delivery, and the fix mends it', async (key, title, detail, fixed) => {
    const livery = withKey(key);
    const [finding] = await found(livery, 'name-characters');
    expect(finding.level).toBe('stop');
    expect(finding.title).toMatch(title);
    expect(finding.detail).toMatch(detail);
    const mended = applyEdit(livery, finding.fix!.edit).livery;
    expect(mended.particulars.key).toBe(fixed);
    expect(await found(mended, 'name-characters')).toEqual([]);
  });

  test('a bare sheet is advice beside others, and stops when nothing is painted', async () => {
    expect((await found(smallLivery([]), 'sheet-bare'))[0].level).toBe('stop');
    const two = smallTemplate();
    two.sheets.push({ ...two.sheets[0], key: 'back', name: 'back' });
    const livery = smallLivery([], two);
    livery.sheets[0].maps[0].layers = [layerOf('solid', { paint: { scheme: 'red' } })];
    const [finding] = await found(livery, 'sheet-bare', two);
    expect(finding).toMatchObject({ level: 'advice', title: 'Sheet back is still bare', show: { sheet: 'back' } });
    expect(await found(applyEdit(livery, finding.fix!.edit).livery, 'sheet-bare', two)).toEqual([]);
  });

  test('sides that do not divide into blocks stop block formats, and only those', async () => {
    const odd = smallTemplate(62);
    expect((await found(covered(), 'sizes', odd))[0]).toMatchObject({
      level: 'stop',
      detail: expect.stringContaining('62 x 62'),
    });
    const tga = DeliverySpec.parse({
      ...spec,
      files: [{ ...spec.files[0], container: 'tga', format: 'rgba8', header: 'legacy' }],
    });
    expect(await found(covered(), 'sizes', odd, tga)).toEqual([]);
  });

  test('a sheet beyond the game’s size stops', async () => {
    expect((await found(covered(), 'sizes', smallTemplate(), { ...spec, maxSide: 32 }))[0].title).toMatch(/too large/);
  });

  test('alpha that the format drops is said with its share', async () => {
    const half = smallLivery([layerOf('solid', { paint: { scheme: 'red' }, opacity: 50, parts: ['left'] })]);
    const [finding] = await found(half, 'alpha-dropped');
    expect(finding).toMatchObject({ level: 'advice', detail: expect.stringContaining('100 %') });
    const kept = DeliverySpec.parse({ ...spec, files: [{ ...spec.files[0], alpha: 'keep' }] });
    expect(await found(half, 'alpha-dropped', smallTemplate(), kept)).toEqual([]);
  });

  test('a mark beside every island is found, and one on an island is not', async () => {
    const mark = (x: number) =>
      layerOf('lettering', {
        name: 'Seven',
        text: '7',
        font: 'anton',
        size: 8,
        x,
        y: 32,
        turn: 0,
        paint: { scheme: 'blue' },
        outline: null,
        spacing: 0,
        slant: 0,
        mirrored: false,
      });
    expect((await found(covered([mark(6)]), 'decal-outside'))[0].title).toMatch(/“Seven” is outside every island/);
    expect((await found(covered([mark(16)]), 'decal-outside')).length).toBeLessThanOrEqual(1);
    expect(await found(covered([mark(32)]), 'decal-outside')).toEqual([]);
  });

  test('hidden art is pointed out, and the fix shows it', async () => {
    const livery = covered([layerOf('solid', { name: 'Spare', paint: { scheme: 'blue' }, hidden: true })]);
    const [finding] = await found(livery, 'art-hidden');
    expect(finding.title).toBe('“Spare” is hidden');
    expect(await found(applyEdit(livery, finding.fix!.edit).livery, 'art-hidden')).toEqual([]);
  });

  test('every check says in a sentence why it matters', () => {
    for (const check of CHECKS) expect(check.why).toMatch(/^[A-Z].+\.$/);
  });
});

describe('the sheet as the game will hold it', () => {
  let sources: Sources;
  const livery = smallLivery([layerOf('solid', { paint: { scheme: 'red' }, parts: ['left'] })]);
  beforeAll(async () => {
    sources = await sourcesFor(livery, smallTemplate());
  });
  const flat = () => renderSheet(livery, 'face', 'colour', { width: 64, height: 64 }, sources);
  const at = (image: { data: Uint8Array }, x: number, y: number) => [
    ...image.data.subarray((y * 64 + x) * 4, (y * 64 + x) * 4 + 4),
  ];

  test('opaque over the spec’s ground, padded past the islands', () => {
    const image = preparedSheet(flat(), { ...spec.files[0], padding: 4 }, 'colour', sources.surface('face'), '#808080');
    expect(at(image, 20, 32)).toEqual([255, 0, 0, 255]);
    expect(at(image, 40, 32)).toEqual([128, 128, 128, 255]);
    expect(at(image, 13, 32)).toEqual([255, 0, 0, 255]);
  });

  test('flipping is a vertical mirror, not a half turn', () => {
    const up = preparedSheet(flat(), spec.files[0], 'colour', sources.surface('face'), '#000000');
    const down = preparedSheet(flat(), { ...spec.files[0], flip: true }, 'colour', sources.surface('face'), '#000000');
    for (const [x, y] of [
      [3, 7],
      [20, 20],
      [60, 50],
    ])
      expect(at(down, x, 63 - y)).toEqual(at(up, x, y));
  });

  test('the flattened sheet that is given stays as it is', () => {
    const given = flat();
    const before = given.data.slice();
    preparedSheet(given, spec.files[0], 'colour', sources.surface('face'), '#000000');
    expect(compareImages(given, { ...given, data: before }).largest).toBe(0);
  });
});

test('the demo’s three liveries pass preflight without a stop', async () => {
  for (const key of ['tern-tide', 'ebbline', 'lanternfish'] as const) {
    const { livery, template, blobs, fonts } = await demoBundle(key);
    const sources = await sourcesFor(livery, template, blobs, fonts);
    const { findings } = preflight({
      livery,
      template,
      spec,
      plan: planDelivery(livery, template, spec),
      target: NO_TARGET,
      sources,
    });
    expect(findings.filter((f) => f.level === 'stop')).toEqual([]);
  }
});

test('a spec can leave out sheets that nobody painted; when that is all of them, it stops', async () => {
  const small = smallTemplate();
  const two: Template = { ...small, sheets: [small.sheets[0], { ...small.sheets[0], key: 'back', name: 'back' }] };
  const original = layerOf('solid', { paint: { hex: '#445566' } });
  const template: Template = { ...two, begin: { face: [original], back: [original] } };
  const leaving = { ...SHIPPED_SPECS['brackwater-run'], unpainted: 'leave' as const };
  const came = smallLivery([original], template);
  const back = { ...came.sheets[0], key: 'back' };
  const livery = { ...came, sheets: [came.sheets[0], back] };
  const leftOut = (of: Livery) => sheetsOf(of, template, leaving).map((file) => file.leftOut);
  expect(leftOut(livery)).toEqual(['original', 'original']);
  const sources = await sourcesFor(livery, template);
  const findings = (of: Livery) => {
    const plan = planDelivery(of, template, leaving);
    const input = { livery: of, template, spec: leaving, plan, target: NO_TARGET, sources };
    return preflight(input).findings.filter(({ check }) => check === 'as-original');
  };
  expect(findings(livery).map(({ level, title }) => [level, title])).toEqual([['stop', 'Nothing is painted yet']]);
  const stripe = layerOf('stripe', { paint: { scheme: 'red' }, x: 9, y: 9, angle: 0, width: 4, softness: 0 });
  const painted = applyEdit(livery, { do: 'add-layer', sheet: 'back', map: 'colour', index: 1, layer: stripe }).livery;
  expect(leftOut(painted)).toEqual(['original', null]);
  expect(findings(painted)).toEqual([]);
});

test('a sheet that is still as it came is named, with a way to leave it; painted on, it is not', async () => {
  const original = layerOf('solid', { paint: { hex: '#445566' } });
  const template: Template = { ...smallTemplate(), begin: { face: [original] } };
  const [finding] = await found(smallLivery([original]), 'as-original', template);
  expect(finding.title).toBe('face is still as it came');
  const kept = applyEdit(smallLivery([original]), finding.fix!.edit).livery;
  expect(await found(kept, 'as-original', template)).toEqual([]);
  const painted = smallLivery([original, layerOf('solid', { paint: { scheme: 'red' } })]);
  expect(await found(painted, 'as-original', template)).toEqual([]);
});

describe('frames and colliders', () => {
  const square = (x: number, y: number, side: number) => [x, y, x + side, y, x + side, y + side, x, y + side];
  const framed: Template = {
    ...smallTemplate(),
    outlines: [
      { key: 'f', name: 'rock, frame', sheet: 'face', role: 'frame', rings: [square(8, 8, 32)] },
      { key: 'c', name: 'rock', sheet: 'face', role: 'collider', rings: [square(16, 16, 16)] },
    ],
  };
  /** A band across the whole sheet, from row y to y + width. */
  const band = (y: number, width: number) =>
    smallLivery([
      layerOf('stripe', { paint: { scheme: 'red' }, x: 0, y: y + width / 2, angle: 0, width, softness: 0 }),
    ]);
  const measure = async (livery: Livery, of = framed) => outlineCover(livery, of, 'face', await sourcesFor(livery, of));

  test('shares are areas that can be worked out by hand', async () => {
    // 64 x 16 texels of art, of which 32 x 16 lie in the frame and 16 x 16 are the collider.
    expect(await measure(band(16, 16))).toEqual({
      outside: 0.5,
      frames: [{ key: 'f', name: 'rock, frame', covered: 0.5, outside: 0.5 }],
      colliders: [{ key: 'c', name: 'rock', covered: 1, beyond: 0.5 }],
    });
    const upper = await measure(band(16, 4));
    expect(upper.colliders[0].covered).toBeCloseTo(0.25, 6);
    expect(await measure(smallLivery([]))).toEqual({
      outside: null,
      frames: [{ key: 'f', name: 'rock, frame', covered: 0, outside: null }],
      colliders: [{ key: 'c', name: 'rock', covered: 0, beyond: null }],
    });
    expect(await measure(band(0, 64), smallTemplate())).toEqual({ outside: null, frames: [], colliders: [] });
  });

  test('each frame has its own figure: of the art that is nearest to it', async () => {
    // Two frames of 16 x 16 with 16 texels between them; the band of 64 x 8 leaves 8 texels beyond each, on both sides.
    const two: Template = {
      ...framed,
      outlines: [8, 40].map((x, i) => ({
        ...{ key: `f${i}`, name: `frame ${i}`, sheet: 'face', role: 'frame' as const, rings: [square(x, 24, 16)] },
      })),
    };
    const { frames, outside } = await measure(band(28, 8), two);
    expect(outside).toBeCloseTo(0.5, 6);
    expect(frames.map((one) => [one.covered, one.outside])).toEqual([
      [0.5, 0.5],
      [0.5, 0.5],
    ]);
    // One that is left alone says so by itself.
    const left = smallLivery([
      layerOf('chequer', {
        paint: { scheme: 'red' },
        other: null,
        x: 44,
        y: 32,
        cell: 8,
        columns: 1,
        rows: 1,
        angle: 0,
      }),
    ]);
    expect((await measure(left, two)).frames.map((one) => one.outside)).toEqual([null, 0]);
  });

  test('are found by preflight, with the figure', async () => {
    const details = async (livery: Livery) =>
      (await found(livery, 'frames-and-colliders', framed)).map((f) => f.detail);
    expect(await details(band(16, 4))).toEqual([
      '50 % of it lies outside every safe frame.',
      'Art covers 25 % of what the game takes for solid.',
    ]);
    expect(await details(band(16, 16))).toContain('50 % of the art in its frame is not solid in the game.');
    expect(await details(smallLivery([]))).toEqual([]);
  });
});
