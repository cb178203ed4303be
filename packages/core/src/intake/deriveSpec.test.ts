/** Specs from the files of skins, in every shape that such folders have; the server's test delivers by one and compares bytes. */
import { describe, expect, test } from 'vitest';
import { smallTemplate } from '../testing/scenes.ts';
import { picture } from '../testing/images.ts';
import type { Template } from '../livery/template.ts';
import { derivedKey, deriveSpec, type SkinFile } from './deriveSpec.ts';
import type { FileRole } from './fileRoles.ts';
import { lookOfTexture } from './textureLook.ts';
import type { TextureFacts } from './understood.ts';

const look = lookOfTexture(picture(16, 16, (x, y) => [x * 9, y * 9, 40, 255]));
const facts = (more: Partial<TextureFacts> = {}): TextureFacts => ({
  kind: 'texture',
  container: 'dds',
  width: 64,
  height: 64,
  format: 'bc3',
  compression: 'BC3',
  header: 'dx10',
  colourSpace: 'srgb',
  mips: 7,
  mipsExpected: 7,
  alpha: 'soft',
  look: { ...look, small: [...look.small] },
  ...more,
});
const texture = (name: string, more: Partial<TextureFacts> = {}, role: FileRole = 'colour', sure = 1): SkinFile => ({
  name,
  facts: facts(more),
  guess: { role, reason: 'Its name says so.', sure },
  text: null,
});
const text = (name: string, content: string, stored = { crlf: false, mark: false }): SkinFile => ({
  name,
  facts: null,
  guess: null,
  text: { text: content, ...stored },
});

/** A subject of two sheets, one of them with normals and a follower. */
const subject: Template = (() => {
  const small = smallTemplate();
  const [face] = small.sheets;
  const maps = [{ key: 'normal', name: 'Normal', alpha: 'none' as const }];
  const wet = { key: 'face-wet', name: 'Face, wet', width: 64, height: 64, mirror: 'none' as const, stem: null };
  return {
    ...small,
    sheets: [
      { ...face, maps, followers: [wet] },
      { ...face, key: 'back', name: 'back' },
    ],
  };
})();
const derive = (files: SkinFile[], template = subject) => deriveSpec(template, files, 'from-skin');

