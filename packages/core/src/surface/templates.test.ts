/** Templates as they are settled, revised, compared and packed. */
import sharp from 'sharp';
import { strToU8, unzipSync, zipSync } from 'fflate';
import { beforeAll, describe, expect, test } from 'vitest';
import { locatorLivery } from '../delivery/locatorLivery.ts';
import { readTemplatePackage, writeTemplatePackage } from '../files/templatePackage.ts';
import { readGltf } from '../models/gltf.ts';
import { readObj } from '../models/obj.ts';
import { writeGlb, writeObj } from '../models/writeMesh.ts';
import { renderFinished } from '../compose/renderTile.ts';
import { ruleLike } from '../intake/ruleLike.ts';
import { withLayers } from '../livery/livery.ts';
import { boxesIn } from '../intake/boxesIn.ts';
import { applyEdit, expandAcross } from '../livery/edit.ts';
import { ColourId, LayerId, Sha256 } from '../livery/ids.ts';
import { newLivery, newSheet } from '../livery/newLivery.ts';
import { holdsIn, mapsOf, type Template } from '../livery/template.ts';
import { newImage, type Image8 } from '../raster/image.ts';
import { demoBundle, demoBytes, layerOf, NO_HASH, smallTemplate, sourcesFor } from '../testing/scenes.ts';
import { islandsOf } from './islands.ts';
import { layoutOf } from './templateLayout.ts';
import { reviseTemplate } from './reviseTemplate.ts';
import { proposeRun } from './runs.ts';
import { templateDiff } from './templateDiff.ts';
import { besideBoxes } from '../intake/besideBoxes.ts';
import { withAlphaOf } from '../livery/boxes.ts';
import { traceOutline } from './traceOutline.ts';

const png = async ({ width, height, data }: Image8) =>
  new Uint8Array(
    await sharp(data, { raw: { width, height, channels: 4 } })
      .png()
      .toBuffer(),
  );
const read = async (bytes: Uint8Array): Promise<Image8> => {
  const { data, info } = await sharp(bytes).ensureAlpha().raw().toBuffer({ resolveWithObject: true });
  return { width: info.width, height: info.height, data: new Uint8Array(data) };
};
const demo = (key: string) => readTemplatePackage(demoBytes(`${key}.template.zip`), read);

let turnstone: Template;
beforeAll(async () => {
  turnstone = (await demoBundle('ebbline')).template;
});

describe('parts made of islands', () => {
  test('take their triangles along, and every island keeps its number and its triangles’ places', () => {
    const before = islandsOf(turnstone);
    const made = reviseTemplate(turnstone, NO_HASH, [
      { do: 'group-islands', islands: [6, 7], name: 'Both fins', hex: '#ff0000' },
    ]);
    const after = islandsOf(made);
    expect(after.map(({ number, box, mirrored, texels }) => ({ number, box, mirrored, texels }))).toEqual(
      before.map(({ number, box, mirrored, texels }) => ({ number, box, mirrored, texels })),
    );
    const part = made.parts.find((p) => p.name === 'Both fins')!;
    expect(part.hex).toBe('#ff0000');
    expect(after.filter((island) => island.parts.includes(part.key)).map((i) => i.number)).toEqual([6, 7]);
    // The mesh is the same triangles in another order.
    const triangles = (t: Template) =>
      Array.from({ length: t.mesh.indices.length / 3 }, (_, k) => t.mesh.indices.slice(k * 3, k * 3 + 3).join()).sort();
    expect(triangles(made)).toEqual(triangles(turnstone));
    expect(made.parts.reduce((sum, p) => sum + p.count, 0)).toBe(turnstone.mesh.indices.length / 3);
    expect(made.replaces).toBe(NO_HASH);
  });

  test('join a part of that name, and cannot lie on two sheets', () => {
    const joined = reviseTemplate(turnstone, NO_HASH, [
      { do: 'group-islands', islands: [6], name: 'transom', hex: null },
    ]);
    expect(joined.parts.some((p) => p.name === 'fin, port')).toBe(false);
    expect(joined.parts.find((p) => p.name === 'transom')!.count).toBeGreaterThan(
      turnstone.parts.find((p) => p.name === 'transom')!.count,
    );
    expect(() =>
      reviseTemplate(turnstone, NO_HASH, [{ do: 'group-islands', islands: [1, 9], name: 'x', hex: null }]),
    ).toThrow(/on several/);
    expect(() =>
      reviseTemplate(turnstone, NO_HASH, [{ do: 'group-islands', islands: [99], name: 'x', hex: null }]),
    ).toThrow('There is no island 99.');
  });
});

