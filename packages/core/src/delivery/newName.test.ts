import { describe, expect, test } from 'vitest';
import type { Sha256 } from '../livery/ids.ts';
import { DeliverySpec } from '../livery/spec.ts';
import type { Template } from '../livery/template.ts';
import { layerOf, NO_HASH, smallLivery, smallTemplate } from '../testing/scenes.ts';
import { spec as brackwaterRun } from '../games/brackwaterRun/spec.ts';
import { languageOf } from '../languages/index.ts';
import { previewNewName, specUnderNewName, wordsToRename, type NewName } from './newName.ts';
import { planDelivery } from './plan.ts';
import { keptTexts, NO_TARGET } from './target.ts';

const hash = (c: string) => c.repeat(64) as Sha256;
const beside = (name: string, c: string) => ({ name, blob: hash(c), bytes: 9, why: 'a text' });
const template: Template = {
  ...smallTemplate(),
  beside: [
    beside('conf/lion.ini', 'a'),
    beside('conf/fleet.list', 'b'),
    beside('tex/lion_far.bin', 'c'),
    beside('notes.md', 'd'),
  ],
};
const rule = brackwaterRun.files[0];
const spec = DeliverySpec.parse({
  ...brackwaterRun,
  key: 'as-it-came',
  folder: '',
  sidecars: [],
  thumbnail: undefined,
  readme: undefined,
  slot: undefined,
  files: [{ ...rule, name: 'tex/lion_d.dds', untouched: undefined }],
  companions: [{ file: 'notes.md', name: 'notes.md' }],
});
const ini = '[skin]\r\nname=Lion\r\ntexture=tex/lion_d.dds\r\ntint=0.0025 0.5 1\n[other]\r\nkeep=lioness\r\n';
const list = 'skins {\n  skin heron { }\n  skin lion {\n    file conf/lion.ini\n  }\n}\n';
const texts = [
  { name: 'conf/lion.ini', language: 'ini' as const, text: ini },
  { name: 'conf/fleet.list', language: 'script' as const, text: list },
];
const wish: NewName = {
  renames: [
    { word: 'lion', by: 'tiger' },
    { word: 'Lion', by: '{{particulars.name}}' },
    { word: '', by: 'x' },
    { word: 'same', by: 'same' },
  ],
  texts: { 'conf/lion.ini': 'changed', 'conf/fleet.list': 'beside' },
  values: { 'conf/lion.ini': [{ path: 'skin.tint', colour: 'red', as: 'linear' }] },
};
const made = specUnderNewName(template, spec, texts, wish, { key: 'as-tiger', version: 1 });
const livery = smallLivery([layerOf('solid', { paint: { scheme: 'red' } })], template);
const blobs: Record<string, string> = { [hash('a')]: ini, [hash('b')]: list };
const kept = () => keptTexts(template, made, async (blob) => new TextEncoder().encode(blobs[blob]));
const sidecar = (name: string, target: Parameters<typeof planDelivery>[3]) => {
  const file = planDelivery(livery, template, made, target).files.find((one) => one.name === name);
  if (file?.kind !== 'sidecar') throw new Error(`no ${name}`);
  return { text: new TextDecoder().decode(file.bytes), problems: file.problems, continues: file.continues };
};