describe('a spec from a skin’s files', () => {
  test('has one rule for sheets that are alike, and the livery’s key where the folder’s name comes again', () => {
    const { spec, remarks } = derive([
      texture('skins/red-kite/red-kite_face.dds'),
      texture('skins/red-kite/red-kite_back.dds'),
    ]);
    expect(remarks).toEqual([]);
    expect(spec.folder).toBe('skins/{livery.key}/');
    expect(spec.files).toHaveLength(1);
    expect(spec.files[0]).toMatchObject({
      map: 'colour',
      name: '{livery.key}_{sheet.key}.dds',
      format: 'bc3',
      header: 'dx10',
      mips: 'full',
      alpha: 'keep',
    });
    expect(spec.files[0].sheets).toBeUndefined();
  });

  test('keeps apart what differs: format, map, size and level of detail', () => {
    const { spec } = derive([
      texture('kite_face.dds'),
      texture('kite_back.dds', { format: 'bc1', alpha: 'none' }),
      texture('kite_face_n.dds', { format: 'bc5', alpha: 'none', colourSpace: 'linear' }, 'normal'),
      texture('kite_face_far.dds', { width: 16, height: 16, mips: 1 }),
      texture('kite_back_odd.dds', { width: 48, height: 32 }),
    ]);
    expect(
      spec.files.map(({ name, map, format, sheets, scale, size, mips, colourSpace }) => [
        name,
        map,
        format,
        sheets,
        scale ?? size ?? 1,
        mips,
        colourSpace,
      ]),
    ).toEqual([
      ['{livery.key}_{sheet.key}.dds', 'colour', 'bc3', ['face'], 1, 'full', 'srgb'],
      ['{livery.key}_{sheet.key}.dds', 'colour', 'bc1', ['back'], 1, 'full', 'srgb'],
      ['{livery.key}_{sheet.key}_n.dds', 'normal', 'bc5', ['face'], 1, 'full', 'normal'],
      ['{livery.key}_{sheet.key}_far.dds', 'colour', 'bc3', ['face'], 0.25, 'none', 'srgb'],
      ['{livery.key}_{sheet.key}_odd.dds', 'colour', 'bc3', ['back'], { width: 48, height: 32 }, 'full', 'srgb'],
    ]);
    expect(spec.maxSide).toBe(64);
  });

  test('says what it guessed, with its place: key, colour space, alpha, role', () => {
    const { spec } = derive([
      texture('kite_face.dds', { header: 'legacy', format: 'bc7', alpha: 'none' }),
      texture('kite_face_x.dds', {}, 'normal', 0.2),
    ]);
    const at = new Map(spec.guesses!.map((guess) => [guess.at, guess.says]));
    expect(at.get('files.0.name')).toMatch(/^“kite_face” |^“kite” /);
    expect(at.get('files.0.colourSpace')).toMatch(/does not say how colours are stored; sRGB is taken/);
    expect(at.get('files.0.alpha')).toMatch(/full everywhere/);
    expect(at.get('files.1.map')).toMatch(/is taken for the normal map. Its name says so/);
    const named = derive([texture('face.dds'), texture('back.dds')]).spec;
    expect(named.guesses!.find((guess) => guess.at === 'files.0.name')!.says).toMatch(/they stay as they are/);
    expect(named.files[0].name).toBe('{sheet.key}.dds');
  });

  test('leaves followers to their sheets, and makes the picture of the model from a preview', () => {
    const { spec, remarks } = derive([
      texture('kite/kite_face.png', { container: 'png', mips: 1 }),
      texture('kite/kite_face_wet.png', { container: 'png', mips: 1 }),
      texture('kite/preview.jpg', { container: 'jpeg', width: 320, height: 180, mips: 1 }, 'preview'),
    ]);
    expect(remarks).toEqual([]);
    expect(spec.files.map(({ name, container }) => [name, container])).toEqual([
      ['{livery.key}_{sheet.key}.png', 'png'],
    ]);
    expect(spec.thumbnail).toMatchObject({ name: 'preview.jpg', container: 'jpg', width: 320, height: 180 });
  });

  test('takes texts over as templates, stored as they were, with the key in its places', () => {
    const { spec, remarks } = derive([
      texture('kite/kite_face.dds'),
      text('kite/kite.json', '{ "skin": "kite_face.dds" }\n', { crlf: true, mark: true }),
      text('kite/own.json', '{{ not ours }}'),
      text('kite/notes.doc', 'kite'),
    ]);
    expect(spec.sidecars).toEqual([
      {
        name: '{livery.key}.json',
        language: 'json',
        making: { kind: 'template', text: '{ "skin": "{{{livery.key}}}_face.dds" }\n' },
        lineEnds: 'crlf',
        mark: true,
      },
    ]);
    expect(remarks.map((remark) => remark.split(' ')[0])).toEqual(['own.json', 'notes.doc']);
  });

  test('leaves out with a reason what has no sheet or no map, and is none at all when nothing fits', () => {
    const { remarks } = derive([
      texture('kite_face.dds'),
      texture('kite_wheels.dds'),
      texture('kite_back_n.dds', {}, 'normal'),
    ]);
    expect(remarks).toEqual([
      'kite_wheels.dds was left out: its name does not say which sheet it is (face, back).',
      'kite_back_n.dds was left out: the sheet back has no normal map.',
    ]);
    expect(() => derive([texture('wheels.dds')])).toThrow(/None of these files is a texture/);
    // With a single sheet every texture is that one's.
    expect(derive([texture('wheels.dds')], smallTemplate()).spec.files[0].name).toBe('wheels.dds');
  });
});

test('the key of a derived spec is one that specs may have', () => {
  for (const name of ['Red Kite', '7', '', 'ÄÖ/..', 'x'.repeat(300)])
    expect(derivedKey(name)).toMatch(/^[a-z][a-z0-9-]{0,59}$/);
});
