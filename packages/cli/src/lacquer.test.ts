import { execFileSync, spawn, spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { mkdirSync, mkdtempSync, readdirSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { compareImages } from '@wet-lacquer/core/texture/compare.ts';
import { psnrWhere, readWithPillow } from '@wet-lacquer/core/testing/independent.ts';
import { demoBundle, insideOf } from '@wet-lacquer/core/testing/scenes.ts';
import { unzipSync, zipSync } from 'fflate';
import sharp from 'sharp';
import type { Image8 } from '@wet-lacquer/core/raster/image.ts';
import { pixels, writePsd } from '@wet-lacquer/core/testing/layeredFiles.ts';
import type { main as Main, Outcome } from './lacquer.ts';
import { colourSheet, normalSheet } from '@wet-lacquer/core/testing/textures.ts';

const root = path.resolve(import.meta.dirname, '../../..');
const bundle = path.join(root, 'demo/out/tern-tide.livery');
let folder: string;
const at = (name: string) => path.join(folder, name);

/** Runs the built command line here: a process for each would take most of the time. */
async function lacquer(...args: string[]): Promise<Outcome> {
  const { main } = (await import(/* @vite-ignore */ path.join(root, 'packages/cli/dist/lacquer.js'))) as {
    main: typeof Main;
  };
  return main(args);
}
/** The same as a user runs it. */
const lacquerProcess = (...args: string[]) =>
  spawnSync('node', [path.join(root, 'bin/lacquer'), ...args], { encoding: 'utf8' });
const json = async <T>(...args: string[]): Promise<T> => {
  const { status, stdout, stderr } = await lacquer(...args, '--json');
  expect(stderr).toBe('');
  expect(status).toBe(0);
  return JSON.parse(stdout) as T;
};

beforeAll(() => {
  folder = mkdtempSync(path.join(os.tmpdir(), 'wl-cli-'));
});
afterAll(() => rmSync(folder, { recursive: true }));

describe('usage', () => {
  test('without a verb it shows them all, and exits with 2', () => {
    const { status, stderr } = lacquerProcess();
    expect(status).toBe(2);
    for (const verb of ['inspect', 'encode', 'decode', 'compare', 'flatten', 'uv', 'check', 'deliver', 'bay'])
      expect(stderr).toContain(`lacquer ${verb}`);
    expect(lacquerProcess('help').status).toBe(0);
  });

  test.each([
    [['encode', 'a.png'], 2, /usage: lacquer encode/],
    [['encode', 'a.png', 'b.xyz'], 2, /dds, tga, png or jpg/],
    [['encode', 'a.png', 'b.dds', '--format', 'bc9'], 2, /bc1, bc1a, bc2, bc3/],
    [['decode', 'a.dds', 'b.png', '--mip', '-1'], 2, /mip/],
    [['inspect', 'none.dds'], 1, /cannot be read \(ENOENT\)/],
    [['deliver', 'none.livery'], 2, /--out DIR/],
    [['bay', 'brackwater-run', '/none/here'], 1, /no folder/],
    [['bay', 'other', '/tmp'], 1, /no game "other"/],
    [['check', 'none.livery'], 1, /neither a bundle file nor the id/],
  ])('%j ends with %i and one clear line', async (args, status, sentence) => {
    const result = await lacquer(...args);
    expect(result.status).toBe(status);
    expect(result.stderr).toMatch(sentence);
    expect(result.stderr.trim().split('\n')).toHaveLength(1);
    expect(result.stdout).toBe('');
  });
});

describe('textures', () => {
  beforeAll(() => {
    // A gradient with bars, by ImageMagick.
    execFileSync('convert', [
      '-size',
      '96x64',
      'gradient:#3366aa-#eeddcc',
      '-fill',
      '#cc2211',
      '-draw',
      'rectangle 10,0 20,63',
      at('in.png'),
    ]);
  });

  test('encode, inspect, decode and compare agree with one another and with Pillow', async () => {
    const made = await json<{ mips: number; format: string; bytes: number; seconds: object }>(
      'encode',
      at('in.png'),
      at('out.dds'),
      '--format',
      'bc7',
      '--threads',
      '2',
    );
    expect(made).toMatchObject({
      width: 96,
      height: 64,
      format: 'bc7',
      header: 'dx10',
      colourSpace: 'srgb',
      mips: 7,
      threads: 2,
    });
    expect(Object.keys(made.seconds)).toEqual(['read', 'filter', 'encode', 'write']);
    expect(await json('inspect', at('out.dds'))).toMatchObject({
      kind: 'dds',
      width: 96,
      height: 64,
      format: 'bc7',
      header: 'dx10',
      colourSpace: 'srgb',
      mips: 7,
      mipsExpected: 7,
      alpha: 'none',
    });
    await json('decode', at('out.dds'), at('back.png'));
    const apart = await json<{ psnrRgb: number }>('compare', at('in.png'), at('back.png'));
    expect(apart.psnrRgb).toBeGreaterThan(38);
    const pillow = readWithPillow(readFileSync(at('out.dds')), 'dds');
    expect(compareImages(pillow, readWithPillow(readFileSync(at('back.png')), 'png')).largest).toBe(0);
    await json('decode', at('out.dds'), at('small.png'), '--mip', '3');
    expect(await json('inspect', at('small.png'))).toMatchObject({ width: 12, height: 8 });
  });

  test('the bytes do not depend on the number of threads', async () => {
    const hash = async (threads: string) => {
      await json('encode', at('in.png'), at(`t${threads}.dds`), '--threads', threads);
      return createHash('sha256')
        .update(readFileSync(at(`t${threads}.dds`)))
        .digest('hex');
    };
    expect(await hash('1')).toBe(await hash('3'));
  });

  test('what an encoding costs is said in dB, as an independent decoder finds it; levels can be files of their own', async () => {
    const made = await json<{ psnr: number; files: string[] }>(
      'encode',
      at('in.png'),
      at('p.dds'),
      '--format',
      'bc1',
      '--quality',
      'best',
    );
    const pillow = readWithPillow(readFileSync(at('p.dds')), 'dds');
    const painted = readWithPillow(readFileSync(at('in.png')), 'png');
    expect(made.psnr).toBeCloseTo(compareImages(painted, pillow).psnrRgb, 2);
    const apart = await json<{ files: string[] }>(
      'encode',
      at('in.png'),
      at('s.dds'),
      '--format',
      'bgr8',
      '--separate',
      '--mips',
      '3',
    );
    expect(apart.files.map((file) => path.basename(file))).toEqual(['s_mip0.dds', 's_mip1.dds', 's_mip2.dds']);
    expect(await json('inspect', at('s_mip2.dds'))).toMatchObject({ width: 24, height: 16, mips: 1, format: 'bgr8' });
  });

  test('data: BC5 of a normal map is linear and says so; --coverage wants a share; sRGB of data is refused', async () => {
    await json('encode', at('in.png'), at('n.dds'), '--format', 'bc5', '--header', 'dx10', '--colour-space', 'normal');
    expect(await json('inspect', at('n.dds'))).toMatchObject({ format: 'bc5', colourSpace: 'linear', mips: 7 });
    expect((await lacquer('encode', at('in.png'), at('n2.dds'), '--coverage', '7')).stderr).toContain(
      'above 0 and up to 1',
    );
    const srgb = await lacquer(
      'encode',
      at('in.png'),
      at('n2.dds'),
      '--format',
      'bc4',
      '--header',
      'dx10',
      '--colour-space',
      'srgb',
    );
    expect(srgb.status).toBe(1);
    expect(srgb.stderr).toContain('it holds data');
  });

  test.each([
    ['bc1', 'DXT1'],
    ['bc2', 'DXT3'],
    ['bc3', 'DXT5'],
  ])('%s comes with the legacy header unless asked otherwise', async (format, code) => {
    await json('encode', at('in.png'), at('legacy.dds'), '--format', format, '--mips', 'none', '--flip');
    expect(readFileSync(at('legacy.dds')).subarray(84, 88).toString()).toBe(code);
    await json('decode', at('legacy.dds'), at('legacy.png'), '--flip');
    expect((await json<{ psnrRgb: number }>('compare', at('in.png'), at('legacy.png'))).psnrRgb).toBeGreaterThan(33);
  });

  test('TGA, PNG and JPEG by the ending; equal pictures are said to be equal', async () => {
    for (const ending of ['tga', 'png', 'jpg']) await json('encode', at('in.png'), at(`x.${ending}`));
    expect(await json('compare', at('in.png'), at('x.tga'))).toMatchObject({ psnrRgb: null, largest: 0 });
    expect((await lacquer('compare', at('in.png'), at('x.png'))).stdout).toContain('RGB equal');
    expect((await json<{ deltaE: { mean: number } }>('compare', at('in.png'), at('x.jpg'))).deltaE.mean).toBeLessThan(
      2,
    );
    expect(await json('inspect', at('x.tga'))).toMatchObject({ kind: 'tga', bits: 32, topDown: true });
  });

  test('BC7 behind a legacy header is refused, and nothing is written', async () => {
    const { status, stderr } = await lacquer(
      'encode',
      at('in.png'),
      at('never.dds'),
      '--format',
      'bc7',
      '--header',
      'legacy',
    );
    expect(status).toBe(1);
    expect(stderr).toContain('needs the DX10 header');
    expect(readdirSync(folder).some((name) => name.includes('never'))).toBe(false);
  });

  test('a file that is cut off is refused in a sentence', async () => {
    await json('encode', at('in.png'), at('whole.dds'));
    writeFileSync(at('cut.dds'), readFileSync(at('whole.dds')).subarray(0, 2000));
    expect((await lacquer('inspect', at('cut.dds'))).stderr).toMatch(/cut off/);
  });

  test('models: facts, and the UV layout at the sheet’s own size', async () => {
    expect(await json('inspect', path.join(root, 'demo/out/turnstone.glb'))).toMatchObject({
      kind: 'glb',
      materials: expect.arrayContaining(['hull', 'deck', 'fan']),
    });
    await json('uv', path.join(root, 'demo/out/turnstone.obj'), at('uv.png'), '--size', '512', '--sheet', 'hull');
    expect(await json('inspect', at('uv.png'))).toMatchObject({ width: 512, height: 512, alpha: 'soft' });
    expect(
      (await lacquer('uv', path.join(root, 'demo/out/turnstone.glb'), at('uv.png'), '--sheet', 'wing')).stderr,
    ).toMatch(/No material.*"wing"/);
  });
});

describe('a livery from its bundle', () => {
  test('check, deliver and the stand-in game', { timeout: 240_000 }, async () => {
    expect((await lacquer('check', bundle)).status).toBe(0);
    const one = await json<{ folder: string; files: { name: string; sha256: string }[] }>(
      'deliver',
      bundle,
      '--out',
      at('game'),
      '--zip',
      at('a.zip'),
      '--threads',
      '2',
    );
    expect(one.folder).toBe('wharf/turnstone/tern-tide/');
    expect(one.files.map((file) => file.name)).toEqual([
      ...['hull', 'deck', 'fan'].flatMap((sheet) => [`tern-tide_${sheet}.dds`, `tern-tide_${sheet}_coatmap.dds`]),
      'finish.toml',
    ]);
    const report = await lacquer('bay', 'brackwater-run', at('game'));
    expect(report.status).toBe(0);
    expect(report.stdout.match(/shown/g)).toHaveLength(6);
    // The same livery again, on another number of threads: the same bytes, the zip too.
    await json('deliver', bundle, '--out', at('game2'), '--zip', at('b.zip'), '--threads', '1');
    for (const { name, sha256 } of one.files)
      expect(
        createHash('sha256')
          .update(readFileSync(at(`game2/${one.folder}${name}`)))
          .digest('hex'),
      ).toBe(sha256);
    expect(Buffer.compare(readFileSync(at('a.zip')), readFileSync(at('b.zip')))).toBe(0);
    // Another reader opens the zip and finds every checksum right.
    execFileSync('/usr/bin/python3', ['-m', 'zipfile', '-t', at('a.zip')]);

    renameSync(at(`game/${one.folder}tern-tide_fan.dds`), at(`game/${one.folder}tern-tide_Fan.dds`));
    const wrong = await lacquer('bay', 'brackwater-run', at('game'));
    expect(wrong.status).toBe(1);
    expect(wrong.stdout).toMatch(/fan\s+missing: .*character 11 is "F" and should be "f"/);
  });

  test('the delivered hull, decoded by Pillow, is the flattened sheet at 38 dB or better on its islands', async () => {
    await json('flatten', bundle, at('hull.png'), '--sheet', 'hull');
    const painted = readWithPillow(readFileSync(at('hull.png')), 'png');
    const delivered = readWithPillow(readFileSync(at('game2/wharf/turnstone/tern-tide/tern-tide_hull.dds')), 'dds');
    // Beside the islands edge padding stands in place of what was painted there.
    const { template } = await demoBundle('tern-tide');
    expect(psnrWhere(painted, delivered, insideOf(template, 'hull'))).toBeGreaterThan(38);
  });

  test('what preflight stops is not delivered: exit code 1 and nothing written', async () => {
    const entries = unzipSync(readFileSync(bundle));
    const livery = JSON.parse(Buffer.from(entries['livery.json']).toString()) as {
      particulars: Record<string, string>;
    };
    livery.particulars.key = 'Tern Tide';
    writeFileSync(at('bad.livery'), zipSync({ ...entries, 'livery.json': Buffer.from(JSON.stringify(livery)) }));
    const checked = await lacquer('check', at('bad.livery'));
    expect(checked.status).toBe(1);
    expect(checked.stdout).toMatch(/stop .*capital letter/);
    const { status, stderr } = await lacquer('deliver', at('bad.livery'), '--out', at('nowhere'));
    expect(status).toBe(1);
    expect(stderr).toMatch(/Preflight stops this delivery/);
    expect(readdirSync(folder)).not.toContain('nowhere');
  });

  test('with --watch each saved change is delivered, what preflight stops is said, and SIGINT ends it well', async () => {
    const entries = unzipSync(readFileSync(bundle));
    const saveWith = (values: Record<string, string>) => {
      const livery = JSON.parse(Buffer.from(entries['livery.json']).toString()) as { particulars: object };
      Object.assign(livery.particulars, values);
      writeFileSync(at('saving'), zipSync({ ...entries, 'livery.json': Buffer.from(JSON.stringify(livery)) }));
      renameSync(at('saving'), at('watched.livery'));
    };
    saveWith({ number: '7' });
    const args = ['deliver', at('watched.livery'), '--out', at('watched'), '--watch'];
    const child = spawn('node', [path.join(root, 'bin/lacquer'), ...args]);
    let said = '';
    child.stderr.on('data', (chunk: Buffer) => (said += String(chunk)));
    const ended = new Promise<number | null>((resolve) => child.on('exit', resolve));
    const hears = (what: RegExp) => expect.poll(() => said, { timeout: 60_000, interval: 100 }).toMatch(what);
    const fileOf = (name: string) => readFileSync(at(`watched/wharf/turnstone/tern-tide/${name}`));
    await hears(/finish\.toml .*bytes/);
    const before = ['tern-tide_hull.dds', 'tern-tide_fan.dds'].map(fileOf);
    said = '';
    saveWith({ key: 'Tern Tide' });
    await hears(/Preflight stops this delivery: .*capital letter/);
    said = '';
    // The number is lettered on the hull; the fan has none.
    saveWith({ number: '28' });
    await hears(/finish\.toml .*bytes/);
    child.kill('SIGINT');
    expect(await ended).toBe(0);
    const after = ['tern-tide_hull.dds', 'tern-tide_fan.dds'].map(fileOf);
    expect(after.map((bytes, i) => bytes.equals(before[i]))).toEqual([false, true]);
    expect(String(fileOf('finish.toml'))).toMatch(/number = "28"/);
  });

  test('inspect lists what is in it', async () => {
    const facts = await json<{ layers: { name: string }[] }>('inspect', bundle);
    expect(facts.layers.length).toBe(45);
    expect(facts).toMatchObject({ kind: 'livery', template: 'Turnstone skimmer' });
  });
});

describe('layered files and folders', () => {
  const SIDE = 64;
  const soft = (seed: number) =>
    pixels(SIDE, SIDE, (x, y) => [(x * seed) & 255, (y * 3 * seed) & 255, 120, 60 + ((x + y * seed) % 190)]);
  const solid = pixels(SIDE, SIDE, (x, y) => [x * 4, y * 4, 90, 255]);

  test('flatten agrees with the picture that another program merged, to at least 40 dB', async () => {
    // ImageMagick composites the layers that it writes, and keeps its picture in the file.
    const raw = at('layer.raw');
    writeFileSync(raw, soft(5).data);
    const base = at('base.raw');
    writeFileSync(base, solid.data);
    const source = (file: string) => ['-size', `${SIDE}x${SIDE}`, '-depth', '8', `RGBA:${file}`];
    const stack = ['(', ...source(base), ')', '(', ...source(raw), ')'];
    execFileSync('convert', ['(', ...stack, '-flatten', ')', ...stack, at('merged.psd')]);
    const { psnr, width } = await json<{ psnr: number; width: number }>('flatten', at('merged.psd'), at('flat.png'));
    expect(width).toBe(SIDE);
    expect(psnr).toBeGreaterThanOrEqual(40);
    execFileSync('convert', [...stack, '-flatten', '-depth', '8', at('theirs.png')]);
    expect(
      (await json<{ psnr: number }>('compare', at('flat.png'), at('theirs.png'))).psnr ?? 99,
    ).toBeGreaterThanOrEqual(40);
  });

  test('inspect says what each layer is for, and what cannot be kept', async () => {
    writeFileSync(
      at('two.psd'),
      writePsd(
        [
          { name: 'paint', imageData: solid },
          { name: 'guide lines', imageData: pixels(SIDE, SIDE, (x) => (x % 9 ? [0, 0, 0, 0] : [0, 0, 0, 255])) },
          { name: 'lift', adjustment: { type: 'brightness/contrast', brightness: 20, contrast: 0 } },
        ],
        SIDE,
        SIDE,
      ),
    );
    const facts = await json<{ layers: { name: string; role: string }[]; losses: { layer: string }[] }>(
      'inspect',
      at('two.psd'),
    );
    expect(facts.layers.map(({ name, role }) => [name, role])).toEqual([
      ['paint', 'art'],
      ['guide lines', 'guide'],
      ['lift', 'art'],
    ]);
    expect(facts.losses.map(({ layer }) => layer)).toEqual(['lift']);
  });

  test('inspect of a folder, and of the same folder as an archive, says what each file is', async () => {
    const pack = path.join(folder, 'pack');
    mkdirSync(path.join(pack, 'tex'), { recursive: true });
    const save = async (name: string, { width, height, data }: Image8) =>
      writeFileSync(
        path.join(pack, name),
        await sharp(data, { raw: { width, height, channels: 4 } })
          .png()
          .toBuffer(),
      );
    await save('tex/hull.png', colourSheet(1));
    await save('tex/hull_n.png', normalSheet(2));
    writeFileSync(path.join(pack, 'broken.dds'), 'DDS ');
    writeFileSync(path.join(pack, 'notes.txt'), 'x');
    interface Folder {
      kind: string;
      files: { name: string; kind: string; role: string | null; reason: string }[];
    }
    const facts = await json<Folder>('inspect', pack);
    expect(facts.files.map(({ name, kind, role }) => [name, kind, role])).toEqual([
      ['broken.dds', 'unreadable', null],
      ['notes.txt', 'other', null],
      ['tex/hull.png', 'picture', 'colour'],
      ['tex/hull_n.png', 'picture', 'normal'],
    ]);
    expect(facts.files[0].reason).toMatch(/ends inside its header/);
    const entries = Object.fromEntries(
      facts.files.map(({ name }) => [name, new Uint8Array(readFileSync(path.join(pack, name)))]),
    );
    writeFileSync(at('pack.over'), zipSync(entries));
    expect((await json<Folder>('inspect', at('pack.over'))).files).toEqual(facts.files);
  });

  test('a damaged layered file ends with 1 and one line, and nothing is written', async () => {
    writeFileSync(at('cut.psd'), readFileSync(at('two.psd')).subarray(0, 2000));
    const result = await lacquer('flatten', at('cut.psd'), at('never.png'));
    expect([result.status, result.stderr.trim()]).toEqual([1, 'This PSD file is damaged or cut off.']);
    expect(readdirSync(folder)).not.toContain('never.png');
  });
});
