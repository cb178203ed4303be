/** Wires from three sources, in many dresses, are found in all kinds of layers; ordinary art is not taken for one. */
import { describe, expect, test } from 'vitest';
import { packPixels } from '../../files/pixels.ts';
import { sha256 } from '../../files/sha256.ts';
import type { Layer } from '../../livery/layer.ts';
import { Template } from '../../livery/template.ts';
import { newImage, type Image8 } from '../../raster/image.ts';
import { uvLines } from '../../surface/guides.ts';
import { triangleOnSheet } from '../../surface/triangles.ts';
import { strokeCoverage } from '../../shapes/coverage.ts';
import { demoBytes, layerOf, smallLivery, sourcesFor } from '../../testing/scenes.ts';
import { throughImageMagick, writtenByPillow, readWithPillow } from '../../testing/independent.ts';
import { colourSheet, maskSheet, nightSheet, normalSheet, zoneSheet } from '../../testing/textures.ts';
import { NO_TARGET } from '../target.ts';
import { planDelivery } from '../plan.ts';
import { spec as brackwaterRun } from '../../games/brackwaterRun/spec.ts';
import { guideInArt } from './guideInArt.ts';

const turnstone = Template.parse(JSON.parse(new TextDecoder().decode(demoBytes('turnstone.template.json'))));
const sheet = turnstone.sheets.find(({ key }) => key === 'hull')!;
/** The sheet at a size that tests can draw often. */
const SIDE = 1024;
const template: Template = {
  ...turnstone,
  sheets: [{ ...sheet, width: SIDE, height: SIDE }, ...turnstone.sheets.slice(1)],
};

async function findings(layer: (blob: string) => Layer, picture: Image8) {
  const bytes = packPixels(picture, 0);
  const blob = await sha256(bytes);
  const livery = smallLivery([], template);
  const layers = [layerOf('solid', { paint: { hex: '#c9c2b4' } }), layer(blob)];
  const own = {
    ...livery,
    sheets: livery.sheets.map((one) => (one.key === 'hull' ? { ...one, maps: [{ ...one.maps[0], layers }] } : one)),
  };
  const sources = await sourcesFor(own, template, new Map([[blob, bytes]]));
  const spec = brackwaterRun;
  const input = { livery: own, template, spec, plan: planDelivery(own, template, spec), target: NO_TARGET, sources };
  return guideInArt.run(input);
}

const asPicture =
  (more: object = {}) =>
  (blob: string) =>
    layerOf('picture', { blob, left: 0, top: 0, width: SIDE, height: SIDE, ...more });
const asDecal =
  (more: object = {}) =>
  (blob: string) =>
    layerOf('decal', {
      ...{ blob, source: 'pixels', ratio: 1, keepRatio: true, x: SIDE / 2, y: SIDE / 2, width: SIDE, height: SIDE },
      ...{ turn: 0, mirrored: false, recolour: [], ...more },
    });

/** A line picture: coverage of lines in a colour, over a ground or clear. */
function inked(coverage: ArrayLike<number>, line: number[], ground: number[] | null): Image8 {
  const image = newImage(SIDE, SIDE);
  for (let i = 0; i < SIDE * SIDE; i++) {
    const a = coverage[i];
    for (let c = 0; c < 3; c++)
      image.data[i * 4 + c] = ground ? Math.round(line[c] * a + ground[c] * (1 - a)) : line[c];
    image.data[i * 4 + 3] = ground ? 255 : Math.round(a * 255);
  }
  return image;
}