describe('a skin under a new name', () => {
  test('is a spec that can be kept: names, texts, and what nobody painted', () => {
    expect(DeliverySpec.parse(made)).toEqual(JSON.parse(JSON.stringify(made)));
    expect(made.files.map(({ name, untouched }) => [name, untouched])).toEqual([['tex/tiger_d.dds', 'send']]);
    // What has the old name in its own goes along under the new one; what has not stays as it was.
    expect(made.companions).toEqual([
      { file: 'notes.md', name: 'notes.md' },
      { file: 'tex/lion_far.bin', name: 'tex/tiger_far.bin' },
    ]);
  });

  test('changes the text under its new name, to the byte, mixed line ends and all', async () => {
    const target = { ...NO_TARGET, kept: await kept() };
    expect(sidecar('conf/tiger.ini', target)).toEqual({
      text: '[skin]\r\nname=Test 7\r\ntexture=tex/tiger_d.dds\r\ntint=1 0 0\n[other]\r\nkeep=lioness\r\n',
      problems: [],
      continues: false,
    });
  });

  test('puts a new entry beside the old one, in the game’s own list where that has grown meanwhile', async () => {
    const grown = list.replace('skins {\n', 'skins {\n  skin owl { }\n');
    const bases = new Map([['conf/fleet.list', { hash: 'x', bytes: new TextEncoder().encode(grown) }]]);
    const entry = '  skin tiger {\n    file conf/tiger.ini\n  }\n';
    expect(sidecar('conf/fleet.list', { ...NO_TARGET, kept: await kept(), bases })).toEqual({
      text: grown.replace('  }\n}\n', `  }\n${entry}}\n`),
      problems: [],
      continues: true,
    });
    // Without the game's folder, the file that came.
    expect(sidecar('conf/fleet.list', { ...NO_TARGET, kept: await kept() }).text).toContain(entry);
    expect(sidecar('conf/tiger.ini', NO_TARGET).problems[0]).toMatch(/not in the game’s folder/);
  });

  test('is shown beforehand: every file, every line, and what would not work', () => {
    const shown = previewNewName(livery, template, spec, made, texts);
    expect(shown.map(({ from, to, what, lines }) => [from, to, what, lines.map(({ line }) => line)])).toEqual([
      ['tex/lion_d.dds', 'tex/tiger_d.dds', 'painted', []],
      ['notes.md', 'notes.md', 'as it came', []],
      ['tex/lion_far.bin', 'tex/tiger_far.bin', 'as it came', []],
      ['conf/lion.ini', 'conf/tiger.ini', 'text', [2, 3, 4]],
      ['conf/fleet.list', 'conf/fleet.list', 'text', [6, 6, 6]],
    ]);
    const values = {
      'conf/lion.ini': [
        { path: 'skin.none', value: '1' },
        { path: 'skin.tint', value: '{{paths.face.colour}}' },
      ],
    };
    const odd = specUnderNewName(template, spec, texts, { ...wish, values }, { key: 'k', version: 1 });
    const text = previewNewName(livery, template, spec, odd, texts).find(({ from }) => from === 'conf/lion.ini')!;
    expect(text.problems).toEqual(['conf/tiger.ini has no value at "skin.none".']);
    expect(text.lines.map(({ after }) => after?.trim())).toContain('tint=tex/tiger_d.dds');
    const gone = { 'conf/lion.ini': [{ path: 'skin.tint', colour: 'mauve', as: 'linear' as const }] };
    const lacks = specUnderNewName(template, spec, texts, { ...wish, values: gone }, { key: 'k', version: 1 });
    expect(previewNewName(livery, template, spec, lacks, texts)[3].problems[0]).toMatch(
      /scheme has no colour called "mauve"/,
    );
  });

  test('leaves what a pattern asks for in braces alone, and renames what follows a sheet', () => {
    const follower = { key: 'wet', name: 'wet', width: 64, height: 64, mirror: 'none' as const, stem: 'tex/lion_wet' };
    const followed = { ...template, sheets: [{ ...template.sheets[0], followers: [follower] }] };
    const by = { ...spec, folder: '{livery.key}/', files: [{ ...rule, name: '{livery.key}/lion_{sheet.key}.dds' }] };
    const renames = ['lion', 'livery', 'key', 'sheet'].map((word) => ({ word, by: `${word}x` }));
    const next = specUnderNewName(followed, by, texts, { ...wish, renames }, { key: 'k', version: 1 });
    expect(next.folder).toBe('{livery.key}/');
    expect(next.files[0].name).toBe('{livery.key}/lionx_{sheet.key}.dds');
    expect(next.pairs).toEqual([{ file: 'tex/lion_wet.dds', as: 'tex/lionx_wet.dds' }]);
    expect(planDelivery(livery, followed, next).files.map(({ name }) => name)).toContain('tex/lionx_wet.dds');
  });

  test('proposes the words that run through names and texts', () => {
    const names = [
      'a/marsh_line_body_d.dds',
      'a/marsh_line_body_n.dds',
      'b/marsh_line_roof_d.dds',
      'textures/marsh_line_x.dds',
    ];
    expect(wordsToRename(names, [])[0]).toBe('marsh_line');
    expect(wordsToRename(['hull.dds', 'deck.dds'], [])).toEqual([]);
  });

  test('languages are told by what stands in a text, then by its ending', () => {
    expect(languageOf('a.txt', '<?xml version="1.0"?><a/>')).toBe('xml');
    expect(languageOf('a.dat', '{"a": 1}')).toBe('json');
    expect(languageOf('a.prop', '[a]\nk=1\n')).toBe('ini');
    expect(languageOf('a.lua', 'return {}')).toBe('script');
    expect(languageOf('readme', 'hello')).toBe('text');
  });
});

test('a spec can send files to folders by their format', () => {
  const by = { ...spec, files: [{ ...rule, name: 'tex/{file.format}/{sheet.key}.dds' }], companions: undefined };
  const [file] = planDelivery(livery, template, by).files;
  expect(file.name).toBe(`tex/${rule.format}/face.dds`);
  expect(NO_HASH).toHaveLength(64);
});
