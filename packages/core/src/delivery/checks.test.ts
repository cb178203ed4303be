/** Checks of preflight, each on a small livery where the fault is there, and on one where it is not. */
import { beforeAll, describe, expect, test } from 'vitest';
import { applyEdit } from '../livery/edit.ts';
import type { Layer } from '../livery/layer.ts';
import type { Livery } from '../livery/livery.ts';
import type { Template } from '../livery/template.ts';
import { newImage, type Image8 } from '../raster/image.ts';
import { pictureOf } from '../raster/picture.ts';
import { uvLines } from '../surface/guides.ts';
import { islandsOf } from '../surface/islands.ts';
import { strokeCoverage } from '../shapes/coverage.ts';
import { demoBundle, layerOf, NO_HASH, smallLivery, smallTemplate, sourcesFor } from '../testing/scenes.ts';
import { picture } from '../testing/images.ts';
import { alphaMeaning } from './checks/alphaMeaning.ts';
import { decalQuality } from './checks/decalQuality.ts';
import { guideInArt } from './checks/guideInArt.ts';
import { letteringBackwards } from './checks/letteringBackwards.ts';
import { letteringContrast } from './checks/letteringContrast.ts';
import { tooThin } from './checks/tooThin.ts';
import { encodedMarks } from './checks/encodedMarks.ts';
import { islandEdges } from './checks/islandEdges.ts';
import { originalFormat } from './checks/originalFormat.ts';
import { sizes } from './checks/sizes.ts';
import { wayUpside } from './checks/wayUpside.ts';
import type { Check } from './finding.ts';
import { nameRules } from './checks/nameRules.ts';
import { expand, nearMiss } from './names.ts';
import { planDelivery } from './plan.ts';
import { SHIPPED_SPECS } from '../games/index.ts';
import { NO_TARGET } from './target.ts';

const spec = SHIPPED_SPECS['brackwater-run'];

/** What one check finds. @param image of every decal and picture in it */
async function run(check: Check, livery: Livery, template = smallTemplate(256), image?: Image8, of = spec) {
  const plain = image ? smallLivery([], template) : livery;
  const sources = await sourcesFor(plain, template);
  const own = image && { picture: () => pictureOf(image), image: () => image };
  return check.run({
    livery,
    template,
    spec: of,
    plan: planDelivery(livery, template, of),
    target: NO_TARGET,
    sources: { ...sources, ...own },
  });
}

const place = { x: 128, y: 128, turn: 0, mirrored: false };
const lettering = (more: object) =>
  layerOf('lettering', {
    ...{ ...place, text: '7', font: 'barlow', size: 60, outline: null, spacing: 0, slant: 0 },
    paint: { hex: '#ffffff' },
    ...more,
  });
const ground = (hex: string) => layerOf('solid', { paint: { hex } });
const livery = (layers: Layer[], template = smallTemplate(256)) => smallLivery(layers, template);