describe('what is settled about a sheet', () => {
  const box = { key: 'fog', name: 'Fog', means: '', left: 0, top: 0, width: 8, height: 8, hex: '#00000000' };
  test('axis, cells, boxes and followers; a box must lie on the sheet, keys must differ', () => {
    const made = reviseTemplate(turnstone, NO_HASH, [
      { do: 'set-sheet', sheet: 'fan', set: { cells: { columns: 2, rows: 4 }, boxes: [box], axis: null } },
    ]);
    expect(made.sheets[2]).toMatchObject({ cells: { columns: 2, rows: 4 }, boxes: [box] });
    const without = reviseTemplate(made, NO_HASH, [{ do: 'set-sheet', sheet: 'fan', set: { cells: null } }]);
    expect('cells' in without.sheets[2]).toBe(false);
    const wrong = (set: object) => () => reviseTemplate(turnstone, NO_HASH, [{ do: 'set-sheet', sheet: 'fan', set }]);
    expect(wrong({ boxes: [{ ...box, left: 510 }] })).toThrow('The box "Fog" reaches past fan.');
    expect(wrong({ boxes: [box, box] })).toThrow(/already a box/);
    const follower = { key: 'hull', name: 'x', width: 4, height: 4, mirror: 'none', stem: null };
    expect(wrong({ followers: [follower] })).toThrow(/already a follower or sheet called "hull"/);
  });

  test('parts that shared a sheet get one of their own: a copy of its art, guides and rules, under a name of its own', () => {
    const own = {
      ...turnstone,
      begin: { hull: [layerOf('solid', { paint: { hex: '#123456' } })] },
      ownSpec: {
        ...JSON.parse(JSON.stringify({})),
        ...specOf('wharf/hull.dds', 'hull'),
      },
    };
    const made = reviseTemplate(own, NO_HASH, [{ do: 'own-sheet', parts: ['transom'], name: 'Transom' }]);
    expect(made.sheets.map((s) => s.key)).toEqual(['hull', 'transom', 'deck', 'fan']);
    expect(made.parts.find((p) => p.key === 'transom')!.sheet).toBe('transom');
    expect(made.begin!.transom).toEqual(made.begin!.hull);
    expect(made.ownSpec!.files.map((f) => [f.name, f.sheets])).toEqual([
      ['wharf/hull.dds', ['hull']],
      ['wharf/hull_transom.dds', ['transom']],
    ]);
    // References are repointed: the model that is written names the new sheet.
    expect(writeObj(made)).toMatch(/g transom\nusemtl transom\n/);
    expect(() => reviseTemplate(made, NO_HASH, [{ do: 'own-sheet', parts: ['transom'], name: 'x' }])).toThrow(
      /their own already/,
    );
  });

  const specOf = (name: string, sheet: string) => ({
    schema: 1 as const,
    key: 'own',
    version: 1,
    game: 'g',
    gameName: 'G',
    folder: '',
    sidecars: [],
    liveryKey: { allowed: 'a', says: 'a', maxLength: 4 },
    maxSide: 4096,
    ground: '#808080',
    after: '',
    files: [
      {
        map: 'colour',
        sheets: [sheet],
        name,
        container: 'dds' as const,
        format: 'bc7' as const,
        header: 'dx10' as const,
        colourSpace: 'srgb' as const,
        mips: 'full' as const,
        mipFilter: 'kaiser' as const,
        flip: false,
        alpha: 'opaque' as const,
        freeClear: false,
        padding: 16,
      },
    ],
  });
});

