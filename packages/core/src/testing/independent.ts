/** Decoders that are not ours: Pillow, ImageMagick, OpenImageIO and ffmpeg from Debian's packages. */
import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync, readFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { newImage, type Image8 } from '../raster/image.ts';

function inFolder<T>(work: (folder: string) => T): T {
  const folder = mkdtempSync(path.join(os.tmpdir(), 'wl-test-'));
  try {
    return work(folder);
  } finally {
    rmSync(folder, { recursive: true });
  }
}

/** A picture file as Pillow reads it: straight RGBA8. @param ending of a file name, as "dds" */
export function readWithPillow(bytes: Uint8Array, ending: string): Image8 {
  return inFolder((folder) => {
    const file = path.join(folder, `in.${ending}`);
    writeFileSync(file, bytes);
    const script = `from PIL import Image; im = Image.open(${JSON.stringify(file)}); im.load(); im = im.convert('RGBA'); open(${JSON.stringify(file + '.raw')}, 'wb').write(im.tobytes()); print(im.width, im.height)`;
    const [width, height] = execFileSync('/usr/bin/python3', ['-c', script]).toString().trim().split(' ').map(Number);
    const image = newImage(width, height);
    image.data.set(readFileSync(`${file}.raw`));
    return image;
  });
}

/** A Python script with Pillow over a folder's files; `out.raw` in it holds RGBA8 afterwards. @returns that and its size */
function byPython(files: Readonly<Record<string, Uint8Array>>, script: string): Image8 {
  return inFolder((folder) => {
    for (const [name, bytes] of Object.entries(files)) writeFileSync(path.join(folder, name), bytes);
    const whole = `from PIL import Image, ImageOps\n${script}\nopen('out.raw', 'wb').write(im.tobytes()); print(im.width, im.height)`;
    const said = execFileSync('/usr/bin/python3', ['-c', whole], { cwd: folder });
    const [width, height] = said.toString().trim().split(' ').map(Number);
    const image = newImage(width, height);
    image.data.set(readFileSync(path.join(folder, 'out.raw')));
    return image;
  });
}

/** An image at another size through Pillow's box filter. */
export const boxedByPillow = ({ width, height, data }: Image8, toWidth: number, toHeight: number): Image8 =>
  byPython(
    { 'in.raw': data },
    `im = Image.frombytes('RGBA', (${width}, ${height}), open('in.raw', 'rb').read()).resize((${toWidth}, ${toHeight}), Image.BOX)`,
  );

/** A picture as Pillow reads it, turned as its EXIF says. */
export const uprightByPillow = (bytes: Uint8Array): Image8 =>
  byPython({ in: bytes }, `im = ImageOps.exif_transpose(Image.open('in')).convert('RGBA')`);

/** A picture file that Pillow writes of 8-bit RGBA pixels. @param script of Python: `im` is the picture, to be saved as "out" */
export const writtenByPillow = ({ width, height, data }: Image8, script: string): Uint8Array =>
  inFolder((folder) => {
    writeFileSync(path.join(folder, 'in.raw'), data);
    const whole = `from PIL import Image\nim = Image.frombytes('RGBA', (${width}, ${height}), open('in.raw', 'rb').read())\n${script}`;
    execFileSync('/usr/bin/python3', ['-c', whole], { cwd: folder });
    return new Uint8Array(readFileSync(path.join(folder, 'out')));
  });

/** A file that ImageMagick writes of 8-bit RGBA pixels. */
export const writtenByImageMagick = (
  { width, height, data }: Image8,
  operators: readonly string[],
  ending: string,
): Uint8Array =>
  inFolder((folder) => {
    const raw = path.join(folder, 'in.raw');
    writeFileSync(raw, data);
    const out = path.join(folder, `out.${ending.replace(/^.*:/, '')}`);
    const to = ending.includes(':') ? `${ending.replace(/:.*$/, '')}:${out}` : out;
    execFileSync('convert', ['-size', `${width}x${height}`, '-depth', '8', `RGBA:${raw}`, ...operators, to]);
    return new Uint8Array(readFileSync(out));
  });

