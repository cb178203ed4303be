import { strToU8, zipSync } from 'fflate';
import { expect, test } from 'vitest';
import { canBe, endingsOf, fileKind, modelKindOf, namesOf, whatIs } from './index.ts';

const bytes = (text: string) => Uint8Array.from(text.padEnd(40, '\0'), (c) => c.charCodeAt(0));

// The marks are those of the published formats: DDS reference pages, PNG (ISO/IEC 15948, 5.2), JPEG (ITU-T T.81, B.1), RIFF and WebP
// container specification, glTF 2.0 ("GLB file format"), zip (APPNOTE 4.3.7); the layered file's mark as its reader's library has it.
test.each([
  ['a.bin', bytes('DDS |'), 'dds'],
  ['a', bytes('\x89PNG\r\n\x1a\n'), 'picture'],
  ['a.dat', bytes('\xff\xd8\xff\xe0'), 'picture'],
  ['a.skin', bytes('RIFF\x10\0\0\0WEBPVP8 '), 'picture'],
  ['a', bytes('8BPS\0\x01'), 'psd'],
  ['a', bytes('glTF\x02'), 'glb'],
  ['a.bale', zipSync({ 'coat.txt': strToU8('x') }), 'zip'],
  ['a.zip', zipSync({ mimetype: strToU8('image/openraster'), 'stack.xml': strToU8('<image/>') }), 'ora'],
  ['a.txt', strToU8('\ufeff<?xml version="1.0"?><!-- a > b --><svg xmlns="x"/>'), 'svg'],
  ['COAT.TGA', bytes('\0\0\x02'), 'tga'],
  ['a.gltf', strToU8('{}'), 'gltf'],
  ['a.obj', strToU8('v 0 0 0'), 'obj'],
  ['a.mtl', strToU8('newmtl a'), 'mtl'],
  ['sound.wav', bytes('RIFF\x10\0\0\0WAVEfmt '), 'other'],
  ['a.zip', strToU8('no archive, whatever it is called'), 'other'],
] as const)('%s is told by its bytes, and by its name where they do not say: %#', (name, content, kind) => {
  expect(fileKind(content, name)).toBe(kind);
});

test.each(['png', 'jpeg', 'webp', 'psb', 'dds', 'glb', 'ora', 'svg'])('a .%s that is none is refused', (ending) => {
  expect(() => fileKind(strToU8('something else, long enough to be anything'), `a.${ending}`)).toThrow(
    `it is not ${ending.toUpperCase()}`,
  );
  expect(modelKindOf(strToU8('something else'), `a.${ending}`)).toBeNull();
});

test('what a kind can become is said once, for pages and for sentences', () => {
  expect(endingsOf('layered')).toBe('.psd,.psb,.ora');
  expect(endingsOf('texture', 'drawing').split(',')).toEqual(
    expect.arrayContaining(['.dds', '.tga', '.png', '.jpg', '.jpeg', '.webp', '.svg']),
  );
  expect(namesOf('model')).toContain('glTF, OBJ');
  expect(canBe('texture', 'tga') && !canBe('texture', 'psd') && !canBe('model', 'other')).toBe(true);
  expect(whatIs('other')).toBe('other');
});