describe('a newer version of a template', () => {
  test('without differences has none to tell', () => expect(templateDiff(turnstone, turnstone)).toEqual([]));

  test('tells what moved, is new, gone or renamed, and what it means', () => {
    const uvs = [...turnstone.mesh.uvs];
    const transom = turnstone.parts.find((p) => p.key === 'transom')!;
    const moved = new Set(turnstone.mesh.indices.slice(transom.first * 3, (transom.first + transom.count) * 3));
    for (const v of moved) uvs[v * 2] += 10 / 2048;
    const patched: Template = {
      ...turnstone,
      mesh: { ...turnstone.mesh, uvs },
      sheets: [
        { ...turnstone.sheets[0], maps: [{ key: 'night', name: 'Night', alpha: 'none' }] },
        { ...turnstone.sheets[1], width: 2048 },
      ],
      parts: turnstone.parts
        .filter((p) => p.key !== 'fin-port')
        .map((p) => (p.key === 'roof' ? { ...p, name: 'canopy roof' } : p)),
    };
    const texts = templateDiff(turnstone, patched).map((d) => d.text);
    expect(texts).toContain('transom moved on its sheet, by 10 texels at most.');
    expect(texts).toContain('hull has a map more: night.');
    expect(texts).toContain('deck is 2048 x 1024 now, not 1024 x 1024.');
    expect(texts).toContain('fan is gone.');
    expect(texts).toContain('The part fin, port is gone.');
    expect(texts).toContain('The part roof is now called canopy roof.');
    expect(texts.filter((text) => text.startsWith('port side'))).toEqual([]);
  });

  test('is taken over as one step that brings new sheets and maps, keeps what was painted, and can be taken back', () => {
    const night = { key: 'night', name: 'Night', alpha: 'none' as const };
    const next: Template = {
      ...smallTemplate(),
      sheets: [
        { ...smallTemplate().sheets[0], maps: [night] },
        { ...smallTemplate().sheets[0], key: 'back' },
      ],
    };
    const before = newLivery(smallTemplate(), NO_HASH, 'One');
    const layer = layerOf('solid', { paint: { hex: '#123456' } });
    const { livery } = applyEdit(before, { do: 'add-layer', sheet: 'face', map: 'colour', index: 0, layer });
    const hash = Sha256.parse('1'.repeat(64));
    const taken = applyEdit(livery, {
      do: 'take-template',
      template: hash,
      spec: next.spec,
      sheets: next.sheets.map((sheet) => newSheet(next, sheet)),
    });
    expect(taken.livery.pins.template).toBe(hash);
    expect(taken.livery.sheets.map((s) => [s.key, s.maps.map((m) => [m.key, m.layers.length])])).toEqual([
      [
        'face',
        [
          ['colour', 1],
          ['night', 0],
        ],
      ],
      [
        'back',
        [
          ['colour', 0],
          ['night', 0],
        ].slice(0, 1),
      ],
    ]);
    expect(applyEdit(taken.livery, taken.inverse).livery.pins.template).toBe(NO_HASH);
  });
});

