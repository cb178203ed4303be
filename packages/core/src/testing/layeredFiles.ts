/** Layered files for tests: made by Pillow or ag-psd, and read by psd-tools, none of which knows our reader. */
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { writePsdUint8Array, type Layer, type Psd } from 'ag-psd';
import { PNG } from 'pngjs';
import '../layered/withoutCanvas.ts';
import type { Image8 } from '../raster/image.ts';

export function inTemporary<T>(work: (folder: string) => T): T {
  const folder = mkdtempSync(path.join(tmpdir(), 'wl-layered-'));
  try {
    return work(folder);
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

/** Debian's Python, which has Pillow and psd-tools. */
export const python = (script: string, ...args: string[]): string =>
  execFileSync('/usr/bin/python3', ['-c', script, ...args], { maxBuffer: 1 << 28 }).toString();

export const readPng = async (bytes: Uint8Array): Promise<Image8> => {
  const png = PNG.sync.read(Buffer.from(bytes));
  return { width: png.width, height: png.height, data: new Uint8Array(png.data) };
};

/** Pixels for a layer, as ag-psd takes them. */
export function pixels(width: number, height: number, at: (x: number, y: number) => readonly number[]) {
  const data = new Uint8ClampedArray(width * height * 4);
  for (let y = 0, i = 0; y < height; y++) for (let x = 0; x < width; x++, i += 4) data.set(at(x, y), i);
  return { width, height, data };
}

/** A mask of one value at each texel, grey as ag-psd takes it. */
export const grey = (width: number, height: number, at: (x: number, y: number) => number) =>
  pixels(width, height, (x, y) => [at(x, y), at(x, y), at(x, y), 255]);

export function writePsd(children: Layer[], width: number, height: number, more: Partial<Psd> = {}): Uint8Array {
  return writePsdUint8Array({ width, height, children, ...more }, { generateThumbnail: false });
}

/** The pictures that psd-tools composites from the layers of some files of one size, straight RGBA8. */
export function throughPsdTools(files: readonly Uint8Array[], width: number, height: number): Image8[] {
  return inTemporary((folder) => {
    files.forEach((bytes, i) => writeFileSync(path.join(folder, `${i}.psd`), bytes));
    python(
      `
import sys
from psd_tools import PSDImage
for i in range(int(sys.argv[2])):
    psd = PSDImage.open(f'{sys.argv[1]}/{i}.psd')
    image = psd.composite(force=True, color=0.0, alpha=0.0).convert('RGBA')
    assert image.size == psd.size, (image.size, psd.size)
    open(f'{sys.argv[1]}/{i}.raw', 'wb').write(image.tobytes())
`,
      folder,
      String(files.length),
    );
    return files.map((_, i) => ({ width, height, data: new Uint8Array(readFileSync(path.join(folder, `${i}.raw`))) }));
  });
}