/** A JPEG that libjpeg-turbo's own command writes of a picture's colour. @param options such as `-restart 1B` */
export const writtenByCjpeg = ({ width, height, data }: Image8, options: readonly string[]): Uint8Array =>
  inFolder((folder) => {
    const colours = data.filter((_, i) => i % 4 !== 3);
    const file = path.join(folder, 'in.ppm');
    writeFileSync(file, Buffer.concat([Buffer.from(`P6\n${width} ${height}\n255\n`), colours]));
    execFileSync('cjpeg', [...options, '-outfile', path.join(folder, 'out.jpg'), file]);
    return new Uint8Array(readFileSync(path.join(folder, 'out.jpg')));
  });

/** A picture file as ImageMagick reads it: straight RGBA8 of one size. */
export function readWithImageMagick(bytes: Uint8Array, ending: string, width: number, height: number): Image8 {
  return inFolder((folder) => {
    const file = path.join(folder, `in.${ending}`);
    writeFileSync(file, bytes);
    execFileSync('convert', [`${file}[0]`, '-depth', '8', `RGBA:${file}.raw`]);
    const image = newImage(width, height);
    image.data.set(readFileSync(`${file}.raw`));
    return image;
  });
}

/** Pixels through ImageMagick with some of its operators, as 8-bit RGBA of a new size. */
export function throughImageMagick(image: Image8, operators: readonly string[], width: number, height: number): Image8 {
  return inFolder((folder) => {
    const raw = path.join(folder, 'in.raw');
    writeFileSync(raw, image.data);
    execFileSync('convert', [
      '-size',
      `${image.width}x${image.height}`,
      '-depth',
      '8',
      `RGBA:${raw}`,
      ...operators,
      '-depth',
      '8',
      `RGBA:${raw}.out`,
    ]);
    const out = newImage(width, height);
    out.data.set(readFileSync(`${raw}.out`));
    return out;
  });
}

/** PSNR of R, G and B over the marked texels alone, in dB. */
export function psnrWhere(a: Image8, b: Image8, marked: Uint8Array): number {
  let [sum, count] = [0, 0];
  for (let i = 0; i < marked.length; i++) {
    if (!marked[i]) continue;
    count += 3;
    for (let c = 0; c < 3; c++) sum += (a.data[i * 4 + c] - b.data[i * 4 + c]) ** 2;
  }
  return 10 * Math.log10((255 * 255 * count) / sum);
}

/** Channels of a picture file as OpenImageIO reads it, as stored (alpha not multiplied in): bytes, channel by channel of a texel. */
export function readWithOpenImageIO(bytes: Uint8Array, ending: string, channels: readonly string[]): Uint8Array {
  return inFolder((folder) => {
    const file = path.join(folder, `in.${ending}`);
    writeFileSync(file, bytes);
    const planes = channels.map((channel) => {
      const plane = path.join(folder, `${channel}.pgm`);
      execFileSync('oiiotool', ['--no-autopremult', file, '--ch', channel, '-d', 'uint8', '-o', plane]);
      const whole = readFileSync(plane);
      // Binary grey map: "P5", width, height, 255, each ended by white space, then the bytes.
      const head = /^P5\s+\d+\s+\d+\s+255\s/.exec(whole.subarray(0, 64).toString('latin1'))![0];
      return whole.subarray(head.length);
    });
    const out = new Uint8Array(planes[0].length * planes.length);
    planes.forEach((plane, c) => {
      for (let i = 0; i < plane.length; i++) out[i * planes.length + c] = plane[i];
    });
    return out;
  });
}

/** A picture file as ffmpeg reads it: straight RGBA8 of one size. */
export function readWithFfmpeg(bytes: Uint8Array, ending: string, width: number, height: number): Image8 {
  return inFolder((folder) => {
    const file = path.join(folder, `in.${ending}`);
    writeFileSync(file, bytes);
    const image = newImage(width, height);
    const args = ['-v', 'error', '-i', file, '-frames:v', '1', '-f', 'rawvideo', '-pix_fmt', 'rgba', '-'];
    image.data.set(execFileSync('ffmpeg', args, { maxBuffer: 1 << 28 }));
    return image;
  });
}
