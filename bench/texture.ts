/**
 * Block encoders against general-purpose ones, on the same pictures in the same run, ours and the reference's in turn; then whole jobs,
 * decoding, growth with size, and the browser. `npm run bench -- texture`; with `write` after it, docs/texture.md and its chart as well.
 */
import { execFileSync, spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { build } from 'esbuild';
import { chromium } from 'playwright-core';
import sharp from 'sharp';
import { DifferenceMeter } from '../packages/core/src/colour/differenceMeter.ts';
import { EncodedLevel } from '../packages/core/src/delivery/proof/encodedLevel.ts';
import { newImage, type Image8 } from '../packages/core/src/raster/image.ts';
import { writeDds } from '../packages/core/src/texture/dds.ts';
import type { Effort } from '../packages/core/src/texture/encoding.ts';
import { decodeImage, encodeImage } from '../packages/core/src/texture/encode.ts';
import { type FormatKey } from '../packages/core/src/texture/formats/index.ts';
import { mipChain } from '../packages/core/src/texture/mips.ts';
import config from '../playwright.config.ts';
import { CLASS_HEAD, classTable, qualityOf, type ClassResult } from './texture/classes.ts';
import { benchPictures, classPictures, SIDE } from './texture/pictures.ts';
import { chart, table, type Result } from './texture/report.ts';

const root = path.resolve(import.meta.dirname, '..');
const work = path.join(root, '.data/bench-texture');
const MEGAPIXELS = (SIDE * SIDE) / 1e6;
mkdirSync(work, { recursive: true });
const at = (name: string) => path.join(work, name);
const say = (text: string) => {
  console.log(text);
  page.push(text);
};
const page: string[] = [];

// The reference comes from the npm registry when first needed; it is no part of the product.
const ENCODER = at('node_modules/@gpu-tex-enc/bc/bin/linux/bc7enc');
if (!existsSync(ENCODER)) {
  execFileSync(
    'npm',
    ['install', '--prefix', work, '--no-audit', '--no-fund', '--ignore-scripts', '@gpu-tex-enc/bc@1.0.11'],
    { stdio: 'ignore' },
  );
  execFileSync('chmod', ['+x', ENCODER]);
}
const squish = at('squish');
const hasSquish =
  spawnSync('g++', ['-O2', path.join(root, 'bench/texture/squish.cpp'), '-lsquish', '-o', squish]).status === 0;

const pictures = await benchPictures();
for (const { name, image } of pictures) {
  await sharp(image.data, { raw: { width: SIDE, height: SIDE, channels: 4 } })
    .png()
    .toFile(at(`${name}.png`));
  writeFileSync(at(`${name}.rgba`), image.data);
}

/** Squared errors by channel and opaque texels gone wrong, of files as Pillow decodes them: neither encoder judges itself. */
function judge(files: { dds: string; name: string }[]): { squares: number[]; notOpaque: number }[] {
  const script = `
import json, sys
from PIL import Image, ImageChops, ImageStat
for line in json.load(sys.stdin):
    a = Image.open(line['dds']).convert('RGBA'); b = Image.frombytes('RGBA', a.size, open(line['raw'], 'rb').read())
    opaque = b.getchannel('A').point(lambda v: 255 if v == 255 else 0)
    wrong = ImageChops.multiply(a.getchannel('A').point(lambda v: 0 if v == 255 else 255), opaque)
    print(json.dumps({'squares': ImageStat.Stat(ImageChops.difference(a, b)).sum2, 'notOpaque': wrong.histogram()[255]}))`;
  const input = JSON.stringify(files.map(({ dds, name }) => ({ dds, raw: at(`${name}.rgba`) })));
  const out = execFileSync('/usr/bin/python3', ['-c', script], { input, maxBuffer: 1 << 24 }).toString();
  return out
    .trim()
    .split('\n')
    .map((line) => JSON.parse(line) as { squares: number[]; notOpaque: number });
}

const CHANNELS: Record<string, number> = { bc1: 3, bc4: 1, bc5: 2 };
function resultOf(
  who: string,
  format: FormatKey,
  step: string,
  seconds: number,
  files: { dds: string; name: string }[],
): Result {
  const judged = judge(files);
  const each: Record<string, number> = {};
  judged.forEach(({ squares }, i) => {
    const channels = CHANNELS[format] ?? (pictures[i].alpha ? 4 : 3);
    const sum = squares.slice(0, channels).reduce((a, b) => a + b, 0);
    each[pictures[i].name] = sum === 0 ? 60 : Math.min(60, 10 * Math.log10((65025 * SIDE * SIDE * channels) / sum));
  });
  const psnr = Object.values(each).reduce((a, b) => a + b, 0) / pictures.length;
  const carries = format === 'bc3' || format === 'bc7';
  const notOpaque = carries ? judged.reduce((n, { notOpaque: wrong }) => n + wrong, 0) : 0;
  return {
    who,
    format: format.toUpperCase(),
    step,
    psnr,
    mpix: (pictures.length * MEGAPIXELS) / seconds,
    each,
    notOpaque,
  };
}

const HEADER = (format: FormatKey) => (format === 'bc7' ? 'dx10' : 'legacy');
function ours(
  format: FormatKey,
  effort: Effort,
  { name, image }: { name: string; image: Image8 },
): { seconds: number; dds: string } {
  const began = process.cpuUsage();
  const bytes = encodeImage(image, format, { effort });
  const used = process.cpuUsage(began);
  const dds = at(`ours-${name}-${format}-${effort}.dds`);
  writeFileSync(
    dds,
    writeDds({ width: SIDE, height: SIDE, format, header: HEADER(format), colourSpace: 'linear' }, [bytes]),
  );
  return { seconds: (used.user + used.system) / 1e6, dds };
}
function theirs(args: string[], name: string): { seconds: number; dds: string } {
  const dds = at(`ref-${name}${args.join('')}.dds`);
  const out = execFileSync(ENCODER, [...args, '-o', at(`${name}.png`), dds], {
    env: { ...process.env, OMP_NUM_THREADS: '1' },
  }).toString();
  return { seconds: Number(/Total encoding time: ([\d.]+)/.exec(out)![1]), dds };
}

const STEPS: readonly [FormatKey, Effort, string[]][] = [
  ['bc7', 'fast', ['-u0']],
  ['bc7', 'normal', ['-u1']],
  ['bc7', 'best', ['-u4']],
  ['bc1', 'fast', ['-1', '-b', '-L0']],
  ['bc1', 'normal', ['-1', '-b', '-L5']],
  ['bc1', 'best', ['-1', '-b', '-L18']],
  ['bc3', 'fast', ['-3', '-b', '-L0']],
  ['bc3', 'normal', ['-3', '-b', '-L5']],
  ['bc3', 'best', ['-3', '-b', '-L18']],
  ['bc4', 'normal', ['-4']],
  ['bc5', 'normal', ['-5']],
];
const machine = `${os.cpus()[0].model}, ${os.availableParallelism()} processors, ${Math.round(os.totalmem() / 2 ** 30)} GiB, Node ${process.version}`;
say(
  `Machine: ${machine}. Pictures: ${pictures.length} of ${SIDE} x ${SIDE} (${pictures.map((p) => p.name).join(', ')}).`,
);
say(`\n## Quality and speed on one thread\n`);
const pairs: { ours: Result; reference: Result }[] = [];
const others: Result[] = [];
for (const [format, effort, args] of STEPS) {
  const seconds = [0, 0];
  const files: { dds: string; name: string }[][] = [[], []];
  // Warm: the engine compiles WebAssembly a second time, in the background, once it has seen it run.
  for (let n = 0; n < 3; n++)
    for (const picture of pictures.slice(0, effort === 'best' ? 1 : 5)) ours(format, effort, picture);
  for (const picture of pictures) {
    for (const [i, run] of [ours(format, effort, picture), theirs(args, picture.name)].entries()) {
      seconds[i] += run.seconds;
      files[i].push({ dds: run.dds, name: picture.name });
    }
  }
  const step = args
    .filter((a) => !['-1', '-3', '-b'].includes(a))
    .join(' ')
    .replace(/^-[45]$/, 'default');
  pairs.push({
    ours: resultOf('Wet Lacquer', format, effort, seconds[0], files[0]),
    reference: resultOf('bc', format, step, seconds[1], files[1]),
  });
  console.log(table(pairs.slice(-1)).split('\n')[2]);
}
page.push(table(pairs));

say('\n## BC7, what liveries are made of: differences to the reference\n');
const classes = await classPictures(pictures);
for (const { name, image } of classes)
  await sharp(image.data, { raw: { width: SIDE, height: SIDE, channels: 4 } })
    .png()
    .toFile(at(`${name}.png`));
CLASS_HEAD.forEach(say);
for (const [format, effort, args] of STEPS.filter(([key]) => key === 'bc7')) {
  const results = classes.map((picture): ClassResult => {
    const quality = ({ dds }: { dds: string }) => qualityOf(dds, picture, at('decoded.raw'));
    const { of, name } = picture;
    return { of, name, ours: quality(ours(format, effort, picture)), theirs: quality(theirs(args, name)) };
  });
  classTable(effort, results).forEach(say);
}
say(
  '\nWhere opaque, soft and clear texels of two colours share a block, the reference lets opaque ones become half clear; ours stay opaque, and pay for it ' +
    'in thin strokes over clear. On the blocks of that picture where the reference keeps them opaque, ours have the smaller error.\n',
);
if (hasSquish) {
  for (const kind of ['range', 'cluster']) {
    let seconds = 0;
    const files = pictures.map(({ name }) => {
      const blocks = at(`${name}-squish.blocks`);
      seconds += Number(execFileSync(squish, [at(`${name}.rgba`), String(SIDE), blocks, kind, 'bc1']).toString());
      const dds = at(`squish-${name}-${kind}.dds`);
      writeFileSync(
        dds,
        writeDds({ width: SIDE, height: SIDE, format: 'bc1', header: 'legacy', colourSpace: 'linear' }, [
          new Uint8Array(readFileSync(blocks)),
        ]),
      );
      return { dds, name };
    });
    others.push(resultOf('libsquish', 'bc1', `squish ${kind}`, seconds, files));
  }
}
{
  let seconds = 0;
  const files = pictures.map(({ name }) => {
    const dds = at(`im-${name}.dds`);
    const began = performance.now();
    execFileSync('convert', [
      at(`${name}.png`),
      '-alpha',
      'off',
      '-define',
      'dds:compression=dxt1',
      '-define',
      'dds:mipmaps=0',
      '-limit',
      'thread',
      '1',
      dds,
    ]);
    seconds += (performance.now() - began) / 1000;
    return { dds, name };
  });
  others.push(resultOf('ImageMagick', 'bc1', 'ImageMagick', seconds, files));
}
say(
  `\nAlso BC1: ${others.map((r) => `${r.step} ${r.psnr.toFixed(2)} dB at ${r.mpix.toFixed(1)} Mpix/s`).join('; ')} (ImageMagick's time holds reading the PNG).`,
);

say('\n## Whole jobs, 4096 x 4096 with all mips, `lacquer encode`, two threads\n');
const big = newImage(4096, 4096);
const order = [0, 1, 4, 5, 2, 3, 6, 7, 8, 9, 10, 11, 12, 1, 4, 5];
order.forEach((p, i) => {
  const from = pictures[p % pictures.length].image;
  for (let y = 0; y < SIDE; y++) {
    const row = from.data.subarray(y * SIDE * 4, (y + 1) * SIDE * 4).map((v, c) => (c % 4 === 3 ? 255 : v));
    big.data.set(row, (((i >> 2) * SIDE + y) * 4096 + (i & 3) * SIDE) * 4);
  }
});
await sharp(big.data, { raw: { width: 4096, height: 4096, channels: 4 } })
  .png({ compressionLevel: 3 })
  .toFile(at('big.png'));
await sharp(big.data, { raw: { width: 4096, height: 4096, channels: 4 } })
  .extract({ left: 0, top: 0, width: 64, height: 64 })
  .png()
  .toFile(at('tiny.png'));
function lacquer(...args: string[]): {
  json: { psnr: number; seconds: Record<string, number> };
  wall: number;
  kib: number;
} {
  const began = performance.now();
  const run = spawnSync('/usr/bin/python3', [
    '-c',
    'import resource, subprocess, sys\nr = subprocess.run(sys.argv[1:]); print(resource.getrusage(resource.RUSAGE_CHILDREN).ru_maxrss, file=sys.stderr); sys.exit(r.returncode)',
    path.join(root, 'bin/lacquer'),
    'encode',
    ...args,
    '--threads',
    '2',
    '--json',
  ]);
  return {
    json: JSON.parse(run.stdout.toString()),
    wall: (performance.now() - began) / 1000,
    kib: Number(run.stderr.toString().trim().split('\n').at(-1)),
  };
}
const base = lacquer(at('tiny.png'), at('tiny.dds')).kib;
for (const args of [
  ['bc7', 'normal'],
  ['bc7', 'fast'],
  ['bc1', 'normal'],
  ['bc3', 'normal'],
]) {
  const { json, wall, kib } = lacquer(at('big.png'), at('big.dds'), '--format', args[0], '--quality', args[1]);
  const { read, filter, encode, write } = json.seconds;
  say(
    `- ${args.join(' ')}: filter and encode ${(filter + encode).toFixed(2)} s (filter ${filter.toFixed(2)}, encode ${encode.toFixed(2)}), read ${read.toFixed(2)}, write ${write.toFixed(2)}, ` +
      `whole process ${wall.toFixed(1)} s; ${json.psnr.toFixed(2)} dB; resident memory grows by ${((kib - base) / 65536).toFixed(2)} times the raw sheet`,
  );
}

say('\n## Decoding, growth with size, changes\n');
const encoded = encodeImage(big, 'bc7', { effort: 'fast' });
const timed = (run: () => void, times = 3) => {
  const all = Array.from({ length: times }, () => {
    const began = performance.now();
    run();
    return (performance.now() - began) / 1000;
  });
  return all.sort((a, b) => a - b)[Math.floor(times / 2)];
};
say(`- decoding BC7, 4096 x 4096, one thread: ${timed(() => decodeImage(encoded, 'bc7', 4096, 4096)).toFixed(3)} s`);
const tiled = (side: number) => {
  const image = newImage(side, side);
  for (let y = 0; y < side; y++)
    for (let x = 0; x < side; x += SIDE)
      image.data.set(
        pictures[0].image.data.subarray((y % SIDE) * SIDE * 4, ((y % SIDE) + 1) * SIDE * 4),
        (y * side + x) * 4,
      );
  return image;
};
const grown = [1024, 2048, 4096, 8192].map((side) => {
  const image = tiled(side);
  return [
    side,
    timed(
      () =>
        mipChain(image, { kind: 'srgb', filter: 'kaiser' }).forEach((level) =>
          encodeImage(level, 'bc1', { effort: 'normal' }),
        ),
      side > 4096 ? 1 : 3,
    ),
  ] as const;
});
const exponent = Math.log(grown[3][1] / grown[0][1]) / Math.log(64);
say(
  `- mips and BC1 of the same picture tiled, one thread: ${grown.map(([side, s]) => `${side}: ${s.toFixed(2)} s`).join(', ')}; time grows with texels to the power ${exponent.toFixed(3)}`,
);
const level = new EncodedLevel(big, 'bc7', { effort: 'fast' }, new DifferenceMeter());
for (const { cx, cy } of level.waiting(0, 0)) level.work(cx, cy);
const changed: Image8 = { ...big, data: big.data.slice() };
let turn = 0;
const change = timed(() => {
  turn++;
  for (let y = 1024; y < 1536; y++) for (let x = 1024; x < 1536; x++) changed.data[(y * 4096 + x) * 4] ^= turn;
  level.repaint(changed);
  for (let cy = 4; cy < 6; cy++) for (let cx = 4; cx < 6; cx++) level.work(cx, cy);
}, 5);
say(
  `- 512 x 512 texels of a 4096 sheet changed, encoded again at fast, decoded and measured in CIEDE2000: ${(change * 1000).toFixed(0)} ms`,
);

say('\n## In the browser: 4096 x 4096, all mips, BC7 normal, in one worker\n');
const worker = await build({
  stdin: {
    contents: `import { mipChain } from './packages/core/src/texture/mips.ts';
      import { encodeImage } from './packages/core/src/texture/encode.ts';
      self.onmessage = ({ data }) => {
        const began = performance.now();
        let bytes = 0;
        for (const level of mipChain(data, { kind: 'srgb', filter: 'kaiser' })) bytes += encodeImage(level, 'bc7', { effort: 'normal' }).length;
        self.postMessage({ seconds: (performance.now() - began) / 1000, bytes });
      };`,
    resolveDir: root,
    loader: 'ts',
  },
  bundle: true,
  write: false,
  format: 'iife',
});
const browser = await chromium.launch(config.projects![0].use!.launchOptions);
const tab = await browser.newPage();
await tab.setContent('<canvas id="c"></canvas>');
const png = readFileSync(at('big.png')).toString('base64');
const inBrowser = await tab.evaluate(
  async ([code, picture]) => {
    const made = new Worker(URL.createObjectURL(new Blob([code], { type: 'text/javascript' })));
    const bitmap = await createImageBitmap(await (await fetch(`data:image/png;base64,${picture}`)).blob());
    const ctx = new OffscreenCanvas(bitmap.width, bitmap.height).getContext('2d')!;
    ctx.drawImage(bitmap, 0, 0);
    const { data, width, height } = ctx.getImageData(0, 0, bitmap.width, bitmap.height);
    const image = { width, height, data: new Uint8Array(data.buffer) };
    // What reading the picture left behind is cleared first.
    await new Promise((resolve) => setTimeout(resolve, 1500));
    let longest = 0;
    let last = performance.now();
    const timer = setInterval(() => {
      const now = performance.now();
      longest = Math.max(longest, now - last - 4);
      last = now;
    }, 4);
    const answer = await new Promise<{ seconds: number; bytes: number }>((resolve) => {
      made.onmessage = (event) => resolve(event.data as { seconds: number; bytes: number });
      made.postMessage(image, [image.data.buffer]);
    });
    clearInterval(timer);
    return { ...answer, longest };
  },
  [worker.outputFiles[0].text, png] as const,
);
await browser.close();
say(`- ${inBrowser.seconds.toFixed(1)} s; the page answered after at most ${inBrowser.longest.toFixed(0)} ms`);

if (process.argv.includes('write')) {
  const all = [...pairs.flatMap((p) => [p.ours, p.reference]).filter((r) => ['BC7', 'BC1', 'BC3'].includes(r.format))];
  writeFileSync(path.join(root, 'docs/texture.svg'), chart([...all, ...others]));
  const intro = `# The texture engine, measured

Output of \`npm run bench -- texture write\`. Quality is PSNR computed from the written file as Pillow decodes it, over R, G and B (and alpha where the
picture has some), each picture capped at 60 dB before the mean. Time is CPU seconds on one thread, encoding only; ours and the reference's runs
alternate picture by picture. "bc" is the encoder of the npm package @gpu-tex-enc/bc 1.0.11 (a native binary; its own figure for encoding
time, wall clock on one thread). "Not opaque" counts texels with alpha 255 in the source that decode to something else.

![Quality against speed](texture.svg)
`;
  writeFileSync(path.join(root, 'docs/texture.md'), `${intro}\n${page.join('\n')}\n`);
}