describe('one surface over several sheets', () => {
  test('lies the way the sheets meet on the model: the three of the launch’s hull, end to end', async () => {
    const { document } = await demo('dunlin');
    const pieces = proposeRun(document, ['bow', 'middle', 'stern']);
    // The islands begin 548 texels from the left and are 3002 long (3.8 m at 790 a metre): each next sheet lies 3002 farther.
    expect(pieces).toEqual([
      { sheet: 'bow', left: 0, top: 0 },
      { sheet: 'middle', left: 3002, top: 0 },
      { sheet: 'stern', left: 6004, top: 0 },
    ]);
    expect(document.runs).toEqual([{ key: 'hull', name: 'Hull', pieces }]);
    expect(proposeRun(document, ['bow', 'house'])).toBeNull();
    expect(proposeRun(document, ['bow', 'stern'])).toBeNull();
  });

  test('a layer on it is changed on every sheet: moved by as much, other settings alike, removed together', () => {
    const id = (k: number) => LayerId.parse(`s${k}`);
    const on = (k: number, x: number) =>
      layerOf('stripe', {
        id: id(k),
        paint: { hex: '#112233' },
        x,
        y: 50,
        angle: 0,
        width: 9,
        softness: 0,
        across: 'run',
      });
    const template: Template = {
      ...smallTemplate(),
      sheets: ['a', 'b', 'c'].map((key) => ({ ...smallTemplate().sheets[0], key })),
    };
    let livery = newLivery(template, NO_HASH, 'One');
    ['a', 'b', 'c'].forEach((sheet, k) => {
      livery = applyEdit(livery, {
        do: 'add-layer',
        sheet,
        map: 'colour',
        index: 0,
        layer: on(k, 100 - k * 960),
      }).livery;
    });
    const layers = (l: typeof livery) => l.sheets.flatMap((s) => s.maps[0].layers) as ReturnType<typeof on>[];
    const edit = expandAcross(livery, { do: 'set-layer', layer: id(1), set: { x: -850, width: 20, parts: ['p'] } });
    const moved = layers(applyEdit(livery, edit).livery);
    expect(moved.map((l) => [l.x, l.width, l.parts])).toEqual([
      [110, 20, []],
      [-850, 20, ['p']],
      [-1810, 20, []],
    ]);
    const gone = applyEdit(livery, expandAcross(livery, { do: 'remove-layer', layer: id(0) }));
    expect(layers(gone.livery)).toEqual([]);
    expect(layers(applyEdit(gone.livery, gone.inverse).livery)).toEqual(layers(livery));
    const colour = { do: 'remove-colour' as const, colour: ColourId.parse('x') };
    expect(expandAcross(livery, colour)).toBe(colour);
  });
});

describe('what a map holds', () => {
  const template: Template = {
    ...smallTemplate(),
    sheets: [
      {
        ...smallTemplate().sheets[0],
        maps: [
          { key: 'bumps', name: 'Bumps', alpha: 'none' },
          { key: 'night', name: 'Night', alpha: 'none' },
        ],
      },
    ],
  };
  const say = (maps: Template['sheets'][0]['maps']) =>
    reviseTemplate(template, NO_HASH, [{ do: 'set-sheet', sheet: 'face', set: { maps } }]);
  const [bumps, night] = template.sheets[0].maps!;

  test('is what the template says, else what the key says by custom', () => {
    const [sheet] = say([{ ...bumps, holds: 'normal' }, night]).sheets;
    expect(['colour', 'bumps', 'night', 'gone'].map((map) => holdsIn(sheet, map))).toEqual([
      'colour',
      'normal',
      'emissive',
      'data',
    ]);
    expect(holdsIn(template.sheets[0], 'bumps')).toBe('data');
  });

  test('no map comes, goes or changes its place by it', () => {
    expect(() => say([night, bumps])).toThrow(/not those that it has now: bumps,night/);
    expect(() => say([bumps])).toThrow(/not those/);
    expect(() => say([bumps, night, { ...night, key: 'glow' }])).toThrow(/not those/);
  });

  test('directions stay of length one where the map is called otherwise, and its rule says so', async () => {
    const lit = say([{ ...bumps, holds: 'normal' }, night]);
    const livery = newLivery(lit, NO_HASH, 'One');
    const half = layerOf('solid', { paint: { hex: '#ff8080' }, opacity: 50 });
    const layers = [layerOf('solid', { id: 'up', paint: { hex: '#8080ff' } }), half];
    const drawn = async (of: Template) => {
      const sources = await sourcesFor(livery, of);
      const texel = renderFinished(withLayers(livery, 'face', 'bumps', layers), 'face', 'bumps', REGION, sources);
      return Math.hypot(...[...texel.subarray(0, 3)].map((v) => v / 127.5 - 1));
    };
    expect(await drawn(lit)).toBeCloseTo(1, 1);
    expect(await drawn(template)).toBeLessThan(0.8);
    expect(ruleLike('face', null, null, [], 'bumps', 'normal').colourSpace).toBe('normal');
  });
});

