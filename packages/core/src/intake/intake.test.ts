/** Guesses of what files and layers are, on invented folders with the naming habits that games have (common practice, no source). */
import { describe, expect, test } from 'vitest';
import { compositeLayered } from '../layered/composite.ts';
import { nodesIn, type LayeredLayer, type LayeredNode } from '../layered/layered.ts';
import { readPsd } from '../layered/psd.ts';
import { demoBytes } from '../testing/scenes.ts';
import { compareImages } from '../texture/compare.ts';
import type { Image8 } from '../raster/image.ts';
import { flipRows, newImage } from '../raster/image.ts';
import { folderTexture, guessFolders } from '../testing/folders.ts';
import { picture } from '../testing/images.ts';
import {
  colourSheet,
  darkened,
  glassSheet,
  greySheet,
  heightSheet,
  maskSheet,
  mirrored,
  nightSheet,
  normalSheet,
  packedSheet,
  resized,
  zoneSheet,
} from '../testing/textures.ts';
import { guessRoles, type FileRole } from './fileRoles.ts';
import { proposeRoles } from './layerRoles.ts';
import { proposeSheets, type SettleFile } from './settle.ts';
import { detailOf, wayUp } from '../surface/wayUp.ts';
import { wordsOf } from './words.ts';

describe('words', () => {
  test.each([
    ['hullNormalMap_2k.dds', ['hull', 'normal', 'map', '2', 'k', 'dds']],
    ['HULL-Base_Color', ['hull', 'base', 'color']],
    ['AORoughMetal', ['ao', 'rough', 'metal']],
    ['größe 12b', ['größe', '12', 'b']],
  ])('%s', (name, words) => expect(wordsOf(name)).toEqual(words));
});