describe('lettering that reads backwards', () => {
  /** The small template lies upside down on its sheet, which is mirrored; with U turned about as well it is only turned. */
  const mirrored = smallTemplate(256);
  const turned: Template = (() => {
    const small = smallTemplate(256);
    const uvs = small.mesh.uvs.map((v, i) => (i % 2 === 0 ? 1 - v : v));
    return { ...small, mesh: { ...small.mesh, uvs } };
  })();

  test('is found on a mirrored island, and mirroring it helps', async () => {
    const before = livery([lettering({})], mirrored);
    const [finding] = await run(letteringBackwards, before, mirrored);
    expect(finding.detail).toBe('The part that wears it is laid out mirrored.');
    const mended = applyEdit(before, finding.fix!.edit).livery;
    expect(await run(letteringBackwards, mended, mirrored)).toEqual([]);
  });

  test('is found where mirrored lettering lies on an upright island, and not where it belongs', async () => {
    const of = (more: object) => run(letteringBackwards, livery([lettering(more)], turned), turned);
    expect((await of({ mirrored: true })).map((f) => f.detail)).toEqual([
      'It is mirrored, and the part that wears it is not.',
    ]);
    expect(await of({})).toEqual([]);
    expect(await of({ hidden: true, mirrored: true })).toEqual([]);
    // Beside every island it is another check's.
    expect(await of({ y: 20, size: 20, mirrored: true })).toEqual([]);
  });

  test('on the demo’s skirt, which both sides wear, it reads right on one of them only', async () => {
    const { template, livery: demo } = await demoBundle('ebbline');
    const skirt = lettering({ x: 700, y: 130, size: 70 });
    const added = applyEdit(demo, { do: 'add-layer', sheet: 'hull', map: 'colour', index: 0, layer: skirt }).livery;
    const alone = {
      ...added,
      sheets: added.sheets.map((s) => ({
        ...s,
        maps: s.maps.map((m) => ({ ...m, layers: m.layers.filter((l) => l.id === skirt.id) })),
      })),
    };
    const [finding] = await run(letteringBackwards, alone, template);
    expect(finding.detail).toMatch(/^Two parts of the model wear this spot/);
    expect(finding.fix).toBeUndefined();
  });
});

describe('marks across the edges of islands', () => {
  test('are told by how much lies beside, and by the parts that do not meet there', async () => {
    const found = async (more: object, template = smallTemplate(256)) =>
      (await run(islandEdges, livery([lettering(more)], template), template)).map((f) => `${f.title}. ${f.detail}`);
    // The face is the square from 64 to 192.
    expect(await found({})).toEqual([]);
    const [cut] = await found({ x: 188, size: 60 });
    expect(cut).toMatch(/^“.*” is cut by an edge of left half\. \d\d % of it lies beside the island/);
    // Mostly beside the islands it is another check's.
    expect(await found({ x: 250 })).toEqual([]);
  });

  test('on the demo’s hull: from the side onto the skirt it is torn', async () => {
    const { template, livery: demo } = await demoBundle('ebbline');
    const bare = {
      ...demo,
      sheets: demo.sheets.map((s) => ({ ...s, maps: s.maps.map((m) => ({ ...m, layers: [] })) })),
    };
    const with_ = (more: object) =>
      applyEdit(bare, { do: 'add-layer', sheet: 'hull', map: 'colour', index: 0, layer: lettering(more) }).livery;
    const titles = async (more: object) => (await run(islandEdges, with_(more), template)).map((f) => f.title);
    const islands = islandsOf(template).filter((island) => island.sheet === 'hull');
    const [one] = islands.toSorted((a, b) => b.texels - a.texels);
    const middle = { x: (one.box.left + one.box.right) / 2, y: (one.box.top + one.box.bottom) / 2 };
    expect(await titles({ ...middle, size: 30 })).toEqual([]);
    const all = await Promise.all(
      [0, 1, 2, 3, 4, 5, 6, 7].map((k) => titles({ x: middle.x, y: 128 * k + 64, size: 240, text: '88' })),
    );
    expect(all.flat().some((title) => /lies across \d islands$/.test(title))).toBe(true);
  });
});

describe('sizes', () => {
  test('stop where they do not divide into blocks or are too large; no power of two is said where there are mip levels', async () => {
    const levels = async (side: number, more: object = {}) => {
      const template = smallTemplate(side);
      const of = { ...spec, maxSide: 512, files: [{ ...spec.files[0], ...more }] };
      const found = await run(sizes, livery([ground('#102030')], template), template, undefined, of);
      return found.map((f) => f.level);
    };
    expect(await levels(256)).toEqual([]);
    expect(await levels(250)).toEqual(['stop']);
    expect(await levels(1024)).toEqual(['stop']);
    expect(await levels(260)).toEqual(['advice']);
    expect(await levels(260, { mips: 'none' })).toEqual([]);
  });
});