const REGION = { x: 20, y: 20, width: 4, height: 4, step: 1 };

describe('outlines traced from a guide', () => {
  const painted = (width: number, height: number, inside: (x: number, y: number) => boolean) => {
    const image = newImage(width, height);
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) if (inside(x, y)) image.data[(y * width + x) * 4 + 3] = 255;
    return image;
  };
  const area = (ring: number[]) => {
    let twice = 0;
    for (let i = 0; i < ring.length; i += 2) {
      const n = (i + 2) % ring.length;
      twice += ring[i] * ring[n + 1] - ring[n] * ring[i + 1];
    }
    return twice / 2;
  };

  test('a rectangle gives its four corners, on the sheet', () => {
    const [ring, ...more] = traceOutline(
      painted(20, 16, (x, y) => x >= 3 && x < 11 && y >= 4 && y < 9),
      100,
      200,
    );
    expect(more).toEqual([]);
    expect(ring.length).toBe(8);
    expect(new Set(Array.from({ length: 4 }, (_, i) => ring.slice(i * 2, i * 2 + 2).join()))).toEqual(
      new Set(['103,204', '111,204', '111,209', '103,209']),
    );
  });

  test('a frame that is only a line gives its outer edge; two shapes give two rings, the larger first', () => {
    const frame = (x: number, y: number) => x < 30 && y < 30 && (x < 2 || y < 2 || x >= 28 || y >= 28);
    const rings = traceOutline(
      painted(60, 40, (x, y) => frame(x, y) || (x >= 40 && y >= 10 && x < 52 && y < 22)),
      0,
      0,
    );
    expect(rings.map(area)).toEqual([900, 144]);
  });

  test('a disc keeps its area within a hundredth with a quarter of its rim’s corners', () => {
    const [ring] = traceOutline(
      painted(200, 200, (x, y) => (x - 99.5) ** 2 + (y - 99.5) ** 2 < 80 ** 2),
      0,
      0,
    );
    expect(Math.abs(area(ring) / (Math.PI * 80 * 80) - 1)).toBeLessThan(0.01);
    expect(ring.length / 2).toBeLessThan(160);
  });

  test('a shape drawn half clear is found at its own level, beside an opaque one', () => {
    const image = newImage(60, 40);
    const put = (x: number, y: number, w: number, h: number, alpha: number) => {
      for (let j = y; j < y + h; j++) for (let i = x; i < x + w; i++) image.data[(j * 60 + i) * 4 + 3] = alpha;
    };
    put(4, 4, 12, 12, 255);
    put(30, 8, 10, 20, 70);
    // Its soft rim, under half of its own level, is no part of it.
    put(28, 8, 2, 20, 20);
    const rings = traceOutline(image, 0, 0);
    expect(rings.map(area)).toEqual([200, 144]);
  });

  test('nothing there is said', () =>
    expect(() =>
      traceOutline(
        painted(8, 8, () => false),
        0,
        0,
      ),
    ).toThrow(/no shape/));
});