const hull = colourSheet(1);
const coat = colourSheet(2);
const sail = colourSheet(3, 256);
/** Sixty files of eight folders, each folder with a habit of its own. */
const FOLDERS: [name: string, role: FileRole, image: Image8][] = [
  ['skimmer/hull.dds', 'colour', hull],
  ['skimmer/hull_n.dds', 'normal', normalSheet(11)],
  ['skimmer/hull_s.dds', 'specular', greySheet(12, 40, 160)],
  ['skimmer/deck.dds', 'colour', colourSheet(4)],
  ['skimmer/deck_n.dds', 'normal', normalSheet(14)],
  ['skimmer/deck_glass.dds', 'glass', glassSheet(15)],
  ['skimmer/hull_lo.dds', 'colour', resized(hull, 64)],
  ['skimmer/fan.dds', 'colour', colourSheet(5, 64)],
  ['courier/Coat_BaseColor.tga', 'colour', coat],
  ['courier/Coat_Normal.tga', 'normal', normalSheet(16)],
  ['courier/Coat_OcclusionRoughnessMetallic.tga', 'packed', packedSheet(17)],
  ['courier/Boots_BaseColor.tga', 'colour', colourSheet(6)],
  ['courier/Boots_Normal.tga', 'normal', normalSheet(18)],
  ['courier/Boots_OcclusionRoughnessMetallic.tga', 'packed', packedSheet(19)],
  ['courier/Hair_BaseColor.tga', 'colour', colourSheet(7, 128, 128, 140)],
  ['courier/Hair_Wet_BaseColor.tga', 'colour', colourSheet(8, 128, 128, 140)],
  ['courier/Hair_Alpha.tga', 'mask', maskSheet(20)],
  ['floatplane/T_BowHull_D.png', 'colour', colourSheet(21)],
  ['floatplane/T_BowHull_N.png', 'normal', normalSheet(22)],
  ['floatplane/T_BowHull_ORM.png', 'packed', packedSheet(23)],
  ['floatplane/T_BowHull_E.png', 'night', nightSheet(24)],
  ['floatplane/T_Tail_D.png', 'colour', colourSheet(25)],
  ['floatplane/T_Tail_N.png', 'normal', normalSheet(26)],
  ['floatplane/T_Tail_M.png', 'metal', maskSheet(27)],
  ['floatplane/T_Tail_AO.png', 'occlusion', greySheet(28, 150, 255)],
  ['floatplane/T_Tail_R.png', 'roughness', greySheet(29, 60, 190)],
  ['wagon/wagon_body_diffuse.dds', 'colour', colourSheet(31)],
  ['wagon/wagon_body_bump.dds', 'height', heightSheet(32)],
  ['wagon/wagon_body_spec.dds', 'specular', greySheet(33, 30, 120)],
  ['wagon/wagon_body_diffuse_night.dds', 'night', darkened(colourSheet(31), 34)],
  ['wagon/wagon_load_diffuse.dds', 'colour', colourSheet(35)],
  ['wagon/wagon_window_diffuse.dds', 'glass', glassSheet(36)],
  ['wagon/wagon_zones.dds', 'mask', zoneSheet(37)],
  ['wagon/icon.png', 'preview', colourSheet(38, 120, 67)],
  ['launch/launch21 albedo.png', 'colour', colourSheet(41)],
  ['launch/launch21 nrm.png', 'normal', normalSheet(42)],
  ['launch/launch21 rough.png', 'roughness', greySheet(43, 90, 210)],
  ['launch/launch21 metalness.png', 'metal', maskSheet(44)],
  ['launch/launch21 ao.png', 'occlusion', greySheet(45, 140, 255)],
  ['launch/launch21 emissive.png', 'night', nightSheet(46)],
  ['launch/launch21 height.png', 'height', heightSheet(47)],
  ['launch/preview.jpg', 'preview', colourSheet(48, 128, 72)],
  ['sail/sail_atlas.dds', 'colour', sail],
  ['sail/sail_atlas_512.dds', 'colour', resized(sail, 64)],
  ['sail/sail_atlas_mask.dds', 'mask', maskSheet(52)],
  ['sail/sail_atlas_nmap.dds', 'normal', normalSheet(53, 128, 'two')],
  ['character/0041_c.dds', 'colour', colourSheet(61)],
  ['character/0041_nm.dds', 'normal', normalSheet(62)],
  ['character/0041_p.dds', 'packed', packedSheet(63)],
  ['character/0042.dds', 'normal', normalSheet(64)],
  ['character/0043.dds', 'colour', colourSheet(65)],
  ['character/0044_id.dds', 'mask', zoneSheet(66)],
  ['character/0045_l.dds', 'night', nightSheet(67)],
  ['level/skinTex.png', 'colour', colourSheet(71)],
  ['level/skinTexLit.png', 'night', darkened(colourSheet(71), 72)],
  ['level/skinSmoothness.png', 'roughness', greySheet(73, 40, 200)],
  ['level/skinDisplacement.png', 'height', heightSheet(74)],
  ['level/skinMetallicSmoothness.png', 'packed', packedSheet(75)],
  ['level/skinCavity.png', 'occlusion', greySheet(76, 150, 250)],
  ['level/windowPane.png', 'glass', glassSheet(77)],
];

