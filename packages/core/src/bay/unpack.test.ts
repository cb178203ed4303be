/** Packages as games open them, made by Python's zipfile: whole, cut off, and far larger unpacked than they look. */
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { bayGame } from '../games/index.ts';
import { unpack } from './unpack.ts';

let folder: string;
const made = (name: string) => new Uint8Array(readFileSync(path.join(folder, name)));
beforeAll(() => {
  folder = mkdtempSync(path.join(os.tmpdir(), 'wl-unpack-'));
  execFileSync(
    '/usr/bin/python3',
    [
      '-c',
      `
import zipfile
def pack(name, files):
    with zipfile.ZipFile(name, 'w', zipfile.ZIP_DEFLATED) as z:
        for path, size in files: z.writestr(path, b'\\0' * size)
pack('good.zip', [('pack/a.txt', 5), ('b.bin', 70000)])
pack('large.zip', [('a', 200 << 20), ('b', 100 << 20)])
pack('many.zip', [('f%d' % i, 1) for i in range(2500)])
`,
    ],
    { cwd: folder },
  );
});
afterAll(() => rmSync(folder, { recursive: true }));

test('a whole one is its files; one that is cut off, or is none, says so', () => {
  const files = unpack(made('good.zip'));
  expect(typeof files === 'string' ? files : Object.entries(files).map(([name, { length }]) => [name, length])).toEqual(
    [
      ['pack/a.txt', 5],
      ['b.bin', 70000],
    ],
  );
  expect(unpack(made('good.zip').subarray(0, 60))).toBe('it is not a whole zip');
  expect(unpack(new Uint8Array(100))).toBe('it is not a whole zip');
});

test.each(['large.zip', 'many.zip'])('%s is not unpacked, and the games go on without it', (name) => {
  const says = 'it unpacks to more than 256 MiB or 2000 files';
  expect(unpack(made(name))).toBe(says);
  for (const [game, file] of [
    ['marshkin', 'crates/huge.crate'],
    ['ferrywardens-oath', 'bales/90-huge.over.bale'],
  ] as const)
    expect(bayGame(game)!.list(new Map([[file, made(name)]]))).toEqual({
      keys: [],
      ignored: [{ file, why: `Ignored: ${says}.` }],
    });
});