describe('files against those of the original', () => {
  test('differ in format, size, mip levels or way up, each in words; another game’s spec is no yardstick', async () => {
    const ownFile = { ...spec.files[0], format: 'bc7' as const, mips: 'none' as const, flip: true };
    const own = { ...spec, key: 'as-original-small', files: [{ ...ownFile, size: { width: 512, height: 512 } }] };
    const template = { ...smallTemplate(256), ownSpec: own };
    const painted = livery([ground('#102030')], template);
    const one = { ...spec, files: [{ ...spec.files[0], mips: 'full' as const, format: 'bc1' as const, flip: false }] };
    const [finding] = await run(originalFormat, painted, template, undefined, one);
    expect(finding.detail).toBe(
      'It is BC1 in DDS, the original BC7 in DDS; 256 x 256, the original 512 x 512; full mip levels, the original no mip levels; stored upright, the original is not.',
    );
    expect(await run(originalFormat, painted, template, undefined, own)).toEqual([]);
    expect(await run(originalFormat, painted, template, undefined, { ...one, game: 'marshkin' })).toEqual([]);
    expect(await run(originalFormat, painted, smallTemplate(256), undefined, one)).toEqual([]);
  });
});

describe('pictures the right way up', () => {
  /** The face as the upper half of its sheet. */
  const upper: Template = (() => {
    const small = smallTemplate(256);
    const uvs = small.mesh.uvs.map((v, i) => (i % 2 === 1 ? v - 0.25 : v * 2 - 0.5));
    return { ...small, mesh: { ...small.mesh, uvs } };
  })();
  const sheetOf = (top: boolean) =>
    picture(256, 256, (x, y) =>
      top === y < 128 ? [(x * 37) % 256, (y * 53) % 256, (x * y) % 256, 255] : [90, 90, 90, 255],
    );
  const layer = layerOf('picture', { blob: NO_HASH, left: 0, top: 0, width: 256, height: 256 });

  test('lie on the islands; upside down they lie between them', async () => {
    const found = (image: Image8) => run(wayUpside, livery([layer], upper), upper, image);
    expect(await found(sheetOf(true))).toEqual([]);
    expect((await found(sheetOf(false))).map((f) => f.title)).toEqual([`“${layer.name}” seems to be upside down`]);
    // Art that fills everything says nothing.
    expect(await found(picture(256, 256, (x, y) => [(x * 37) % 256, (y * 53) % 256, 9, 255]))).toEqual([]);
  });
});

describe('marks as they are compressed', () => {
  const coarse = (format: 'bc1' | 'bc7') => ({ ...spec, files: [{ ...spec.files[0], format }] });
  test('saturated thin letters on white get fringes in BC1; in BC7 they get none, and a large plain one gets none', async () => {
    const letters = (hex: string, format: 'bc1' | 'bc7') =>
      run(
        encodedMarks,
        livery([ground('#ffffff'), lettering({ paint: { hex }, text: 'TIDE & TERN', size: 14 })]),
        undefined,
        undefined,
        coarse(format),
      );
    expect((await letters('#e01010', 'bc7')).length).toBe(0);
    const fringed = await letters('#e01010', 'bc1');
    expect(fringed.map((f) => f.title.replace(/^“.*” /, ''))).toEqual(['gets fringes in BC1']);
    const large = livery([ground('#ffffff'), lettering({ paint: { hex: '#101010' }, size: 110, text: 'I' })]);
    expect(await run(encodedMarks, large, undefined, undefined, coarse('bc1'))).toEqual([]);
  });
});