type Lines = readonly (readonly number[])[];
const wire = ((): Lines => {
  const { wire: all } = uvLines(template, 'hull');
  return Array.from({ length: all.length / 4 }, (_, i) => [...all.slice(i * 4, i * 4 + 4)]);
})();
/** Edges of quads: the longest side of each triangle is left out, as tools do that draw polygons. */
const polygons = ((): Lines => {
  const out: number[][] = [];
  for (const part of template.parts.filter((one) => one.sheet === 'hull'))
    for (let t = part.first; t < part.first + part.count; t++) {
      const c = triangleOnSheet(template.mesh, t, SIDE, SIDE);
      const sides = [0, 1, 2].map((k) => [c[k * 2], c[k * 2 + 1], c[((k + 1) % 3) * 2], c[((k + 1) % 3) * 2 + 1]]);
      const long = (s: number[]) => Math.hypot(s[2] - s[0], s[3] - s[1]);
      out.push(...sides.sort((a, b) => long(a) - long(b)).slice(0, 2));
    }
  return out;
})();
const outlines = ((): Lines => {
  const { seams } = uvLines(template, 'hull');
  return Array.from({ length: seams.length / 4 }, (_, i) => [...seams.slice(i * 4, i * 4 + 4)]);
})();

/** Ours, Pillow's line drawing, and ImageMagick's. */
const SOURCES: [string, (lines: Lines, width: number) => ArrayLike<number>][] = [
  [
    'our own strokes',
    (lines, width) =>
      strokeCoverage(
        lines.map((line) => Float64Array.from(line)),
        width / 2,
        SIDE,
        SIDE,
      ),
  ],
  [
    'Pillow',
    (lines, width) => {
      const all = lines.map((line) => `(${line.map((v) => Math.round(v)).join()})`).join();
      const script = `from PIL import ImageDraw\nm = Image.new('L', im.size, 0)\nd = ImageDraw.Draw(m)\nfor l in [${all}]: d.line(l, fill=255, width=${width})\nm.convert('RGBA').save('out', 'PNG')`;
      const image = readWithPillow(writtenByPillow(newImage(SIDE, SIDE), script), 'png');
      return Float32Array.from({ length: SIDE * SIDE }, (_, i) => image.data[i * 4] / 255);
    },
  ],
  [
    'ImageMagick',
    (lines, width) => {
      const path = lines.map(
        (line) => `M ${line[0].toFixed(2)},${line[1].toFixed(2)} L ${line[2].toFixed(2)},${line[3].toFixed(2)}`,
      );
      const black = newImage(SIDE, SIDE);
      for (let i = 3; i < black.data.length; i += 4) black.data[i] = 255;
      const operators = [
        '-stroke',
        'white',
        '-strokewidth',
        String(width),
        '-fill',
        'none',
        '-draw',
        `path '${path.join(' ')}'`,
      ];
      const image = throughImageMagick(black, operators, SIDE, SIDE);
      return Float32Array.from({ length: SIDE * SIDE }, (_, i) => image.data[i * 4] / 255);
    },
  ],
];
const DRESSES: [string, number[], number[] | null][] = [
  ['white, clear', [255, 255, 255], null],
  ['black, clear', [0, 0, 0], null],
  ['cyan, clear', [0, 220, 230], null],
  ['white on black', [255, 255, 255], [0, 0, 0]],
  ['black on white', [0, 0, 0], [255, 255, 255]],
  ['red on grey', [220, 30, 30], [120, 120, 120]],
];

describe('a wire left in the art', () => {
  test.each(SOURCES)('drawn by %s is found, of 1 to 3 texels, in every dress', async (_name, draw) => {
    for (const width of [1, 2, 3]) {
      const all = draw(wire, width);
      for (const [dress, line, ground] of DRESSES) {
        const picture = inked(all, line, ground);
        expect([dress, width, (await findings(asPicture(), picture)).length]).toEqual([dress, width, 1]);
      }
    }
  });

  test('without diagonals, or only where islands end, as a decal, multiplied or screened', async () => {
    const [, draw] = SOURCES[0];
    for (const lines of [polygons, outlines]) {
      const coverage = draw(lines, 2);
      const dark = inked(coverage, [0, 0, 0], [255, 255, 255]);
      expect((await findings(asPicture({ blend: 'multiply' }), dark)).length).toBe(1);
      expect((await findings(asPicture({ blend: 'screen' }), inked(coverage, [255, 255, 255], [0, 0, 0]))).length).toBe(
        1,
      );
      expect((await findings(asDecal(), inked(coverage, [255, 0, 200], null))).length).toBe(1);
    }
    const [finding] = await findings(asDecal(), inked(draw(wire, 1), [255, 255, 255], null));
    expect(finding).toMatchObject({ level: 'stop', overrule: expect.stringContaining('guide') });
    // Hidden, it is nobody's business.
    expect(await findings(asPicture({ hidden: true }), inked(draw(wire, 1), [255, 255, 255], null))).toEqual([]);
  });
});