describe('parameter boxes found in a layer', () => {
  const put = (image: Image8, x: number, y: number, w: number, h: number, rgba: number[]) => {
    for (let j = y; j < y + h; j++) for (let i = x; i < x + w; i++) image.data.set(rgba, (j * image.width + i) * 4);
  };
  test('rectangles of one colour each, alpha kept; anything else is none', () => {
    const image = newImage(64, 16);
    put(image, 2, 3, 8, 8, [10, 20, 30, 255]);
    put(image, 10, 3, 8, 8, [200, 20, 30, 64]);
    const sheet = { width: 256, height: 256 };
    expect(boxesIn(image, 100, 50, sheet)).toEqual([
      { left: 102, top: 53, width: 8, height: 8, hex: '#0a141eff' },
      { left: 110, top: 53, width: 8, height: 8, hex: '#c8141e40' },
    ]);
    expect(boxesIn(image, 250, 50, sheet)).toBeNull();
    put(image, 40, 2, 1, 9, [1, 1, 1, 255]);
    expect(boxesIn(image, 0, 0, sheet)).toBeNull();
    expect(boxesIn(newImage(4, 4), 0, 0, sheet)).toBeNull();
  });
});

describe('names of parameter boxes', () => {
  const layer = (name: string, content: 'text' | 'pixels', x: number, y: number, width: number, height: number) => ({
    ...{ kind: 'layer' as const, name, content, x, y, image: newImage(width, height) },
    ...{ hidden: false, opacity: 1, blend: 'normal' as const, clipped: false, mask: null, losses: [] },
  });
  test('are what is lettered beside them, a line for each box; far lettering and pixels name nothing', () => {
    const boxes = [0, 1, 2].map((i) => ({ left: 10, top: 10 + i * 20, width: 12, height: 12 }));
    const nodes = [
      layer('Sea fog', 'text', 26, 12, 40, 9),
      layer('Lamp glow', 'text', 26, 32, 40, 9),
      layer('Version 3', 'text', 300, 52, 40, 9),
      layer('scribble', 'pixels', 24, 52, 10, 9),
    ];
    expect(besideBoxes({ nodes } as never, boxes)).toEqual(['Sea fog', 'Lamp glow', null]);
  });
  test('a hex value with six digits keeps the alpha that was', () => {
    expect(withAlphaOf('#A0B0C0', '#11223344')).toBe('#a0b0c044');
    expect(withAlphaOf('#a0b0c080', '#11223344')).toBe('#a0b0c080');
  });
});

describe('the locator as a livery', () => {
  test('has a picture of its islands and a number on every one, readable on mirrored ones', () => {
    const layout = layoutOf(turnstone);
    const blob = { blob: NO_HASH, width: 64, height: 64 };
    const pictures = new Map(turnstone.sheets.map((s) => [s.key, blob]));
    const livery = locatorLivery(turnstone, NO_HASH, layout, pictures, { key: 'barlow', hash: NO_HASH });
    const hull = livery.sheets[0].maps[0].layers;
    expect(hull[0]).toMatchObject({ kind: 'picture', locked: true });
    const lettering = hull.flatMap((layer) => (layer.kind === 'lettering' ? [layer] : []));
    const numbers = layout.islands.filter((i) => i.sheet === 'hull' && i.label.radius > 2).map((i) => i.number);
    expect(lettering.map((layer) => Number(layer.text))).toEqual(numbers);
    for (const layer of lettering)
      expect(layer.mirrored).toBe(layout.islands.find((i) => String(i.number) === layer.text)!.mirrored);
  });
});