describe('decals', () => {
  const decal = (more: object = {}) =>
    layerOf('decal', {
      ...{ ...place, blob: NO_HASH, source: 'pixels', ratio: 1, keepRatio: true, width: 64, height: 64, recolour: [] },
      ...more,
    });
  const round = (x: number, y: number) => (x - 31.5) ** 2 + (y - 31.5) ** 2 < 400;
  const boxed = picture(64, 64, (x, y) => (round(x, y) ? [200, 30, 30, 255] : [255, 255, 255, 255]));
  const cut = picture(64, 64, (x, y) => (round(x, y) ? [200, 30, 30, 255] : [0, 0, 0, 0]));
  const busy = picture(64, 64, (x, y) => [(x * 37) % 256, (y * 53) % 256, (x * y) % 256, 255]);

  test('with an opaque border of one colour have a box; cut out, or a picture to its edge, they have none', async () => {
    const titles = async (image: Image8, more = {}) =>
      (await run(decalQuality, livery([decal(more)]), undefined, image)).map((f) => f.title.replace(/^“.*” /, ''));
    expect(await titles(boxed)).toEqual(['has a box around it']);
    expect(await titles(cut)).toEqual([]);
    expect(await titles(busy)).toEqual([]);
    expect(await titles(picture(64, 64, () => [9, 9, 9, 255]))).toEqual([]);
    expect(await titles(cut, { width: 160, height: 160 })).toEqual(['is larger than its picture']);
  });
});

describe('fine lines and small letters', () => {
  test('are named with what the next mip level makes of them', async () => {
    const stripe = (width: number) =>
      layerOf('stripe', { paint: { scheme: 'red' }, x: 0, y: 9, angle: 0, width, softness: 0 });
    const details = async (layer: Layer) => (await run(tooThin, livery([layer]))).map((f) => f.detail);
    expect(await details(stripe(1.5))).toEqual(['It is 1.5 texels wide, and 0.8 at the next mip level.']);
    expect(await details(stripe(2))).toEqual([]);
    expect(await details(lettering({ size: 8 }))).toEqual([
      'Its capitals are 8 texels high, and 4 at the next mip level.',
    ]);
    expect(await details(lettering({}))).toEqual([]);
  });
});

describe('numbers against their ground', () => {
  test('stand out by 3:1 or are named; white on #949494 is 3.0:1 (WCAG 2.2, "contrast ratio")', async () => {
    const titles = async (hex: string, more: object = {}) =>
      (await run(letteringContrast, livery([ground(hex), lettering(more)]))).map((f) => f.detail);
    expect(await titles('#c0c0c0')).toEqual(['It stands out from #c0c0c0 by 1.8:1; 3:1 is the least for large text.']);
    expect(await titles('#909090')).toEqual([]);
    // Words are decoration more often than not; an outline is its own ground; what is painted above counts for nothing.
    expect(await titles('#c0c0c0', { text: 'Post' })).toEqual([]);
    expect(await titles('#c0c0c0', { outline: { paint: { hex: '#000000' }, width: 2 } })).toEqual([]);
    expect(await run(letteringContrast, livery([ground('#101010'), lettering({}), ground('#ffffff')]))).toEqual([]);
  });
});

describe('a wire that was taken for art', () => {
  let template: Template;
  let wire: Image8;
  const layer = layerOf('picture', { blob: NO_HASH, left: 0, top: 0, width: 1024, height: 1024 });
  beforeAll(async () => {
    template = (await demoBundle('ebbline')).template;
    const lines = uvLines(template, 'deck').wire;
    const segments = Array.from({ length: lines.length / 4 }, (_, i) => lines.slice(i * 4, i * 4 + 4));
    wire = newImage(1024, 1024);
    strokeCoverage(segments, 0.5, 1024, 1024).forEach((share, i) => (wire.data[i * 4 + 3] = Math.round(share * 255)));
  });
  const on = (image: Image8, hidden = false) => {
    const base = smallLivery([], template);
    const sheets = base.sheets.map((s) =>
      s.key === 'deck' ? { ...s, maps: [{ ...s.maps[0], layers: [{ ...layer, hidden }] }] } : s,
    );
    return run(guideInArt, { ...base, sheets }, template, image);
  };

  test('is told by following the layout’s lines, and can be hidden', async () => {
    const [finding] = await on(wire);
    expect(finding.title).toMatch(/looks like the wire$/);
    expect(finding.fix!.edit).toMatchObject({ set: { hidden: true } });
    expect(await on(wire, true)).toEqual([]);
  });

  test('art that covers everything, or lies elsewhere, is none', async () => {
    expect(await on(picture(1024, 1024, () => [9, 9, 9, 255]))).toEqual([]);
    expect(await on(picture(1024, 1024, (x, y) => [9, 9, 9, (x + y) % 50 === 0 ? 255 : 0]))).toEqual([]);
  });
});