describe('files of a folder', () => {
  test('at least nine in ten of sixty files with mixed habits are told rightly, each with a reason', () => {
    expect(FOLDERS).toHaveLength(60);
    const { wrong, reasons } = guessFolders(FOLDERS);
    for (const reason of reasons) expect(reason.length).toBeGreaterThan(8);
    expect(wrong.length, wrong.join('\n')).toBeLessThanOrEqual(6);
  });

  test('by their pixels alone, under names that say nothing: colour, normal, packed, zones and lit maps', () => {
    const images: [FileRole, Image8][] = [
      ['colour', colourSheet(81)],
      ['normal', normalSheet(82)],
      ['normal', normalSheet(83, 128, 'two')],
      ['mask', zoneSheet(84)],
      ['night', nightSheet(85)],
    ];
    const guesses = guessRoles(images.map(([, image], i) => folderTexture(`${100 + i}.dds`, image)));
    images.forEach(([role], i) => expect(guesses.get(`${100 + i}.dds`)!.role, role).toBe(role));
  });

  test('the same bytes, smaller copies and mirror copies are proposed as links, different sheets are not', () => {
    const other = colourSheet(91);
    const guesses = guessRoles([
      folderTexture('coat.tga', coat),
      folderTexture('coat_wet.tga', { ...coat, data: coat.data.slice() }),
      folderTexture('coat_low.tga', resized(coat, 32)),
      folderTexture('coat_left.tga', mirrored(coat)),
      folderTexture('boots.tga', other),
      folderTexture(
        'flat.tga',
        picture(16, 16, () => [90, 90, 90, 255]),
      ),
      folderTexture(
        'flat2.tga',
        picture(32, 32, () => [90, 90, 90, 255]),
      ),
    ]);
    const copy = (name: string) => guesses.get(name)!.copy;
    expect(copy('coat.tga')).toBeNull();
    expect(copy('coat_wet.tga')).toEqual({ kind: 'same', of: 'coat.tga' });
    expect(copy('coat_low.tga')).toEqual({ kind: 'size', of: 'coat.tga' });
    expect(copy('coat_left.tga')).toEqual({ kind: 'mirror', of: 'coat.tga' });
    expect(copy('boots.tga')).toBeNull();
    expect(copy('flat2.tga')).toBeNull();
  });
});

const SIDE = 256;
const layer = (
  name: string,
  at: (x: number, y: number) => readonly number[],
  rest: Partial<LayeredLayer> = {},
): LayeredLayer => ({
  kind: 'layer',
  name,
  id: null,
  hidden: false,
  opacity: 1,
  blend: 'normal',
  clipped: false,
  mask: null,
  label: null,
  x: 0,
  y: 0,
  content: 'pixels',
  image: picture(SIDE, SIDE, at as never),
  ...rest,
});
const CLEAR = [0, 0, 0, 0];
const wire = (x: number, y: number) => (x % 24 === 0 || y % 24 === 0 || (x + y) % 48 === 0 ? [0, 0, 0, 255] : CLEAR);
const art = (x: number, y: number) => [(x * 3) & 255, (y * 5) & 255, 90, 255];
const boxes = (x: number, y: number) =>
  y < 8 && x < 64 && x % 10 < 8 ? [(Math.floor(x / 10) * 40) & 255, 120, 60, 255] : CLEAR;
const propose = (...nodes: LayeredNode[]) => {
  const found = proposeRoles({ width: SIDE, height: SIDE, nodes });
  return nodes.map((node) => found.get(node)!);
};