describe('template packages', () => {
  test('all subjects of the demo open, and are written again as the same document and pictures', async () => {
    for (const key of ['whimbrel', 'warden-courier', 'pebblewick-level', 'lampkin', 'toll-sails', 'dunlin', 'brock']) {
      const { document, blobs } = await demo(key);
      const named = new Map(await Promise.all(blobs.map(async (b) => [await hashOf(b), b] as const)));
      const again = await readTemplatePackage(await writeTemplatePackage(document, named, png), read);
      expect(again.document).toEqual(document);
      expect(again.blobs).toEqual(blobs);
    }
  });

  test('the model in it is the mesh, read back by the glTF reader; the OBJ says the same', async () => {
    const { document } = await demo('warden-courier');
    const glb = await readGltf(unzipSync(demoBytes('warden-courier.template.zip'))['model.glb']);
    expect(glb.mesh.indices.length).toBe(document.mesh.indices.length);
    expect(glb.groups.map((g) => g.name)).toEqual(document.parts.map((p) => p.name));
    expect(new Set(glb.groups.map((g) => g.material))).toEqual(new Set(['coat', 'boots', 'hair', 'unpainted']));
    expect(readObj(strToU8(writeObj(document))).mesh.indices.length).toBe(document.mesh.indices.length);
    expect((await readGltf(await writeGlb(document))).mesh.uvs.length).toBe(glb.mesh.uvs.length);
  });

  test('have the quirks that their games have', async () => {
    const [warden, pebble, lamp, sails, whimbrel] = await Promise.all(
      ['warden-courier', 'pebblewick-level', 'lampkin', 'toll-sails', 'whimbrel'].map(
        async (k) => (await demo(k)).document,
      ),
    );
    expect(warden.sheets.find((s) => s.key === 'hair')!.followers!.map((f) => [f.key, f.mirror])).toEqual([
      ['hair-wet', 'none'],
      ['hair-mirror', 'across'],
    ]);
    expect(mapsOf(warden.sheets[0]).map((m) => m.key)).toEqual(['colour', 'normal', 'packed']);
    expect(pebble.sheets[0].boxes).toHaveLength(12);
    expect(pebble.outlines!.filter((o) => o.role === 'collider')).toHaveLength(6);
    expect(lamp.sheets[0]).toMatchObject({ width: 96, height: 48 });
    expect(sails.sheets[0].cells).toEqual({ columns: 4, rows: 4 });
    expect(whimbrel.sheets).toHaveLength(5);
    for (const sheet of whimbrel.sheets) expect(mapsOf(sheet).map((m) => m.key)).toEqual(['colour', 'night']);
    const mirrored = (t: Template) =>
      islandsOf(t)
        .filter((i) => i.mirrored)
        .flatMap((i) => i.parts);
    expect(mirrored(warden)).toEqual(['sleeve-left-mirrored-']);
    expect(mirrored(whimbrel)).toEqual(['float-port-mirrored-']);
  });

  test('that are damaged, or lie, are refused in a sentence', async () => {
    const good = unzipSync(demoBytes('toll-sails.template.zip'));
    const packed = (change: (files: Record<string, Uint8Array>) => void) => {
      const files = { ...good };
      change(files);
      return readTemplatePackage(zipSync(files), read);
    };
    const json = (change: (t: Template) => void) =>
      packed((files) => {
        const t = JSON.parse(new TextDecoder().decode(files['template.json'])) as Template;
        change(t);
        files['template.json'] = new TextEncoder().encode(JSON.stringify(t));
      });
    const picture = Object.keys(good).find((name) => name.startsWith('pictures/'))!;
    await expect(readTemplatePackage(demoBytes('toll-sails.template.zip').subarray(0, 900), read)).rejects.toThrow(
      /cut off/,
    );
    await expect(packed((f) => delete f['template.json'])).rejects.toThrow(/no template.json/);
    await expect(packed((f) => (f['template.json'] = new Uint8Array([123])))).rejects.toThrow(/not JSON/);
    await expect(packed((f) => delete f[picture])).rejects.toThrow(/lacks a picture/);
    await expect(json((t) => (t.mesh.indices[5] = 999_999))).rejects.toThrow(/mesh in this package is damaged/);
    await expect(json((t) => (t.sheets[0].width = 0))).rejects.toThrow(/sheets.0.width/);
    await expect(json((t) => (t.parts[0].sheet = 'nowhere'))).rejects.toThrow(/damaged/);
    const other = await png(newImage(1024, 1024));
    await expect(packed((f) => (f[picture] = other))).rejects.toThrow(/not the one that was saved/);
  });
});

const hashOf = async (bytes: Uint8Array) =>
  [...new Uint8Array(await crypto.subtle.digest('SHA-256', bytes as Uint8Array<ArrayBuffer>))]
    .map((b) => b.toString(16).padStart(2, '0'))
    .join('');