describe('alpha that a game cuts by', () => {
  const strands: Template = { ...smallTemplate(256), sheets: [{ ...smallTemplate(256).sheets[0], alpha: 'cutout' }] };
  const keeping = { ...spec, files: [{ ...spec.files[0], format: 'bc3' as const, alpha: 'keep' as const }] };
  test('is missed where the art covers everything, and not where it leaves gaps or the game does not cut', async () => {
    const full = livery([ground('#112233')], strands);
    expect((await run(alphaMeaning, full, strands, undefined, keeping)).map((f) => f.title)).toEqual([
      'face cuts nothing out',
    ]);
    const gaps = livery(
      [layerOf('stripe', { paint: { scheme: 'red' }, x: 0, y: 128, angle: 0, width: 60, softness: 0 })],
      strands,
    );
    expect(await run(alphaMeaning, gaps, strands, undefined, keeping)).toEqual([]);
    expect(await run(alphaMeaning, livery([ground('#112233')]), smallTemplate(256), undefined, keeping)).toEqual([]);
  });
});

describe('names', () => {
  const facts = { 'particulars.name': 'Tern & Tide post 7', 'particulars.author': 'annWeir' };

  test('are made by filters: case, words, separators, digits, length', () => {
    expect(expand('{particulars.name|title|join:hyphen}', facts)).toBe('Tern-Tide-Post-7');
    expect(expand('{particulars.author|join:plus|lower}', facts)).toBe('ann+weir');
    expect(expand('{particulars.name|digits:4}', facts)).toBe('0007');
    expect(expand('{particulars.name|slug|max:9}', facts)).toBe('tern-tide');
    expect(() => expand('{particulars.name|join:comma}', facts)).toThrow(/filter "join:comma"/);
    expect(() => expand('{particulars.name|digits}', facts)).toThrow(/filter "digits"/);
  });

  test('that are off by a character are told from the one that was meant', () => {
    const known = ['launch-21_bow.dds', 'launch-21_stern.dds'];
    expect(nearMiss('launch-21_Bow.dds', known)).toEqual({
      known: 'launch-21_bow.dds',
      says: 'character 11 is "B", not "b", only its case differs',
    });
    expect(nearMiss('launch-21 bow.dds', known)!.says).toBe('character 10 is a space, not "_"');
    expect(nearMiss('launch-21_ster.dds', known)!.known).toBe('launch-21_stern.dds');
    expect(nearMiss('skimmer.dds', known)).toBeNull();
  });

  test('are held to what the game asks: beginning, end, list, and no two alike', async () => {
    const titles = async (names: object, name = '{sheet.key}_{livery.key}.dds') => {
      const of = { ...spec, names, files: [{ ...spec.files[0], name }] };
      return (await run(nameRules, livery([ground('#112233')]), undefined, undefined, of)).map(
        (f) => `${f.title}. ${f.detail}`,
      );
    };
    expect(await titles({})).toEqual([]);
    expect(await titles({ begins: '90-' })).toEqual([
      'face_test.dds does not begin as it must. Brackwater Run reads only what begins with "90-".',
    ]);
    expect(await titles({ ends: '.over' })).toHaveLength(1);
    expect(await titles({ known: ['face_Test.dds'] })).toEqual([
      'Brackwater Run knows no face_test.dds. It knows face_Test.dds: character 6 is "t", not "T", only its case differs.',
    ]);
    expect(await titles({ known: ['face_test.dds'] })).toEqual([]);
    expect(await titles({}, 'finish.toml')).toEqual([
      'Two files would be called finish.toml. One of them would write over the other.',
    ]);
  });
});