describe('layers of a layered file', () => {
  test('art below, wire above: by name and by pixels', () => {
    const [ground, named, unnamed] = propose(
      layer('Layer 0', art),
      layer('UV Wireframe', wire),
      layer('Layer 3 copy', wire),
    );
    expect([ground.role, named.role, unnamed.role]).toEqual(['art', 'guide', 'guide']);
    expect(named.sure).toBe(true);
    expect(unnamed.reason).toMatch(/Thin lines/);
  });

  test('a layer called guide that is the lowest and covers the sheet is taken for the art, and says so', () => {
    const [it] = propose(
      layer('paint guide', art),
      layer('lettering', (x, y) => (y > 100 && y < 140 && x < 200 ? [255, 0, 0, 255] : CLEAR)),
    );
    expect(it.role).toBe('art');
    expect(it.reason).toMatch(/but it is the lowest layer/);
    expect(it.sure).toBe(false);
  });

  test('colour boxes ship: named, or only by being flat boxes', () => {
    const [, named, bare] = propose(layer('base', art), layer('settings swatches', boxes), layer('x', boxes));
    expect(named).toMatchObject({ role: 'data', sure: true });
    expect(bare).toMatchObject({ role: 'data', sure: false });
    expect(bare.reason).toMatch(/flat boxes/);
  });

  test('another map’s layers are told by their colours, and by their group’s name', () => {
    const bumps = (x: number, y: number) => [128 + ((x * 7) % 20) - 10, 128 + ((y * 5) % 20) - 10, 250, 255];
    const group: LayeredNode = {
      ...{ kind: 'group', name: 'Roughness', id: null, hidden: false, opacity: 1, blend: 'normal', clipped: false },
      ...{
        mask: null,
        label: null,
        passThrough: true,
        nodes: [layer('worn', (x) => [x & 255, x & 255, x & 255, 255])],
      },
    };
    const found = proposeRoles({
      width: SIDE,
      height: SIDE,
      nodes: [layer('base', art), layer('Layer 9', bumps), group],
    });
    const [, normal, all, worn] = [...found.entries()].sort((a, b) => order(a[0]) - order(b[0])).map(([, p]) => p);
    function order(node: LayeredNode) {
      return ['base', 'Layer 9', 'Roughness', 'worn'].indexOf(node.name);
    }
    expect(normal).toMatchObject({ role: 'map', map: 'normal' });
    expect(worn).toMatchObject({ role: 'map', map: 'finish' });
    expect(all).toMatchObject({ role: 'map', map: 'finish' });
  });

  test('shading that multiplies stays with the art; an empty layer is no guess', () => {
    const [, shading, empty] = propose(
      layer('base', art),
      layer('AO bake', (x) => [x & 255, x & 255, x & 255, 255], { blend: 'multiply' }),
      layer('nothing', () => CLEAR),
    );
    expect(shading).toMatchObject({ role: 'art', sure: true });
    expect(empty.reason).toMatch(/empty/);
    expect(propose({ ...layer('void', art), image: null })[0].role).toBe('art');
    expect(propose({ ...layer('uv', art), image: newImage(2, 2) })[0].role).toBe('guide');
  });

  test('a colour label that the guides carry makes guides of the others with it', () => {
    const mark = (x: number, y: number) => (x > 200 && y > 200 ? [200, 10, 10, 255] : CLEAR);
    const [, , same, other] = propose(
      layer('base', art),
      layer('uv wire', wire, { label: 'violet' }),
      layer('shape 1', mark, { label: 'violet' }),
      layer('shape 2', mark),
    );
    expect(same.role).toBe('guide');
    expect(same.reason).toMatch(/violet/);
    expect(other.role).toBe('art');
  });
});

describe('what a template would be', () => {
  const file = (name: string, kind: 'texture' | 'layered', role: FileRole = 'colour'): SettleFile => ({
    name,
    understood: { kind },
    guess: kind === 'texture' ? { role, reason: '', sure: 1, copy: null } : null,
  });
  const model = (...materials: string[]) => ({
    name: 'm.glb',
    groups: materials.map((material) => ({ material, triangles: 1 })),
  });
  const pairs = (files: SettleFile[], of: ReturnType<typeof model> | null) =>
    proposeSheets(files, of).map(({ material, colour, layered }) => [material, colour, layered]);

  test('materials get the textures and layered files whose names say the same', () => {
    const files = [
      file('pack/skimmer_hull_d.dds', 'texture'),
      file('pack/skimmer_hull_n.dds', 'texture', 'normal'),
      file('pack/skimmer_deck_d.dds', 'texture'),
      file('pack/Skimmer Deck Template.psd', 'layered'),
    ];
    expect(pairs(files, model('skimmer_hull', 'skimmer_deck', 'skimmer_glass'))).toEqual([
      ['skimmer_hull', 'pack/skimmer_hull_d.dds', null],
      ['skimmer_deck', 'pack/skimmer_deck_d.dds', 'pack/Skimmer Deck Template.psd'],
    ]);
  });

  test('one material and one texture belong together, whatever they are called', () => {
    expect(pairs([file('0041.dds', 'texture')], model('lambert1'))).toEqual([['lambert1', '0041.dds', null]]);
  });

  test('without a model each colour texture is a sheet, and a layered file goes to the one of its name', () => {
    const files = [
      file('coat.tga', 'texture'),
      file('boots.tga', 'texture'),
      file('coat work.ora', 'layered'),
      file('extra.psd', 'layered'),
    ];
    expect(pairs(files, null)).toEqual([
      ['coat.tga', 'coat.tga', 'coat work.ora'],
      ['boots.tga', 'boots.tga', null],
      ['extra.psd', null, 'extra.psd'],
    ]);
  });

  test('copies are no sheets of their own', () => {
    const copy = file('coat_low.tga', 'texture');
    const files = [
      file('coat.tga', 'texture'),
      { ...copy, guess: { ...copy.guess!, copy: { kind: 'size', of: 'coat.tga' } as const } },
    ];
    expect(pairs(files, null)).toEqual([['coat.tga', 'coat.tga', null]]);
  });
});

