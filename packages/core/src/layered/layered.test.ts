/** Layered files against independent readers and writers: psd-tools composites what ag-psd wrote, Pillow and ImageMagick write what we read. */
import { execFileSync } from 'node:child_process';
import { readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { beforeAll, describe, expect, test } from 'vitest';
import type { Layer } from 'ag-psd';
import { InputError } from '../errors.ts';
import { BLEND_MODES } from '../livery/layer.ts';
import type { Image8 } from '../raster/image.ts';
import { randomFrom } from '../testing/images.ts';
import { grey, inTemporary, pixels, python, readPng, throughPsdTools, writePsd } from '../testing/layeredFiles.ts';
import { compositeInto, compositeLayered } from './composite.ts';
import { nodesIn } from './layered.ts';
import { layersOf } from './layersOf.ts';
import { readOra } from './ora.ts';
import { joinParts } from './joinParts.ts';
import { readPsd } from './psd.ts';

const SIDE = 48;
const random = randomFrom(21);
const noise = (alpha: (x: number, y: number) => number) =>
  pixels(SIDE, SIDE, (x, y) => [random() * 256, random() * 256, random() * 256, alpha(x, y)].map(Math.floor));
const soft = () => noise((x, y) => Math.min(255, 40 + ((x * 7 + y * 3) % 200)));
const solid = () => noise(() => 255);

/** Largest and root mean square difference of premultiplied values, 0..255. */
function difference(a: Image8, b: Image8): { largest: number; rms: number } {
  let largest = 0;
  let sum = 0;
  for (let i = 0; i < a.data.length; i++) {
    const weigh = (image: Image8) => ((i & 3) === 3 ? image.data[i] : (image.data[i] * image.data[i | 3]) / 255);
    const d = Math.abs(weigh(a) - weigh(b));
    largest = Math.max(largest, d);
    sum += d * d;
  }
  return { largest, rms: Math.sqrt(sum / a.data.length) };
}

/** How far our picture of each stack is from that of psd-tools. */
function bothWays(...stacks: Layer[][]) {
  const files = stacks.map((children) => writePsd(children, SIDE, SIDE));
  return throughPsdTools(files, SIDE, SIDE).map((theirs, i) => difference(compositeLayered(readPsd(files[i])), theirs));
}

describe('PSD against psd-tools, an independent reader and compositor', () => {
  test('blend modes over soft and solid layers', () => {
    // Left out: modes in which that program departs from the W3C formulas, to which ours are held in blend.test.ts and against Chromium
    // (blend.spec.ts); vivid-light is made of two of them, and divide is a matter of what 0 / 0 is.
    const apart = ['soft-light', 'color-dodge', 'color-burn', 'hue', 'saturation', 'vivid-light', 'divide'];
    const modes = BLEND_MODES.filter((mode) => !apart.includes(mode));
    const found = bothWays(
      ...modes.map((mode): Layer[] => [
        { name: 'ground', imageData: solid() },
        { name: 'middle', imageData: soft(), opacity: 0.8 },
        { name: 'over', imageData: soft(), blendMode: mode.replaceAll('-', ' ') as Layer['blendMode'], opacity: 0.6 },
      ]),
    );
    expect(found).toHaveLength(18);
    found.forEach(({ largest, rms }, i) => {
      expect(largest, modes[i]).toBeLessThanOrEqual(3);
      expect(rms, modes[i]).toBeLessThan(1);
    });
  });

  test('isolated and pass-through groups, nested, with opacity', () => {
    for (const blendMode of ['pass through', 'normal', 'multiply'] as const) {
      const [{ largest }] = bothWays([
        { name: 'ground', imageData: solid() },
        {
          name: 'outer',
          blendMode,
          opacity: 0.7,
          children: [
            { name: 'a', imageData: soft(), blendMode: 'multiply' },
            {
              name: 'inner',
              blendMode: 'normal',
              opacity: 0.5,
              children: [{ name: 'b', imageData: soft(), blendMode: 'screen' }],
            },
          ],
        },
      ]);
      expect(largest, blendMode).toBeLessThanOrEqual(3);
    }
  });

  test('masks of layers and groups: inside their box, outside it, disabled', () => {
    const mask = (rest: object) => ({
      left: 8,
      top: 4,
      right: 40,
      bottom: 36,
      imageData: grey(32, 32, (x, y) => (x * 8 + y) & 255),
      ...rest,
    });
    for (const rest of [{ defaultColor: 0 }, { defaultColor: 255 }, { defaultColor: 0, disabled: true }]) {
      const [{ largest }] = bothWays([
        { name: 'ground', imageData: solid() },
        { name: 'masked', imageData: soft(), mask: mask(rest) },
        { name: 'group', blendMode: 'normal', mask: mask(rest), children: [{ name: 'in', imageData: soft() }] },
      ]);
      expect(largest, JSON.stringify(rest)).toBeLessThanOrEqual(2);
    }
  });

  // Over a soft base psd-tools mixes as if nothing were clipped; source-atop, as the W3C has it, is held in blend.test.ts.
  test('clipping: several layers to one, in modes, over a base that is faded and masked', () => {
    const [{ largest }] = bothWays([
      { name: 'ground', imageData: solid() },
      {
        name: 'base',
        imageData: solid(),
        opacity: 0.8,
        mask: {
          left: 4,
          top: 4,
          right: 36,
          bottom: 36,
          defaultColor: 0,
          imageData: grey(32, 32, (x, y) => (x * 7 + y) & 255),
        },
      },
      { name: 'one', imageData: soft(), clipping: true },
      { name: 'two', imageData: soft(), clipping: true, blendMode: 'multiply', opacity: 0.5 },
      { name: 'free', imageData: soft(), opacity: 0.3 },
    ]);
    expect(largest).toBeLessThanOrEqual(3);
  });

  test('hidden layers and groups, layers that reach past the canvas, fill opacity', () => {
    const part = (left: number, top: number) => ({ left, top, imageData: soft() });
    const [{ largest }] = bothWays([
      { name: 'ground', imageData: solid() },
      { name: 'hidden', hidden: true, imageData: solid() },
      { name: 'hidden group', hidden: true, children: [{ name: 'in it', imageData: solid() }] },
      { name: 'corner', ...part(-20, -30) },
      { name: 'other corner', ...part(30, 20), fillOpacity: 0.5 },
    ]);
    expect(largest).toBeLessThanOrEqual(2);
  });

  test('a mask’s density lets its inverse through', () => {
    const white = pixels(4, 4, () => [255, 255, 255, 255]);
    const layer = {
      name: 'half',
      imageData: white,
      mask: {
        left: 0,
        top: 0,
        right: 4,
        bottom: 4,
        defaultColor: 0,
        imageData: grey(4, 4, () => 0),
        userMaskDensity: 0.5,
      },
    };
    const { data } = compositeLayered(readPsd(writePsd([layer], 4, 4)));
    // What is hidden entirely at full density is hidden half at a density of one half.
    expect(Math.abs(data[3] - 128)).toBeLessThanOrEqual(1);
  });
});

describe('reading PSD', () => {
  test('in parts by several threads it is the same file', () => {
    const stack: Layer[] = [
      { name: 'a', imageData: soft(), blendMode: 'dissolve' },
      {
        name: 'g',
        children: [
          { name: 'b', imageData: soft() },
          { name: 'c', imageData: solid(), effects: { dropShadow: [{ enabled: true }] } },
        ],
      },
      {
        name: 'd',
        imageData: soft(),
        mask: { left: 0, top: 0, right: 8, bottom: 8, defaultColor: 0, imageData: grey(8, 8, (x) => x * 30) },
      },
    ];
    const bytes = writePsd(stack, SIDE, SIDE);
    const whole = readPsd(bytes);
    for (const of of [2, 3, 7]) {
      const parts = Array.from({ length: of }, (_, index) => readPsd(bytes, { part: { index, of } }));
      expect(joinParts(parts)).toEqual(whole);
    }
    expect(whole.losses).toHaveLength(2);
    const rows = { width: SIDE, height: SIDE, data: new Uint8Array(SIDE * SIDE * 4) };
    for (const index of [0, 1]) compositeInto(rows, whole.nodes, { index, of: 2 });
    expect(rows).toEqual(compositeLayered(whole));
  });

  test('names, order, places, modes and labels come as written', () => {
    const file = readPsd(
      writePsd(
        [
          { name: 'Grund – ärgerlich', imageData: solid(), id: 7 },
          {
            name: 'Guides',
            blendMode: 'pass through',
            layerColor: 'red',
            children: [
              {
                name: 'wire',
                left: 3,
                top: 5,
                imageData: pixels(9, 4, () => [0, 0, 0, 255]),
                hidden: true,
                clipping: true,
              },
            ],
          },
        ],
        SIDE,
        SIDE,
      ),
    );
    expect(nodesIn(file.nodes).map(({ node, path: at }) => [at.join('/'), node.name, node.kind])).toEqual([
      ['', 'Grund – ärgerlich', 'layer'],
      ['', 'Guides', 'group'],
      ['Guides', 'wire', 'layer'],
    ]);
    const [ground, group] = file.nodes;
    expect(ground.id).toBe('7');
    expect(group.kind === 'group' && [group.passThrough, group.label]).toEqual([true, 'red']);
    const wire = group.kind === 'group' && group.nodes[0].kind === 'layer' ? group.nodes[0] : null;
    expect(wire && [wire.x, wire.y, wire.image?.width, wire.image?.height, wire.hidden, wire.clipped]).toEqual([
      3,
      5,
      9,
      4,
      true,
      true,
    ]);
  });

  test('layers that ImageMagick wrote, raw and with run lengths, 8 and 16 bits, come back to the texel', () => {
    inTemporary((folder) => {
      const raw = path.join(folder, 'in.raw');
      const wanted = solid();
      writeFileSync(raw, wanted.data);
      for (const [depth, compress] of [
        ['8', 'None'],
        ['8', 'RLE'],
        ['16', 'None'],
      ]) {
        const file = path.join(folder, 'out.psd');
        const source = ['-size', `${SIDE}x${SIDE}`, '-depth', '8', `RGBA:${raw}`];
        execFileSync('convert', [
          ...source,
          '(',
          ...source,
          '-set',
          'label',
          'top',
          ')',
          '-depth',
          depth,
          '-compress',
          compress,
          file,
        ]);
        const read = readPsd(new Uint8Array(readFileSync(file)));
        expect(read.depth).toBe(Number(depth));
        const layer = nodesIn(read.nodes)
          .map(({ node }) => node)
          .find((node) => node.kind === 'layer' && node.image)!;
        const { image } = layer as { image: Image8 };
        expect([image.width, image.height]).toEqual([SIDE, SIDE]);
        expect(Buffer.compare(Buffer.from(image.data), Buffer.from(wanted.data)), `${depth} ${compress}`).toBe(0);
        expect(read.merged).not.toBeNull();
      }
    });
  });

  test.each([
    ['RLE', '8'],
    ['None', '16'],
    ['Zip', '8'],
  ])(
    'greyscale files that ImageMagick wrote (%s, %s bits) are their own merged picture, within 2 of 255',
    (compress, depth) => {
      inTemporary((folder) => {
        // Without alpha: its greyscale files with an alpha channel are broken, and psd-tools refuses them.
        const [raw, file] = ['in.raw', 'grey.psd'].map((name) => path.join(folder, name));
        writeFileSync(
          raw,
          solid().data.filter((_, i) => i % 4 !== 3),
        );
        const source = ['-size', `${SIDE}x${SIDE}`, '-depth', '8', `RGB:${raw}`];
        const grey = ['-colorspace', 'Gray', '-depth', depth, '-compress', compress];
        execFileSync('convert', [...source, '(', ...source, '-set', 'label', 'top', ')', ...grey, file]);
        const read = readPsd(new Uint8Array(readFileSync(file)));
        execFileSync('convert', [
          `${file}[0]`,
          '-colorspace',
          'sRGB',
          '-depth',
          '8',
          `RGBA:${path.join(folder, 'out.raw')}`,
        ]);
        const theirs = { width: SIDE, height: SIDE, data: new Uint8Array(readFileSync(path.join(folder, 'out.raw'))) };
        expect(difference(read.merged!, theirs).largest).toBeLessThanOrEqual(2);
        // Its layers of 16 bits are broken: psd-tools refuses the file; the merged picture is right.
        if (depth === '8') expect(difference(compositeLayered(read), theirs).largest).toBeLessThanOrEqual(2);
      });
    },
  );

  test('what cannot be kept is named by layer', () => {
    const { losses } = readPsd(
      writePsd(
        [
          {
            name: 'glowing',
            imageData: solid(),
            effects: { dropShadow: [{ enabled: true, size: { units: 'Pixels', value: 4 } }] },
          },
          { name: 'lifted', adjustment: { type: 'brightness/contrast', brightness: 20, contrast: 0 } },
          { name: 'speckled', imageData: solid(), blendMode: 'dissolve' },
        ],
        SIDE,
        SIDE,
      ),
    );
    expect(losses.map(({ layer }) => layer)).toEqual(['glowing', 'lifted', 'speckled']);
    expect(losses[0].what).toMatch(/effects.*drop shadow/);
    expect(losses[1].what).toMatch(/adjustment.*brightness/);
  });

  test.each([
    ['nothing', new Uint8Array(0), /not a PSD/],
    ['a text', new TextEncoder().encode('8BPSnot really a file of that kind'), /version/],
  ])('%s is refused in a sentence', (_what, bytes, sentence) => {
    expect(() => readPsd(bytes)).toThrow(sentence);
    expect(() => readPsd(bytes)).toThrow(InputError);
  });

  test('a header that declares 300000 texels a side, CMYK or 4 bits is refused before anything is read', () => {
    const good = writePsd([{ name: 'a', imageData: solid() }], SIDE, SIDE);
    const changed = (at: number, value: number, four = false) => {
      const bytes = good.slice();
      const view = new DataView(bytes.buffer);
      if (four) view.setUint32(at, value);
      else view.setUint16(at, value);
      return bytes;
    };
    expect(() => readPsd(changed(18, 300_000, true))).toThrow(/300000 x 48; at most 16384/);
    expect(() => readPsd(changed(24, 4))).toThrow(/CMYK; save it in RGB/);
    expect(() => readPsd(changed(22, 4))).toThrow(/4 bits a channel/);
  });

  test('cut off anywhere, it is one sentence and never a picture that lies', () => {
    const good = writePsd(
      [
        { name: 'a', imageData: soft() },
        { name: 'b', imageData: soft() },
      ],
      SIDE,
      SIDE,
    );
    for (let length = 27; length < good.length; length += 331) {
      try {
        readPsd(good.subarray(0, length));
      } catch (error) {
        expect(error).toBeInstanceOf(InputError);
      }
    }
  });
});

describe('OpenRaster written by Pillow and Python’s own zip', () => {
  let bytes: Uint8Array;
  beforeAll(() => {
    bytes = inTemporary((folder) => {
      const file = path.join(folder, 'made.ora');
      python(
        `
import sys, io, zipfile, random
from PIL import Image
random.seed(4)
def png(w, h, alpha):
    im = Image.frombytes('RGBA', (w, h), bytes(c for _ in range(w * h) for c in (random.randrange(256), random.randrange(256), random.randrange(256), alpha)))
    out = io.BytesIO(); im.save(out, 'PNG'); return im, out.getvalue()
base, b = png(40, 30, 255)
top, t = png(20, 10, 255)
merged = base.copy(); merged.alpha_composite(top, (5, 7))
out = io.BytesIO(); merged.save(out, 'PNG')
with zipfile.ZipFile(sys.argv[1], 'w') as z:
    z.writestr('mimetype', 'image/openraster')
    z.writestr('stack.xml', '''<?xml version="1.0" encoding="UTF-8"?>
<image version="0.0.6" w="40" h="30"><stack>
 <stack name="marks &amp; more" isolation="auto"><layer name="top" src="data/top.png" x="5" y="7" opacity="1.0"/>
 <layer name="ghost" src="data/top.png" visibility="hidden" composite-op="svg:multiply" opacity="0.25"/></stack>
 <layer name="base" src="data/base.png"/></stack></image>''')
    z.writestr('data/top.png', t, zipfile.ZIP_DEFLATED)
    z.writestr('data/base.png', b)
    z.writestr('mergedimage.png', out.getvalue())
`,
        file,
      );
      return new Uint8Array(readFileSync(file));
    });
  });

  test('its layers come in order, first on first, and their picture is its own merged one', async () => {
    const file = await readOra(bytes, readPng);
    expect([file.width, file.height]).toEqual([40, 30]);
    expect(nodesIn(file.nodes).map(({ node, path: at }) => [...at, node.name].join('/'))).toEqual([
      'base',
      'marks & more',
      'marks & more/ghost',
      'marks & more/top',
    ]);
    const ghost = nodesIn(file.nodes)[2].node;
    expect([ghost.hidden, ghost.blend, ghost.opacity]).toEqual([true, 'multiply', 0.25]);
    expect(compositeLayered(file).data).toEqual(file.merged!.data);
  });

  test('cut off or without its parts it is refused in a sentence', async () => {
    await expect(readOra(bytes.subarray(0, 500), readPng)).rejects.toThrow(InputError);
    await expect(readOra(new Uint8Array(3), readPng)).rejects.toThrow(/not a zip/);
  });
});

describe('a layered file’s art as layers of a sheet', () => {
  test('groups that only hold together are opened, others and clipped ones become one, and the picture stays', () => {
    const file = readPsd(
      writePsd(
        [
          { name: 'ground', imageData: solid() },
          {
            name: 'holds',
            blendMode: 'pass through',
            children: [
              { name: 'a', imageData: soft() },
              { name: 'b', imageData: soft(), blendMode: 'multiply' },
            ],
          },
          { name: 'mixes', blendMode: 'screen', opacity: 0.5, children: [{ name: 'c', imageData: soft() }] },
          { name: 'base', imageData: soft() },
          { name: 'clip', imageData: soft(), clipping: true },
        ],
        SIDE,
        SIDE,
      ),
    );
    const layers = layersOf(file.nodes, file, () => true);
    expect(layers.map(({ name, merged, blend }) => [name, merged, blend])).toEqual([
      ['ground', false, 'normal'],
      ['a', false, 'normal'],
      ['b', false, 'multiply'],
      ['mixes', true, 'screen'],
      ['base', true, 'normal'],
    ]);
    const again = compositeLayered({
      ...file,
      nodes: layers.map((layer) => ({
        ...{ kind: 'layer', name: layer.name, id: null, clipped: false, mask: null, label: null, content: 'pixels' },
        ...{
          hidden: layer.hidden,
          opacity: layer.opacity,
          blend: layer.blend,
          x: layer.left,
          y: layer.top,
          image: layer.image,
        },
      })) as never,
    });
    const { largest } = difference(again, compositeLayered(file));
    expect(largest).toBeLessThanOrEqual(1);
    expect(layersOf(file.nodes, file, (node) => node.name === 'b').map(({ name }) => name)).toEqual(['b']);
  });
});
