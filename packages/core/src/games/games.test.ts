import { beforeAll, describe, expect, test } from 'vitest';
import { writeDds } from '../texture/dds.ts';
import { encodeImage } from '../texture/encode.ts';
import { mipChain } from '../texture/mips.ts';
import { picture } from '../testing/images.ts';
import { listLiveries, loadLivery } from './brackwaterRun/loader.ts';
import { missingPattern } from '../bay/pattern.ts';

const ROOT = 'wharf/turnstone/tern/';
const FINISH = `[livery]\nkey = "tern"\nname = "Tern"\nnumber = "7"\ncraft = "turnstone"\n
[[zone]]\nsheet = "fan"\nkind = "gloss"\nroughness = 0.12\nmetal = 0\n`;
let good: Uint8Array;

beforeAll(() => {
  const levels = mipChain(
    picture(512, 512, (x, y) => [x >> 1, y >> 1, 90, 255]),
    { kind: 'srgb', filter: 'box' },
  ).map((level) => encodeImage(level, 'bc7', { effort: 'fast' }));
  good = writeDds({ width: 512, height: 512, format: 'bc7', header: 'dx10', colourSpace: 'srgb' }, levels);
});

const folder = (files: Record<string, Uint8Array | string> = {}) => {
  const all: Record<string, Uint8Array | string> = { 'finish.toml': FINISH, 'tern_fan.dds': good, ...files };
  return new Map(
    Object.entries(all).map(([name, content]) => [
      ROOT + name,
      typeof content === 'string' ? new TextEncoder().encode(content) : content,
    ]),
  );
};
const fan = (files: Parameters<typeof folder>[0], drop: string[] = []) => {
  const game = folder(files);
  for (const name of drop) game.delete(ROOT + name);
  const report = loadLivery(game, 'turnstone', 'tern');
  return { report, sheet: report.sheets.find((sheet) => sheet.key === 'fan')! };
};
const changed = (at: number, value: number) => {
  const bytes = good.slice();
  new DataView(bytes.buffer).setUint32(at, value, true);
  return bytes;
};

test('a good file is shown as it was painted', () => {
  const { report, sheet } = fan({});
  expect(sheet.status).toBe('shown');
  expect([sheet.width, sheet.height]).toEqual([512, 512]);
  expect(Math.abs(sheet.pixels[(100 * 512 + 200) * 4] - 100)).toBeLessThan(4);
  expect(report.loaded).toEqual(['finish.toml', 'tern_fan.dds']);
  expect(report.ignored).toEqual([]);
});

test('sheets that finish.toml does not claim are the game’s own', () => {
  expect(fan({}).report.sheets.map((s) => [s.key, s.status])).toEqual([
    ['hull', 'own'],
    ['deck', 'own'],
    ['fan', 'shown'],
  ]);
});

describe('one mistake each, from symptom to cause', () => {
  test.each<[string, number, number, RegExp]>([
    ['linear instead of sRGB', 128, 98, /BC7 linear.*washed out/],
    ['another compression', 128, 71, /not BC7 sRGB.*71/],
    ['another size', 12, 1024, /512 x 1024; this sheet is 512 x 512/],
    ['a missing mip level', 28, 9, /9 mip levels; 10 are needed/],
    ['a broken magic number', 0, 1, /not a DDS/],
    ['the legacy header', 84, 0x35545844, /legacy header/],
  ])('%s is refused', (_what, at, value, why) => {
    const { sheet } = fan({ 'tern_fan.dds': changed(at, value) });
    expect(sheet.status).toBe('refused');
    expect(sheet.why).toMatch(why);
    expect(sheet.pixels).toEqual(missingPattern().pixels);
  });

  test('a file that is cut off is refused with both lengths', () => {
    const { sheet } = fan({ 'tern_fan.dds': good.subarray(0, good.length - 16) });
    expect(sheet.why).toMatch(new RegExp(`${good.length - 16} bytes.*${good.length}`));
  });

  test.each([
    ['Tern_fan.dds', /character 1 is "T" and should be "t"/],
    ['tern-fan.dds', /character 5 is "-" and should be "_"/],
    ['tern_fan.ddss', /too many at the end/],
    ['tern_fa.dds', /character 8/],
  ])('a file called %s is ignored, and the sheet is missing, with the character', (name, why) => {
    const { report, sheet } = fan({ [name]: good }, ['tern_fan.dds']);
    expect(sheet.status).toBe('missing');
    expect(sheet.why).toMatch(why);
    expect(report.ignored.find((i) => i.file === name)?.why).toMatch(why);
  });

  test('a sidecar that cannot be read is ignored with the reason, and every sheet is asked for', () => {
    for (const [text, why] of [
      ['[livery\n', /Ignored/],
      [FINISH.replace('"tern"', '"tern "'), /livery.key is "tern "/],
      [FINISH.replace('roughness = 0.12\n', ''), /lacks sheet, roughness or metal/],
    ] as const) {
      const { report } = fan({ 'finish.toml': text });
      expect(report.ignored[0].why).toMatch(why);
      expect(report.sheets.find((s) => s.key === 'hull')?.status).toBe('missing');
    }
  });

  test('a leftover is named', () => {
    expect(fan({ 'tern_fan.dds.bak': new Uint8Array(3) }).report.ignored).toEqual([
      { file: 'tern_fan.dds.bak', why: 'Ignored: the game has no use for it.' },
    ]);
  });

  test('folders whose names the game cannot read are passed over with the character', () => {
    const files = new Map([...folder(), ['wharf/turnstone/Tern_2/x.dds', good], ['Wharf/turnstone/a/x.dds', good]]);
    const { keys, ignored } = listLiveries(files, 'turnstone');
    expect(keys).toEqual(['tern']);
    expect(ignored.map((i) => i.why)).toEqual([
      expect.stringMatching(/character 1 of the folder's name, "T"/),
      expect.stringMatching(/lower case/),
    ]);
  });

  test('an empty folder lists nothing', () => {
    expect(listLiveries(new Map(), 'turnstone')).toEqual({ keys: [], ignored: [] });
  });
});