test('lines that are painted on the thing are art, whatever their name says', () => {
  const thin = picture(64, 64, (_x, y) => (y % 16 === 0 ? [60, 60, 60, 255] : [0, 0, 0, 0]));
  const under = picture(64, 64, () => [200, 190, 170, 255]);
  const layer = (name: string, image: Image8): LayeredLayer =>
    ({
      ...{ kind: 'layer', name, id: null, hidden: false, opacity: 1, blend: 'normal', clipped: false, mask: null },
      ...{ content: 'pixels', x: 0, y: 0, image },
    }) as unknown as LayeredLayer;
  const nodes: LayeredNode[] = [layer('paint', under), layer('Panel lines', thin), layer('lines', thin)];
  const roles = proposeRoles({ width: 64, height: 64, nodes });
  expect(nodes.map((node) => roles.get(node)!.role)).toEqual(['art', 'art', 'guide']);
});

test('the layered template of the demo: paint and panel lines are art, its group of guides is none, and our picture is its own', () => {
  const file = readPsd(demoBytes('turnstone-deck.psd'));
  const roles = proposeRoles(file);
  const told = nodesIn(file.nodes).flatMap(({ node }) =>
    node.kind === 'layer' ? [[node.name, roles.get(node)!.role]] : [],
  );
  expect(Object.fromEntries(told)).toEqual({
    'Deck paint': 'art',
    'Panel lines': 'art',
    Shading: 'art',
    'UV wire': 'guide',
    'Safe frame': 'guide',
    Notes: 'guide',
  });
  expect(compareImages(compositeLayered(file), file.merged!).psnrRgb).toBeGreaterThan(40);
});

describe('which way up a texture is stored', () => {
  const covered = (x: number, y: number) => (x < 96 && y < 40) || (x < 30 && y < 90);
  const cover = Array.from({ length: 1024 }, (_, i) => covered((i % 32) * 4 + 2, Math.floor(i / 32) * 4 + 2));
  const art = picture(128, 128, (x, y) =>
    covered(x, y) ? [(x * 37 + y * 91) % 256, (x * y) % 256, 90, 255] : [120, 120, 120, 255],
  );
  const upset = { ...art, data: flipRows(art).data };

  test('is told by where the art lies and the islands do not', () => {
    expect(wayUp(detailOf(art), cover)).toBe('upright');
    expect(wayUp(detailOf(upset), cover)).toBe('upside-down');
  });

  test('is not told when the art fills everything, or when the layout is alike both ways', () => {
    const full = picture(128, 128, (x, y) => [(x * 37 + y * 91) % 256, 0, 0, 255]);
    expect(wayUp(detailOf(full), cover)).toBeNull();
    const even = Array.from({ length: 1024 }, (_, i) => i % 32 < 16);
    expect(wayUp(detailOf(art), even)).toBeNull();
  });
});