describe('ordinary art', () => {
  const at = (make: (x: number, y: number) => number[]) => {
    const image = newImage(SIDE, SIDE);
    for (let y = 0; y < SIDE; y++) for (let x = 0; x < SIDE; x++) image.data.set(make(x, y), (y * SIDE + x) * 4);
    return image;
  };
  const art: [string, () => Image8][] = [
    ...[3, 5, 9, 14, 22, 31, 47, 58, 66, 71].map((seed): [string, () => Image8] => [
      `panels ${seed}`,
      () => colourSheet(seed, SIDE),
    ]),
    ...[2, 8, 13, 21].map((seed): [string, () => Image8] => [`a mask ${seed}`, () => maskSheet(seed, SIDE)]),
    ...[4, 7].map((seed): [string, () => Image8] => [`zones ${seed}`, () => zoneSheet(seed, SIDE)]),
    ...[1, 6].map((seed): [string, () => Image8] => [`lamps ${seed}`, () => nightSheet(seed, SIDE)]),
    ...[10].map((seed): [string, () => Image8] => [`normals ${seed}`, () => normalSheet(seed, SIDE)]),
    // Chain fences, nets, plaids and hatches: many thin lines of one colour.
    ...[8, 11, 16, 23, 32].map((pitch): [string, () => Image8] => [
      `a chain fence of ${pitch}`,
      () => at((x, y) => ((x + y) % pitch < 2 || (x - y + 4096) % pitch < 2 ? [210, 210, 205, 255] : [0, 0, 0, 0])),
    ]),
    ...[12, 20, 36, 50].map((pitch): [string, () => Image8] => [
      `a plaid of ${pitch}`,
      () =>
        at((x, y) => [
          x % pitch < 3 ? 200 : 40,
          y % pitch < 2 ? 220 : 60,
          (x + y) % (pitch * 2) < pitch ? 90 : 50,
          255,
        ]),
    ]),
    ...[6, 10, 18].map((pitch): [string, () => Image8] => [
      `a hatch of ${pitch}`,
      () => at((x) => (x % pitch === 0 ? [255, 255, 255, 255] : [0, 0, 0, 0])),
    ]),
    ...[9, 14].map((pitch): [string, () => Image8] => [
      `a carbon weave of ${pitch}`,
      () => at((x, y) => ((Math.floor(x / pitch) + Math.floor(y / pitch)) % 2 ? [40, 40, 44, 255] : [70, 70, 76, 255])),
    ]),
    ...[12, 30, 60].map((size): [string, () => Image8] => [
      `lettering of ${size}`,
      () =>
        throughImageMagick(
          newImage(SIDE, SIDE),
          [
            '-font',
            '/usr/share/fonts/truetype/liberation/LiberationSans-Bold.ttf',
            '-fill',
            'white',
            '-pointsize',
            String(size),
            '-annotate',
            '+4+70',
            Array.from({ length: 40 }, () => 'TERN & TIDE POST 721 KITTIWAKE EBB').join('\n'),
          ],
          SIDE,
          SIDE,
        ),
    ]),
    ...[20, 40, 70].map((rings): [string, () => Image8] => [
      `rings of ${rings}`,
      () => at((x, y) => (Math.hypot(x - 500, y - 480) % rings < 2 ? [220, 80, 60, 255] : [0, 0, 0, 0])),
    ]),
    [
      'noise',
      () => at((x, y) => [((x * 7919 + y * 104729) ^ (x * y)) & 255, (x * 31 + y * 17) & 255, (x ^ y) & 255, 255]),
    ],
  ];

  test(`forty pictures of it are not taken for a wire`, async () => {
    expect(art.length).toBeGreaterThanOrEqual(40);
    for (const [name, make] of art) expect([name, await findings(asPicture(), make())]).toEqual([name, []]);
  });
});
