import { describe, expect, test } from 'vitest';
import { DeliverySpec } from '../livery/spec.ts';
import { SHIPPED_SPECS } from '../games/index.ts';
import { whyNoPath } from './safePath.ts';

describe('paths inside a folder', () => {
  test.each([
    ['../x', /leaves/],
    ['a/../../x', /leaves/],
    ['./x', /leaves/],
    ['/etc/passwd', /root/],
    ['a//b', /without a name/],
    ['C:/x', /character :/],
    ['a\\b', /character \\/],
    ['a\0b', /not seen/],
    ['a\nb', /not seen/],
    ['tex\u202egnp.exe', /not seen/],
    ['\u200fa', /not seen/],
    ['CON', /device/],
    ['con.dds', /device/],
    ['a/LPT1.txt', /device/],
    ['COM²', /device/],
    ['nul.tar.gz', /device/],
    ['a./b', /ends with a dot/],
    ['a ', /ends with a space/],
    ['a?.dds', /character \?/],
    [`${'\u00e9'.repeat(128)}.dds`, /255 bytes/],
  ])('%j is none', (path, why) => expect(whyNoPath(path)).toMatch(why));

  test.each([
    'a.dds',
    'a/b c/d.e.f',
    'Über/漆.png',
    'console.txt',
    'com10.dds',
    '.hidden',
    'a/',
    'x..y',
    '-a',
    'é'.repeat(120),
  ])('%j is one', (path) => expect(whyNoPath(path)).toBeNull());
});

describe('specs whose plain text leads out of the folder are refused', () => {
  const [spec] = Object.values(SHIPPED_SPECS);
  const [file] = spec.files;
  test.each([
    { folder: '../{livery.key}/' },
    { folder: '/tmp/' },
    { folder: 'a/../../b/' },
    { folder: 'C:/games/' },
    { files: [{ ...file, name: '..\\x.dds' }] },
    { files: [{ ...file, name: 'a/../b.dds' }] },
    { package: { name: '../pack.zip' } },
    { readme: { name: 'a\u202eb.txt' } },
    { companions: [{ file: 'a', name: '/b' }] },
    { pairs: [{ file: 'a', as: '../b' }] },
  ])('%j', (change) => {
    expect(DeliverySpec.safeParse({ ...spec, ...change }).success).toBe(false);
    expect(DeliverySpec.safeParse(spec).success).toBe(true);
  });
});
