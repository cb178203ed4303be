/**
 * "Nothing but the paint": files that independent tools wrote go through the whole chain on the command line. Nothing painted, they come out
 * byte for byte; with one dab, everything outside it is as it was. What differs is counted by Python with Pillow, on bytes and decoded
 * texels: it shares no code with the product.
 */
import { execFileSync } from 'node:child_process';
import { existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { Edit } from '@wet-lacquer/core/livery/edit.ts';
import { EDITS } from '@wet-lacquer/core/livery/edits/index.ts';
import { packTiles } from '@wet-lacquer/core/paint/strokes.ts';
import { makeForeignSkin } from '@wet-lacquer/core/testing/foreignSkin.ts';
import { filesBelow, hashOfFile } from '@wet-lacquer/core/testing/trees.ts';
import { packPixels } from '@wet-lacquer/core/files/pixels.ts';
import { newImage, TILE } from '@wet-lacquer/core/raster/image.ts';
import type { main as Main } from './lacquer.ts';

const root = path.resolve(import.meta.dirname, '../../..');
let folder: string;
const at = (name: string) => path.join(folder, name);

async function lacquer<T = object>(...args: string[]): Promise<T> {
  const { main } = (await import(/* @vite-ignore */ path.join(root, 'packages/cli/dist/lacquer.js'))) as {
    main: typeof Main;
  };
  const { status, stdout, stderr } = await main([...args, '--json']);
  expect([stderr, status]).toEqual(['', 0]);
  return JSON.parse(stdout) as T;
}

const python = (script: string, ...args: string[]): string =>
  execFileSync('/usr/bin/python3', ['-c', script, ...args], { cwd: folder }).toString();

/** Counts, for a pair of files: texels that differ as [x, y] boxes, and for block formats the blocks of each level. */
const COUNT = `
import json, struct, sys
from PIL import Image
a, b = open(sys.argv[1], 'rb').read(), open(sys.argv[2], 'rb').read()
out = {'same': a == b, 'size': [len(a), len(b)]}
if a[:4] == b'DDS ':
    dx10 = a[84:88] == b'DX10'
    start = 148 if dx10 else 128
    side = struct.unpack('<I', a[12:16])[0]
    levels = max(1, struct.unpack('<I', a[28:32])[0])
    block = 8 if a[84:88] == b'DXT1' else 16
    out['head'] = a[:start] == b[:start]
    at, found = start, []
    for level in range(levels):
        n = max(1, (side >> level) // 4)
        hit = [[i % n, i // n] for i in range(n * n) if a[at + i * block:at + (i + 1) * block] != b[at + i * block:at + (i + 1) * block]]
        found.append({'of': n * n, 'blocks': hit})
        at += n * n * block
    out['levels'] = found
    out['rest'] = a[at:] == b[at:]
else:
    ia, ib = Image.open(sys.argv[1]), Image.open(sys.argv[2])
    out['mode'] = ia.mode == ib.mode and ia.format == ib.format
    pa, pb = ia.convert('RGBA').load(), ib.convert('RGBA').load()
    hit = [[x, y] for y in range(ia.height) for x in range(ia.width) if pa[x, y] != pb[x, y]]
    out['texels'] = hit
print(json.dumps(out))
`;
interface Count {
  same: boolean;
  head?: boolean;
  rest?: boolean;
  mode?: boolean;
  levels?: { of: number; blocks: [number, number][] }[];
  texels?: [number, number][];
}
const count = (a: string, b: string) => JSON.parse(python(COUNT, a, b)) as Count;

/** A box of paint from 40, 24 to 60, 34. */
const [LEFT, TOP, RIGHT, BOTTOM] = [40, 24, 60, 34];
const dab = (sheet: string) => ({
  do: 'add-layer',
  sheet,
  map: 'colour',
  index: 9,
  layer: {
    ...{ kind: 'shape', id: `dab-${sheet}`, name: 'Dab', phase: 'Marks', hidden: false, locked: false, opacity: 100 },
    ...{ blend: 'normal', parts: [], paint: { hex: '#2fd463' }, x: 0, y: 0, line: null },
    paths: [
      {
        how: 'add',
        closed: true,
        knots: [
          [LEFT, TOP],
          [RIGHT, TOP],
          [RIGHT, BOTTOM],
          [LEFT, BOTTOM],
        ].map(([x, y]) => ({ x, y, smooth: false })),
      },
    ],
  },
});
const inDab = ([x, y]: [number, number], beside = 0) =>
  x >= LEFT - beside && x < RIGHT + beside && y >= TOP - beside && y < BOTTOM + beside;

let brought: { files: { file: string; sheet: string | null; role: string; reason: string }[]; sheets: string[] };

beforeAll(async () => {
  folder = mkdtempSync(path.join(os.tmpdir(), 'wl-exact-'));
  makeForeignSkin(folder);
  const companions = ['skin/conf/skin.ini', 'skin/conf/model.bin'];
  writeFileSync(at('settle.json'), JSON.stringify({ name: 'Gannet', game: 'Wharf Racers', companions }));
  brought = await lacquer('bring', at('skin'), at('skin.template.zip'), '--settle', at('settle.json'));
  await lacquer('start', at('skin.template.zip'), at('new.livery'), '--name', 'Heron Line');
});
afterAll(() => rmSync(folder, { recursive: true }));

describe('a folder of sixteen files', () => {
  test('is told file by file: sheets, copies in another light, companions', () => {
    const role = new Map(brought.files.map(({ file, role: is, sheet }) => [file.slice(5), `${sheet ?? '-'} ${is}`]));
    expect(brought.sheets.length).toBe(11);
    expect(role.get('cloth/coat.png')).toBe('coat colour');
    for (const light of ['wet', 'dusk', 'soiled'])
      expect(role.get(`cloth/light/coat_${light}.png`)).toBe('coat follower');
    expect(role.get('conf/skin.ini')).toBe('- companion');
    expect(brought.files.every(({ reason }) => reason.length > 0)).toBe(true);
  });

  test('comes out byte for byte in its own tree when nobody painted', async () => {
    await lacquer('deliver', at('new.livery'), '--out', at('plain'));
    const out = at('plain/heron-line');
    expect(filesBelow(out)).toEqual(filesBelow(at('skin')));
    for (const name of filesBelow(out))
      expect([name, hashOfFile(path.join(out, name))]).toEqual([name, hashOfFile(at(`skin/${name}`))]);
  });

  test('with one dab on each sheet, changes under it and nowhere else', async () => {
    const edits = brought.sheets.map(dab);
    writeFileSync(at('dabs.json'), JSON.stringify(edits));
    await lacquer('edit', at('new.livery'), at('dabs.json'), at('dabs.livery'));
    await lacquer('deliver', at('dabs.livery'), '--out', at('dabbed'));
    const out = at('dabbed/heron-line');
    expect(filesBelow(out)).toEqual(filesBelow(at('skin')));
    for (const name of filesBelow(out)) {
      if (name.startsWith('conf/')) {
        expect([name, hashOfFile(path.join(out, name))]).toEqual([name, hashOfFile(at(`skin/${name}`))]);
        continue;
      }
      const found = count(at(`skin/${name}`), path.join(out, name));
      expect([name, found.same]).toEqual([name, false]);
      if (found.levels) {
        expect([name, found.head, found.rest]).toEqual([name, true, true]);
        found.levels.forEach(({ blocks, of }, level) => {
          // Kaiser's window is three texels of the smaller level wide, and each level is made from the one above.
          const reach = level === 0 ? 0 : 8 * 2 ** level;
          const side = 4 * 2 ** level;
          const box = (v: number, low: number, high: number) => v * side < high + reach && (v + 1) * side > low - reach;
          expect(blocks.length).toBeGreaterThan(0);
          for (const [x, y] of blocks)
            expect([name, level, box(x, LEFT, RIGHT) && box(y, TOP, BOTTOM)]).toEqual([name, level, true]);
          if (level === 0) expect([name, blocks.length, of]).toEqual([name, 5 * 3, 1024]);
        });
        continue;
      }
      expect([name, found.mode]).toEqual([name, true]);
      // JPEG changes whole blocks, and decoders mix colour one texel further.
      const beside = name.endsWith('.jpg') ? 17 : 0;
      expect(found.texels!.length).toBeGreaterThan(100);
      expect([name, found.texels!.filter((texel) => !inDab(texel, beside))]).toEqual([name, []]);
    }
  });

  test('copies in another light take the dab as that light makes it', () => {
    const script = `
import sys
from PIL import Image
im = Image.open(sys.argv[1]).convert('RGB')
print(*im.getpixel((50, 29)))`;
    const seen = (name: string) =>
      python(script, at(`dabbed/heron-line/cloth/light/coat_${name}.png`))
        .trim()
        .split(' ')
        .map(Number);
    const paint = [0x2f, 0xd4, 0x63];
    const curves: Record<string, (v: number, c: number) => number> = {
      wet: (v) => v * 0.55,
      dusk: (v, c) => v * [0.7, 0.6, 0.8][c],
      soiled: (v) => 20 + v * 0.7,
    };
    for (const [name, curve] of Object.entries(curves))
      seen(name).forEach((v, c) => expect(Math.abs(v - curve(paint[c], c))).toBeLessThan(4));
  });

  test('deliveries, each painted over the last, leave the rest at its first bytes', async () => {
    let last = at('skin/body/deep/bc7.dds');
    const touched = new Set<number>();
    for (let turn = 0; turn < 5; turn++) {
      const dir = at(`turn`);
      rmSync(dir, { recursive: true, force: true });
      mkdirSync(dir);
      writeFileSync(path.join(dir, 'bc7.dds'), readFileSync(last));
      const [x, y] = [(turn * 37) % 100, (turn * 53) % 100];
      const edit = dab('bc7');
      edit.layer.paths[0].knots.forEach((knot, i) => {
        knot.x = x + [0, 6, 6, 0][i];
        knot.y = y + [0, 0, 6, 6][i];
      });
      for (let by = y >> 2; by <= (y + 5) >> 2; by++)
        for (let bx = x >> 2; bx <= (x + 5) >> 2; bx++) touched.add(by * 32 + bx);
      writeFileSync(path.join(dir, 'edit.json'), JSON.stringify(edit));
      await lacquer('bring', path.join(dir, 'bc7.dds'), path.join(dir, 's.template.zip'));
      await lacquer('start', path.join(dir, 's.template.zip'), path.join(dir, 'a.livery'));
      await lacquer('edit', path.join(dir, 'a.livery'), path.join(dir, 'edit.json'), path.join(dir, 'b.livery'));
      await lacquer('deliver', path.join(dir, 'b.livery'), '--out', path.join(dir, 'out'));
      last = at('last.dds');
      writeFileSync(last, readFileSync(path.join(dir, 'out/livery/bc7.dds')));
    }
    const { levels } = count(at('skin/body/deep/bc7.dds'), last);
    const changed = new Set(levels![0].blocks.map(([x, y]) => y * 32 + x));
    expect([...changed].filter((block) => !touched.has(block))).toEqual([]);
    expect(changed.size).toBeGreaterThan(8);
  });

  test('what is wrong is one line on stderr, and nothing is written', async () => {
    const { main } = (await import(/* @vite-ignore */ path.join(root, 'packages/cli/dist/lacquer.js'))) as {
      main: typeof Main;
    };
    writeFileSync(at('bad.json'), JSON.stringify([{ do: 'remove-layer', layer: 'nobody' }]));
    writeFileSync(at('worse.json'), '{"do":"paint-it-black"}');
    for (const [args, says] of [
      [['bring', at('nowhere'), at('x.template.zip')], /is not there/],
      [['bring', at('skin/conf'), at('x.template.zip')], /None of these files/],
      [['start', at('skin/hull/raw.tga'), at('x.livery')], /not a template package/],
      [['edit', at('new.livery'), at('bad.json'), at('x.livery')], /edit 1 \(remove-layer\): .*no longer there/],
      [['edit', at('new.livery'), at('worse.json'), at('x.livery')], /worse\.json/],
    ] as const) {
      const { status, stderr } = await main([...args]);
      expect([status, stderr.split('\n').length]).toEqual([1, 1]);
      expect(stderr).toMatch(says);
    }
    expect(existsSync(at('x.template.zip')) || existsSync(at('x.livery'))).toBe(false);
  });
});

test('every example of docs/edits.md can be run', async () => {
  const text = readFileSync(path.join(root, 'docs/edits.md'), 'utf8');
  const examples = [...text.matchAll(/```json\n([\s\S]*?)```/g)].map(([, json]) => JSON.parse(json) as { do: string });
  const coverage = new Uint16Array(TILE * TILE);
  for (let y = 4; y < 12; y++) coverage.fill(65535, y * TILE + 4, y * TILE + 20);
  writeFileSync(at('dab.stroke'), packTiles(new Map([[0, coverage]]), 1)!.bytes);
  writeFileSync(at('photo.pixels'), packPixels(newImage(8, 8)));
  writeFileSync(
    at('mark.svg'),
    '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 8 8"><rect width="8" height="8" fill="#e2593f"/></svg>',
  );
  mkdirSync(at('plain-hull'));
  writeFileSync(at('plain-hull/hull.png'), readFileSync(at('skin/hull/tin.png')));
  await lacquer('bring', at('plain-hull/hull.png'), at('hull.template.zip'));
  await lacquer('start', at('hull.template.zip'), at('hull.livery'));
  // Each by itself is what the schema says, and all of them together can be applied in order.
  for (const example of examples) {
    const filled = JSON.parse(JSON.stringify(example).replace(/"file:[^"]*"/g, `"${'0'.repeat(64)}"`)) as unknown;
    expect([example.do, Edit.safeParse(filled).error?.message]).toEqual([example.do, undefined]);
  }
  const all = new Set(examples.map((example) => example.do));
  const kinds = [...Object.keys(EDITS), 'together'].filter((kind) => kind !== 'become');
  expect(kinds.filter((kind) => !all.has(kind))).toEqual([]);
  // Another template is not at hand here, and this one has no sheet of plates.
  const apply = examples.filter(({ do: kind }) => kind !== 'take-template' && !kind.endsWith('-plate'));
  writeFileSync(at('all.json'), JSON.stringify(apply));
  const made = await lacquer<{ edits: number }>('edit', at('hull.livery'), at('all.json'), at('edited.livery'));
  expect(made.edits).toBe(apply.length);
});
