/** All eight stand-in games: painted, delivered by the server, loaded by the game's own reader, and spoilt in twenty ways each. */
import { execFileSync } from 'node:child_process';
import { appendFileSync, mkdtempSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { unzipSync, zipSync } from 'fflate';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { bayGame } from '@wet-lacquer/core/games/index.ts';
import type { BayReport, BaySheet } from '@wet-lacquer/core/bay/report.ts';
import { plates } from '@wet-lacquer/core/delivery/checks/plates.ts';
import { slots } from '@wet-lacquer/core/delivery/checks/slots.ts';
import type { CheckInput } from '@wet-lacquer/core/delivery/finding.ts';
import { folderFaults } from '@wet-lacquer/core/delivery/folderCheck.ts';
import { planDelivery } from '@wet-lacquer/core/delivery/plan.ts';
import { SHIPPED_SPECS } from '@wet-lacquer/core/games/index.ts';
import { lookAtTarget, NO_TARGET } from '@wet-lacquer/core/delivery/target.ts';
import { applyEdit, type SingleEdit } from '@wet-lacquer/core/livery/edit.ts';
import type { Livery } from '@wet-lacquer/core/livery/livery.ts';
import { Plate } from '@wet-lacquer/core/livery/plate.ts';
import type { DeliverySpec } from '@wet-lacquer/core/livery/spec.ts';
import type { Template } from '@wet-lacquer/core/livery/template.ts';
import { fitPlate } from '@wet-lacquer/core/plates/fit.ts';
import { meshOfPlate, standingPlates } from '@wet-lacquer/core/plates/panel.ts';
import { readWithFfmpeg, readWithImageMagick, readWithPillow } from '@wet-lacquer/core/testing/independent.ts';
import fc from '@wet-lacquer/core/testing/property.ts';
import { FIRST_FINISHES } from '@wet-lacquer/core/livery/finish.ts';
import { layerOf, sourcesFor } from '@wet-lacquer/core/testing/scenes.ts';
import { gameFolder, readGameFolder } from '@wet-lacquer/node/gameFolder.ts';
import { hashOf } from '@wet-lacquer/node/hash.ts';
import { startServer, until, type TestServer } from '../testing/server.ts';

interface Delivered {
  id: string;
  state: string;
  error: string | null;
  folder: string;
  package: string | null;
  slot: number | null;
  files: { name: string; blob: string; what: string }[];
  replaced: { name: string }[];
}
type Files = Map<string, Uint8Array>;

let server: TestServer;
beforeAll(async () => {
  server = await startServer({ demo: true });
});
afterAll(() => server.stop());

/** A game with a livery of it, delivered. */
interface Played {
  id: string;
  livery: Livery;
  template: Template;
  delivered: Delivered;
  files: Files;
  report: BayReport;
}

async function edit(id: string, changes: object[]): Promise<void> {
  const { revision } = await server.get<{ revision: number }>(`/liveries/${id}`);
  const entries = changes.map((change) => ({
    id: crypto.randomUUID(),
    person: 'ann',
    edit: change,
    undoes: null,
    redoes: null,
    label: 'a step',
  }));
  expect((await server.post(`/liveries/${id}/entries`, { base: revision, entries })).status).toBe(200);
}

async function deliver(id: string): Promise<Delivered> {
  const made = await server.post<Delivered>(`/liveries/${id}/deliveries`);
  expect(made.body).toMatchObject({ state: 'queued' });
  return until(
    () => server.get<Delivered>(`/deliveries/${made.body.id}`),
    (d) => ['done', 'failed', 'cancelled'].includes(d.state),
  );
}

const filesOf = (game: string): Promise<Files> => readGameFolder(gameFolder(server.data, game));

/** Paints some maps of a subject with a plain ground, where nothing lies there yet, and a triangle near the top left; and delivers. */
async function play(
  subject: string,
  name: string,
  on: [sheet: string, map?: string][],
  more: (template: Template) => SingleEdit[] = () => [],
): Promise<Played> {
  const cards = await server.get<{ hash: string; key: string; game: string }[]>('/templates');
  const card = cards.find(({ key }) => key === subject)!;
  const { id } = (await server.post<{ id: string }>('/liveries', { template: card.hash, name })).body;
  const template = await server.get<Template>(`/templates/${card.hash}`);
  const layers = on.flatMap(([sheet, map = 'colour']) => {
    const { width, height } = template.sheets.find((s) => s.key === sheet)!;
    const begun = template.begin?.[map === 'colour' ? sheet : `${sheet}/${map}`]?.length ?? 0;
    const knot = (x: number, y: number) => ({ x: x * width, y: y * height, smooth: false });
    const knots = [knot(0.04, 0.04), knot(0.21, 0.1), knot(0.1, 0.21)];
    const triangle = layerOf('shape', {
      id: crypto.randomUUID(),
      paint: { hex: map === 'normal' ? '#a07ffb' : '#b0502a' },
      x: 0,
      y: 0,
      paths: [{ knots, closed: true, how: 'add' }],
      line: null,
    });
    const ground = layerOf('solid', { id: crypto.randomUUID(), paint: { hex: '#2f5d62' } });
    return (begun ? [triangle] : [ground, triangle]).map((layer, i) => ({
      do: 'add-layer',
      sheet,
      map,
      index: begun + i,
      layer,
    }));
  });
  await edit(id, [
    { do: 'set-particular', key: 'author', value: 'Ann Reed' },
    { do: 'set-particular', key: 'registration', value: 'NM-417' },
    ...layers,
    ...more(template),
  ]);
  const delivered = await deliver(id);
  expect(delivered.error).toBeNull();
  const files = await filesOf(card.game);
  const game = bayGame(card.game)!;
  const at = delivered.package ?? delivered.folder + delivered.files[0].name;
  const key = game
    .list(files)
    .keys.filter((one) => at.includes(one))
    .at(-1);
  expect(key, `${card.game} lists what was delivered to ${at}`).toBeDefined();
  const { livery } = await server.get<{ livery: Livery }>(`/liveries/${id}`);
  return { id, livery, template, delivered, files, report: game.load(files, key!, template.mesh) };
}

const statusOf = (report: BayReport) => Object.fromEntries(report.sheets.map((sheet) => [sheet.key, sheet.status]));
const python = (script: string, bytes: Uint8Array): string => {
  const file = path.join(mkdtempSync(path.join(os.tmpdir(), 'wl-game-')), 'file');
  writeFileSync(file, bytes);
  return execFileSync('/usr/bin/python3', ['-c', script, file]).toString().trim();
};

/** Mean difference of colour between what the game shows and another decoder's picture, of 255. @param over it is stored upside down */
function apart(sheet: BaySheet, other: { data: Uint8Array }, over = false): number {
  const { width, height, pixels } = sheet;
  let sum = 0;
  for (let y = 0; y < height; y++)
    for (let i = 0; i < width * 4; i++)
      sum += Math.abs(pixels[y * width * 4 + i] - other.data[(over ? height - 1 - y : y) * width * 4 + i]);
  return sum / (width * height * 4);
}

/** One mistake in a good delivery. */
interface Mistake {
  what: string;
  spoil(files: Files): void;
  /** The game cannot know: it shows something else than was painted. */
  looks?: true;
  /** What the name check must say. */
  name?: true;
}

const moved = (from: string, to: string) => (files: Files) => {
  files.set(to, files.get(from)!);
  files.delete(from);
};
const changed = (file: string, change: (bytes: Uint8Array, view: DataView) => Uint8Array | void) => (files: Files) => {
  const bytes = files.get(file)!.slice();
  files.set(file, change(bytes, new DataView(bytes.buffer)) ?? bytes);
};
const word = (file: string, at: number, value: number) => changed(file, (_, view) => view.setUint32(at, value, true));
const said = (file: string, from: string | RegExp, to: string) =>
  changed(file, (bytes) => {
    const text = new TextDecoder('utf-8', { ignoreBOM: true }).decode(bytes);
    const after = text.replace(from, to);
    expect(after, `${file} holds ${String(from)}`).not.toBe(text);
    return new TextEncoder().encode(after);
  });
const inside = (pack: string, spoil: (files: Files) => void) => (files: Files) => {
  const held: Files = new Map(Object.entries(unzipSync(files.get(pack)!)));
  spoil(held);
  files.set(pack, zipSync(Object.fromEntries(held)));
};

/** Mistakes in how a file is called. */
const misnamed = (file: string): Mistake[] => {
  const [folder, base] = [file.slice(0, file.lastIndexOf('/') + 1), file.slice(file.lastIndexOf('/') + 1)];
  const dot = base.lastIndexOf('.');
  const to = (name: string, what: string): Mistake => ({ what, spoil: moved(file, folder + name), name: true });
  return [
    to(`${base.slice(0, dot - 1)}q${base.slice(dot)}`, 'a letter in its name'),
    to(
      base.replace(/[a-z]/, (first) => first.toUpperCase()),
      'a capital in its name',
    ),
    to(base.slice(0, dot - 1) + base.slice(dot), 'a letter missing from its name'),
    to(`${base.slice(0, dot)} ${base.slice(dot)}`, 'a space in its name'),
    to(base.slice(0, dot) + base.slice(dot).toUpperCase(), 'its ending in capitals'),
    { what: 'it is gone', spoil: (files) => void files.delete(file) },
    { what: 'a copy beside it', spoil: (files) => void files.set(`${file}.bak`, files.get(file)!) },
  ];
};

/** Mistakes inside a DDS texture. @param blockBytes of its format, @param headerBytes of its header */
const misstored = (file: string, blockBytes: number, headerBytes: number): Mistake[] => [
  { what: 'cut off', spoil: changed(file, (bytes) => bytes.slice(0, -blockBytes)) },
  { what: 'something behind its end', spoil: changed(file, (bytes) => Uint8Array.from([...bytes, 0, 0, 0, 0])) },
  { what: 'empty', spoil: (files) => void files.set(file, new Uint8Array()) },
  {
    what: 'a missing mip level',
    spoil: changed(file, (_, view) => view.setUint32(28, view.getUint32(28, true) - 1, true)),
  },
  { what: 'no mip levels', spoil: word(file, 28, 1) },
  { what: 'twice as wide', spoil: changed(file, (_, view) => view.setUint32(16, view.getUint32(16, true) * 2, true)) },
  { what: 'half as high', spoil: changed(file, (_, view) => view.setUint32(12, view.getUint32(12, true) / 2, true)) },
  { what: 'another compression', spoil: headerBytes === 148 ? word(file, 128, 77) : word(file, 84, 0x33545844) },
  { what: 'the other header', spoil: headerBytes === 148 ? word(file, 84, 0x35545844) : word(file, 84, 0x30315844) },
  { what: 'not a DDS', spoil: word(file, 0, 0x20474e50) },
  {
    what: 'upside down',
    looks: true,
    spoil: changed(file, (bytes, view) => {
      const line = Math.ceil(view.getUint32(16, true) / 4) * blockBytes;
      const rows = Math.ceil(view.getUint32(12, true) / 4);
      const before = bytes.slice();
      for (let y = 0; y < rows; y++)
        bytes.set(
          before.subarray(headerBytes + y * line, headerBytes + (y + 1) * line),
          headerBytes + (rows - 1 - y) * line,
        );
    }),
  },
];

/** What the game says when something is wrong, a line each. */
function complaints(game: string, files: Files, good: Played): { lines: string[]; sheets: BaySheet[] } {
  const played = bayGame(game)!;
  const { keys, ignored } = played.list(files);
  const before = played.list(good.files).ignored.map((one) => one.file);
  const lines = ignored.filter((one) => !before.includes(one.file)).map((one) => `${one.file}: ${one.why}`);
  if (!keys.includes(good.report.livery)) return { lines: [...lines, 'not listed'], sheets: [] };
  const report = played.load(files, good.report.livery, good.template.mesh);
  const status = statusOf(good.report);
  for (const sheet of report.sheets)
    if (sheet.status !== status[sheet.key]) lines.push(`${sheet.file}: ${sheet.status}, ${sheet.why}`);
  lines.push(...report.ignored.map((one) => `${one.file}: ${one.why}`));
  for (const plate of report.plates) if (plate.status !== 'shown') lines.push(`plate ${plate.name}: ${plate.why}`);
  return { lines, sheets: [...report.sheets, ...report.plateTextures] };
}

/** Hashes of what lies in folders: a mistake changes one file of many. */
const hashes = new WeakMap<Uint8Array, string>();
function hashKept(bytes: Uint8Array): string {
  const hash = hashes.get(bytes) ?? hashOf(bytes);
  hashes.set(bytes, hash);
  return hash;
}

/** What preflight says of the folder as it is now. */
async function preflightOf(game: string, good: Played, files: Files) {
  const spec = SHIPPED_SPECS[game];
  const { delivered, livery, template } = good;
  const paths = delivered.package ? [delivered.package] : delivered.files.map((file) => delivered.folder + file.name);
  const before = { slot: delivered.slot, files: new Map(paths.map((name) => [name, hashKept(good.files.get(name)!)])) };
  const reader = {
    names: [...files.keys()],
    read: async (name: string) => files.get(name) ?? null,
    hash: async (bytes: Uint8Array) => hashKept(bytes),
  };
  const target = await lookAtTarget(livery, template, spec, reader, before);
  const plan = planDelivery(livery, template, spec, target);
  const faults = folderFaults(plan, target.delivered, target.changed, reader.names);
  const taken = slots.run({ livery, template, spec, plan, target } as CheckInput);
  return [
    ...faults.map((fault) => `${fault.file} ${fault.says}`),
    ...taken.map((finding) => `${finding.title}. ${finding.detail}`),
  ];
}

/** A line for docs/mistakes.md: MISTAKES=docs/mistakes.md npx vitest run games.test.ts writes it anew. */
function note(game: string, what: string, preflight: string, bay: string): void {
  const file = process.env.MISTAKES;
  const cell = (text: string) => text.replaceAll('|', '/').replaceAll('\n', ' ');
  if (file) appendFileSync(file, `| ${bayGame(game)!.name} | ${what} | ${cell(preflight)} | ${cell(bay)} |\n`);
}

/** Mistakes of one of several files, which are told apart by it. */
const of = (file: string, mistakes: readonly Mistake[]): Mistake[] =>
  mistakes.map((mistake) => ({ ...mistake, what: `${file}: ${mistake.what}` }));

/** Every mistake is named by preflight and met by the game. */
function mistakesIn(game: string, good: () => Played, list: () => Mistake[]) {
  test('twenty single mistakes are each named by preflight and met by the game', async () => {
    const mistakes = list();
    expect(mistakes.length).toBeGreaterThanOrEqual(20);
    expect(await preflightOf(game, good(), good().files)).toEqual([]);
    expect(complaints(game, good().files, good()).lines).toEqual([]);
    for (const { what, spoil, looks, name } of mistakes) {
      const files: Files = new Map(good().files);
      spoil(files);
      const found = await preflightOf(game, good(), files);
      expect(found.length, `preflight names: ${what}`).toBeGreaterThan(0);
      if (name) expect(found.join('\n'), what).toMatch(/character \d+/);
      const { lines, sheets } = complaints(game, files, good());
      if (looks) {
        const other = sheets.some((sheet) => {
          const { sheets: own, plateTextures } = good().report;
          const shown = [...own, ...plateTextures].find((one) => one.key === sheet.key)!;
          return shown.status === 'shown' && !Buffer.from(sheet.pixels).equals(Buffer.from(shown.pixels));
        });
        expect(other, `the game shows something else: ${what}`).toBe(true);
        note(game, what, found[0], 'It shows what the file holds, which is not what was painted.');
      } else {
        expect(lines.length, `the game meets: ${what}`).toBeGreaterThan(0);
        note(game, what, found[0], lines[0]);
      }
    }
  });
}

const all = (report: BayReport, status: string) =>
  report.sheets.filter((sheet) => sheet.status === status).map((s) => s.key);

describe('Brackwater Run', () => {
  let good: Played;
  beforeAll(async () => {
    good = await play('turnstone', 'Mint Tern', [['fan']]);
  });
  const fan = 'wharf/turnstone/mint-tern/mint-tern_fan.dds';
  const toml = 'wharf/turnstone/mint-tern/finish.toml';

  test('shows what was delivered, as an independent decoder reads it', () => {
    expect(statusOf(good.report)).toEqual({ hull: 'own', deck: 'own', fan: 'shown' });
    expect(apart(good.report.sheets[2], readWithPillow(good.files.get(fan)!, 'dds'))).toBeLessThan(0.01);
  });
  mistakesIn(
    'brackwater-run',
    () => good,
    () => [
      ...misnamed(fan),
      ...misstored(fan, 16, 148),
      { what: 'BC7 linear', spoil: word(fan, 128, 98) },
      { what: 'a stray space in the key', spoil: said(toml, '"mint-tern"', '"mint-tern "') },
      { what: 'a broken list', spoil: said(toml, ']', '') },
      { what: 'a sheet that is claimed twice, and none of its own', spoil: said(toml, '"fan"', '"deck"') },
      { what: 'a sidecar of another name', spoil: moved(toml, toml.replace('finish', 'Finish')), name: true },
    ],
  );
});

describe('Brackwater Run, with its zones', () => {
  let good: Played;
  beforeAll(async () => {
    good = await play('turnstone', 'Mint Chrome', [['fan']], (template) => [
      {
        do: 'add-layer',
        sheet: 'fan',
        map: 'colour',
        index: (template.begin?.fan?.length ?? 0) + 1,
        layer: layerOf('stripe', {
          ...{ id: crypto.randomUUID(), x: 256, y: 256, width: 90, angle: 0, softness: 0 },
          ...{ paint: { hex: '#d0d0d0' }, finish: FIRST_FINISHES.find(({ kind }) => kind === 'chrome')!.id },
        }),
      },
    ]);
  });
  const at = 'wharf/turnstone/mint-chrome/';
  const coat = `${at}mint-chrome_fan_coatmap.dds`;
  const toml = `${at}finish.toml`;
  const HEADER = 128;

  test('reads each texel’s zone, and the values that belong to it', () => {
    expect(statusOf(good.report)).toMatchObject({ fan: 'shown', 'fan/zones': 'shown' });
    expect(good.report.facts.map(({ label }) => label)).toContain('trim');
  });

  mistakesIn(
    'brackwater-run',
    () => good,
    () => [
      // Without a coat map the game takes all of it for gloss, and knows no better.
      ...of('zones', [
        ...misnamed(coat).filter(({ what }) => what !== 'it is gone'),
        ...misstored(coat, 4, HEADER).filter(({ what }) => !/compression|header|upside/.test(what)),
        {
          what: 'a texel between two zones',
          spoil: changed(coat, (bytes) => void bytes.fill(0x77, HEADER, HEADER + 3)),
        },
        {
          what: 'levels that were averaged',
          spoil: changed(coat, (bytes) => void bytes.fill(0x90, bytes.length - 8, bytes.length - 5)),
        },
      ]),
      { what: 'a zone that is not there', spoil: said(toml, 'key = "trim"', 'key = "rim"') },
      { what: 'another colour of a zone', spoil: said(toml, '#2040d0', '#2040d1') },
      { what: 'a zone left out', spoil: said(toml, /\[\[zone\]\]\s*key = "trim"[^[]*/, '') },
      { what: 'a kind that the zone cannot be', spoil: said(toml, '"chrome"', '"glass"') },
      { what: 'a metal above one', spoil: said(toml, /metal = 1(\.0+)?\b/, 'metal = 1.5') },
      { what: 'a roughness in words', spoil: said(toml, /roughness = [0-9.]+/, 'roughness = "low"') },
    ],
  );
});
describe('Ninth Meridian', () => {
  let good: Played;
  beforeAll(async () => {
    good = await play('whimbrel', 'Rope Co', [['tail'], ['tail', 'night']]);
  });
  const wrap = 'wraps/rope-co/';
  const tail = `${wrap}rope-co_tail.dds`;

  test('is continued in its list, in the list’s own line ends, and everything else in it stays', () => {
    const list = new TextDecoder().decode(good.files.get('hangar.list'));
    const lines = list.split('\r\n');
    expect(lines.filter((line) => line.includes('\n'))).toEqual([]);
    expect(lines.slice(0, 14).join('\n')).toContain('title "Primer"');
    expect(lines.slice(14)).toEqual([
      'entry 2 {',
      '  title "Rope Co"',
      '  code "rope-co"',
      '  wrap "wraps/rope-co/"',
      '  registration "NM-417"',
      '  thumbnail "wraps/rope-co/thumbnail.jpg"',
      '}',
      '',
    ]);
    expect(good.report.facts).toContainEqual({ label: 'entry', value: '2' });
  });

  test('shows the tail by day and by night the right way up: stored upside down, alpha as painted', () => {
    expect(all(good.report, 'shown')).toEqual(['tail', 'tail/night']);
    const day = good.report.sheets.find((sheet) => sheet.key === 'tail')!;
    for (const read of [
      readWithPillow(good.files.get(tail)!, 'dds'),
      readWithImageMagick(good.files.get(tail)!, 'dds', 2048, 2048),
    ])
      expect(apart(day, read, true)).toBeLessThan(0.5);
    expect([...day.pixels.subarray((200 * 2048 + 200) * 4, (200 * 2048 + 200) * 4 + 3)].map((v) => v >> 4)).toEqual([
      11, 5, 2,
    ]);
  });

  test('has a picture for its list, 320 x 180', () => {
    const size = python(
      'import sys; from PIL import Image; im = Image.open(sys.argv[1]); print(im.format, im.size)',
      good.files.get(`${wrap}thumbnail.jpg`)!,
    );
    expect(size).toBe('JPEG (320, 180)');
  });

  test('a second delivery renews its own entry; another livery takes the next number', async () => {
    await edit(good.id, [{ do: 'set-particular', key: 'registration', value: 'NM-500' }]);
    await deliver(good.id);
    const other = await play('whimbrel', 'Saltglass', [['floats']]);
    const list = new TextDecoder().decode((await filesOf('ninth-meridian')).get('hangar.list'));
    expect(list.match(/entry \d+/g)).toEqual(['entry 0', 'entry 1', 'entry 2', 'entry 3']);
    expect(list).toContain('"NM-500"');
    expect(list).not.toContain('entry 2 {\r\n  title "Saltglass"');
    expect(other.report.facts).toContainEqual({ label: 'entry', value: '3' });
  });

  mistakesIn(
    'ninth-meridian',
    () => good,
    () => [
      ...misnamed(tail).filter(({ what }) => what !== 'it is gone'),
      ...misstored(tail, 16, 128),
      { what: 'a stray space in the list', spoil: said('hangar.list', '"rope-co"', '"rope-co" ') },
      { what: 'a number left out', spoil: said('hangar.list', 'entry 2', 'entry 4') },
      { what: 'a number twice', spoil: said('hangar.list', 'entry 2', 'entry 1') },
      { what: 'no end', spoil: said('hangar.list', /\}\r\n$/, '') },
      { what: 'a quote missing', spoil: said('hangar.list', 'NM-417"', 'NM-417') },
      { what: 'the folder in capitals', spoil: said('hangar.list', 'wrap "wraps/rope-co/"', 'wrap "wraps/Rope-co/"') },
      { what: 'a thumbnail that is no JPEG', spoil: word(`${wrap}thumbnail.jpg`, 0, 0) },
      // Without its night the game shows the tail unlit, and knows no better.
      ...of('night', [
        ...misnamed(`${wrap}rope-co_tail_night.dds`).filter(({ what }) => what !== 'it is gone'),
        ...misstored(`${wrap}rope-co_tail_night.dds`, 16, 128),
      ]),
    ],
  );
});

describe('Ferrywarden’s Oath', () => {
  let good: Played;
  const bale = 'bales/90-storm-coat.over.bale';
  const at = 'courier/wardrobe/courier_';
  beforeAll(async () => {
    good = await play('warden-courier', 'Storm coat', [['coat'], ['coat', 'normal'], ['coat', 'packed'], ['hair']]);
  });

  test('takes the next archive number, and names what it replaces', () => {
    expect(good.delivered).toMatchObject({ package: bale, slot: 17 });
    const held = unzipSync(good.files.get(bale)!);
    const manifest = JSON.parse(new TextDecoder().decode(held['bale.json'])) as { archive: number; replaces: string[] };
    expect(manifest.archive).toBe(17);
    expect([...manifest.replaces].sort()).toEqual(
      Object.keys(held)
        .filter((name) => name.endsWith('.tga'))
        .sort(),
    );
    expect(good.report.ignored).toEqual([]);
    expect(all(good.report, 'shown')).toEqual([
      'coat',
      'coat/normal',
      'coat/packed',
      'hair',
      'hair/wet',
      'hair/mirror',
    ]);
  });

  test('is a whole zip to another reader, its pictures the same to another decoder', () => {
    const bytes = good.files.get(bale)!;
    expect(python('import sys, zipfile; print(zipfile.ZipFile(sys.argv[1]).testzip())', bytes)).toBe('None');
    const held = unzipSync(bytes);
    for (const [key, name, side] of [
      ['coat', 'coat', 1024],
      ['hair', 'hair', 512],
    ] as const) {
      const sheet = good.report.sheets.find((one) => one.key === key)!;
      expect(apart(sheet, readWithImageMagick(held[`${at}${name}.tga`], 'tga', side, side))).toBe(0);
      expect(apart(sheet, readWithFfmpeg(held[`${at}${name}.tga`], 'tga', side, side))).toBe(0);
    }
  });

  test('the mirrored hair is the plain hair mirrored, and the normals have length one', () => {
    const sheet = (key: string) => good.report.sheets.find((one) => one.key === key)!;
    const [plain, mirror] = [sheet('hair').pixels, sheet('hair/mirror').pixels];
    for (let i = 0; i < 512; i += 7) {
      const [a, b] = [(100 * 512 + i) * 4, (100 * 512 + 511 - i) * 4];
      expect([...plain.subarray(a, a + 4)]).toEqual([...mirror.subarray(b, b + 4)]);
    }
    const normal = sheet('coat/normal').pixels;
    const [x, y, z] = [0, 1, 2].map((c) => normal[(100 * 1024 + 100) * 4 + c] / 127.5 - 1);
    expect(Math.abs(Math.sqrt(x * x + y * y + z * z) - 1)).toBeLessThan(0.02);
  });

  mistakesIn(
    'ferrywardens-oath',
    () => good,
    () => {
      const inBale = (what: string, spoil: (files: Files) => void, name?: true): Mistake => ({
        what,
        spoil: inside(bale, spoil),
        name,
      });
      const names = misnamed(`${at}coat.tga`).map(({ what, spoil, name }) => inBale(what, spoil, name));
      return [
        ...names,
        { what: 'the bale’s order', spoil: moved(bale, bale.replace('90-', '91-')), name: true },
        { what: 'the bale’s ending', spoil: moved(bale, bale.replace('.bale', '.bail')), name: true },
        { what: 'no .over', spoil: moved(bale, bale.replace('.over.', '.ovr.')), name: true },
        { what: 'cut off', spoil: changed(bale, (bytes) => bytes.slice(0, bytes.length >> 1)) },
        inBale('a comma missing', said('bale.json', '"order": 90,', '"order": 90')),
        inBale('a number of the game’s own', said('bale.json', '"archive": 17', '"archive": 7')),
        inBale('a number above 99', said('bale.json', '"archive": 17', '"archive": 117')),
        inBale('a name with a stray space', said('bale.json', '"Storm coat"', '"Storm coat "')),
        inBale('no manifest', (files) => void files.delete('bale.json')),
        inBale('a reference that leads nowhere', said('bale.json', 'courier_coat.tga', 'courier_cape.tga')),
        inBale('hair that did not follow', (files) => void files.delete(`${at}hair_wet.tga`)),
        inBale(
          'hair without alpha',
          changed(`${at}hair.tga`, (bytes) => void (bytes[16] = 24)),
        ),
        inBale(
          'twice as wide',
          changed(`${at}coat.tga`, (_, view) => view.setUint16(12, 2048, true)),
        ),
        // Without them the game bends nothing, and takes its own roughness: it knows no better.
        ...['n', 'orm'].flatMap((map) =>
          of(map === 'n' ? 'normals' : 'packed', [
            ...misnamed(`${at}coat_${map}.tga`)
              .filter(({ what }) => what !== 'it is gone')
              .map(({ what, spoil, name }) => inBale(what, spoil, name)),
            inBale(
              'cut off',
              changed(`${at}coat_${map}.tga`, (bytes) => bytes.slice(0, 30)),
            ),
            inBale(
              'half as high',
              changed(`${at}coat_${map}.tga`, (_, view) => view.setUint16(14, 512, true)),
            ),
            inBale(
              'not a TGA',
              changed(`${at}coat_${map}.tga`, (bytes) => void (bytes[2] = 77)),
            ),
          ]),
        ),
        inBale(
          'cut off inside',
          changed(`${at}coat.tga`, (bytes) => bytes.slice(0, 17)),
        ),
        {
          what: 'a second bale of its number',
          spoil: (files) => {
            inside(bale, () => {})(files);
            files.set('bales/90-other.over.bale', files.get(bale)!);
          },
        },
      ];
    },
  );
});

describe('Pebblewick', () => {
  let good: Played;
  const skin = 'skins/salt-marsh+ann-reed+0001.png';
  beforeAll(async () => {
    good = await play('pebblewick-level', 'Salt marsh', [['level']]);
  });

  test('shows the skin under its three-part name, and reads its twelve settings', () => {
    expect([...good.files.keys()]).toEqual([skin]);
    expect(apart(good.report.sheets[0], readWithPillow(good.files.get(skin)!, 'png'))).toBe(0);
    expect(good.report.facts.slice(2, 4)).toEqual([
      { label: 'Sea fog', value: '50 %', hex: '#b9ccd6' },
      { label: 'Lamp glow', value: '75 %', hex: '#ffd9a0' },
    ]);
    expect(good.report.facts.at(-1)).toMatchObject({ label: 'Tint', value: 'gone' });
  });

  test('another skin of that name takes the next number', async () => {
    const again = await play('pebblewick-level', 'Salt marsh', [['level']]);
    expect(again.delivered.files.map((file) => file.name)).toEqual(['salt-marsh+ann-reed+0002.png']);
  });

  mistakesIn(
    'pebblewick',
    () => good,
    () => {
      const to = (name: string, what: string): Mistake => ({ what, spoil: moved(skin, `skins/${name}`), name: true });
      return [
        ...misnamed(skin).filter(({ what }) => !/letter/.test(what)),
        to('Salt-marsh+ann-reed+0001.png', 'a capital in the skin'),
        to('salt_marsh+ann-reed+0001.png', 'an underscore'),
        to('salt marsh+ann-reed+0001.png', 'a space between words'),
        to('salt-marsh-ann-reed+0001.png', 'a hyphen between fields'),
        to('salt--marsh+ann-reed+0001.png', 'two hyphens'),
        to('salt-marsh+ann-reed+001.png', 'a number of three digits'),
        to('salt-marsh+ann-reed+00001.png', 'a number of five digits'),
        to('salt-marsh+ann-reed+0001.jpg', 'another ending'),
        { what: 'in a deeper folder', spoil: moved(skin, skin.replace('skins/', 'skins/mine/')) },
        { what: 'not a PNG', spoil: word(skin, 0, 0) },
        { what: 'cut off', spoil: changed(skin, (bytes) => bytes.slice(0, -200)) },
        { what: 'empty', spoil: (files) => void files.set(skin, new Uint8Array()) },
        { what: 'half as wide', spoil: changed(skin, (_, view) => view.setUint32(16, 512)) },
        { what: 'without alpha', spoil: changed(skin, (bytes) => void (bytes[25] = 2)) },
        { what: 'sixteen bits', spoil: changed(skin, (bytes) => void (bytes[24] = 16)) },
        { what: 'interlaced', spoil: changed(skin, (bytes) => void (bytes[28] = 1)) },
      ];
    },
  );
});

describe('Marshkin', () => {
  let good: Played;
  const crate = 'crates/glow.crate';
  const at = 'pack/lampkin/glow/';
  beforeAll(async () => {
    good = await play('lampkin', 'Glow', [['skin']]);
  });

  test('shows the skin from its crate, every texel as another decoder reads it', () => {
    expect(good.report).toMatchObject({ title: 'Glow', ignored: [] });
    const held = unzipSync(good.files.get(crate)!);
    expect(Object.keys(held).sort()).toEqual([`${at}label.json`, `${at}skin.png`]);
    expect(apart(good.report.sheets[0], readWithPillow(held[`${at}skin.png`], 'png'))).toBe(0);
    expect(python('import sys, json; print(json.load(open(sys.argv[1]))["by"])', held[`${at}label.json`])).toBe(
      'Ann Reed',
    );
  });

  mistakesIn(
    'marshkin',
    () => good,
    () => {
      const inCrate = (what: string, spoil: (files: Files) => void, name?: true): Mistake => ({
        what,
        spoil: inside(crate, spoil),
        name,
      });
      const label = `${at}label.json`;
      const skin = `${at}skin.png`;
      return [
        ...misnamed(skin).map(({ what, spoil, name }) => inCrate(what, spoil, name)),
        { what: 'the crate in capitals', spoil: moved(crate, 'crates/Glow.crate'), name: true },
        { what: 'a space in the crate’s name', spoil: moved(crate, 'crates/gl ow.crate'), name: true },
        { what: 'another ending', spoil: moved(crate, 'crates/glow.crat'), name: true },
        { what: 'cut off', spoil: changed(crate, (bytes) => bytes.slice(0, 40)) },
        inCrate('the label in capitals', moved(label, `${at}Label.json`), true),
        inCrate('no label', (files) => void files.delete(label)),
        inCrate('a comma missing', said(label, '"Glow",', '"Glow"')),
        inCrate('a stray space', said(label, '"Glow"', '"Glow "')),
        inCrate('another creature', said(label, '"lampkin"', '"lampfin"')),
        inCrate('a skin that is not there', said(label, 'skin.png', 'skins.png')),
        inCrate(
          'twice as wide',
          changed(skin, (_, view) => view.setUint32(16, 192)),
        ),
        inCrate(
          'without alpha',
          changed(skin, (bytes) => void (bytes[25] = 2)),
        ),
        inCrate('not a PNG', word(skin, 0, 0)),
        inCrate('a working file', (files) => void files.set(`${at}skin.psd`, new Uint8Array(9))),
      ];
    },
  );
});

describe('Tollbarge', () => {
  let good: Played;
  let before: Uint8Array;
  const sails = 'barges/sails.dds';
  beforeAll(async () => {
    before = (await filesOf('tollbarge')).get(sails)!;
    good = await play('toll-sails', 'Ebb sail', [['sails']]);
  });

  test('has the painted cell and, block for block, every other cell as it was', () => {
    const after = good.files.get(sails)!;
    expect(after).toHaveLength(before.length);
    const cells = new Set<number>();
    let at = 128;
    for (let level = 0, side = 1024; side >= 1; level++, side >>= 1) {
      const blocks = Math.max(1, side / 4);
      const cell = side / 4;
      for (let b = 0; b < blocks * blocks; b++, at += 8) {
        if (Buffer.from(after.subarray(at, at + 8)).equals(Buffer.from(before.subarray(at, at + 8)))) continue;
        cells.add(Math.floor(((b % blocks) * 4) / cell) + 4 * Math.floor((Math.floor(b / blocks) * 4) / cell));
        expect(cell, `level ${level}: only whole blocks of one cell change`).toBeGreaterThanOrEqual(4);
      }
    }
    expect([...cells]).toEqual([0]);
    expect(Buffer.from(after.subarray(0, 128)).equals(Buffer.from(before.subarray(0, 128)))).toBe(true);
    expect(apart(good.report.sheets[0], readWithPillow(after, 'dds'))).toBeLessThan(0.5);
  });

  test('what it replaced can be put back, and then the game’s own file is as it was', async () => {
    expect(good.delivered.replaced.map((file) => file.name)).toEqual([sails]);
    const { body } = await server.post<{ state: string; left: string[] }>(`/deliveries/${good.delivered.id}/take-back`);
    expect([body.state, body.left]).toEqual(['taken-back', []]);
    expect(Buffer.from((await filesOf('tollbarge')).get(sails)!).equals(Buffer.from(before))).toBe(true);
    const again = await server.post<{ error: string }>(`/deliveries/${good.delivered.id}/take-back`);
    expect([again.status, again.body.error]).toEqual([400, 'Only a finished delivery can be taken back.']);
  });

  mistakesIn(
    'tollbarge',
    () => good,
    () => [
      ...misnamed(sails),
      ...misstored(sails, 8, 128).filter(({ looks }) => !looks),
      { what: 'the folder in capitals', spoil: moved(sails, 'Barges/sails.dds') },
      { what: 'in a deeper folder', spoil: moved(sails, 'barges/new/sails.dds') },
      { what: 'another kind of header', spoil: word(sails, 4, 100) },
    ],
  );
});

describe('Harbour Watch', () => {
  let good: Played;
  const at = 'liveries/launch-22/launch-22_house';
  beforeAll(async () => {
    good = await play('dunlin', 'Patrol', [['house']]);
  });

  test('takes the next free slot, in both sizes, under the names that the game knows', () => {
    expect(good.delivered).toMatchObject({ slot: 22, folder: 'liveries/launch-22/' });
    expect(good.delivered.files.map((file) => file.name)).toEqual(['launch-22_house.dds', 'launch-22_house_large.dds']);
    expect(all(good.report, 'shown')).toEqual(['house', 'house/far']);
    const [near, far] = ['house', 'house/far'].map((key) => good.report.sheets.find((sheet) => sheet.key === key)!);
    expect([near.width, far.width]).toEqual([2048, 512]);
    expect(apart(near, readWithPillow(good.files.get(`${at}_large.dds`)!, 'dds'))).toBeLessThan(0.5);
    expect(apart(far, readWithImageMagick(good.files.get(`${at}.dds`)!, 'dds', 512, 512))).toBeLessThan(0.6);
  });

  test('keeps its slot at the next delivery; a slot that others hold stops it with a free one to take', async () => {
    expect((await deliver(good.id)).slot).toBe(22);
    await edit(good.id, [{ do: 'set-particular', key: 'slot', value: '21' }]);
    interface Finding {
      check: string;
      level: string;
      detail: string;
      fix?: { label: string; edit: object };
    }
    const { preflight } = await server.get<{ preflight: { findings: Finding[] } }>(`/liveries/${good.id}/preflight`);
    const [finding] = preflight.findings.filter((one) => one.check === 'slots');
    expect([finding.level, finding.fix!.label]).toEqual(['stop', 'Take 22']);
    expect(finding.detail).toMatch(/launch-21_bow/);
    await edit(good.id, [finding.fix!.edit]);
    expect((await deliver(good.id)).slot).toBe(22);
  });

  mistakesIn(
    'harbour-watch',
    () => good,
    () => [
      ...misnamed(`${at}_large.dds`),
      ...misstored(`${at}.dds`, 8, 128),
      {
        what: 'a slot above 39',
        spoil: (files) => {
          for (const end of ['.dds', '_large.dds']) moved(at + end, `liveries/launch-40/launch-40_house${end}`)(files);
        },
      },
      {
        what: 'a slot in capitals',
        spoil: (files) => {
          for (const end of ['.dds', '_large.dds']) moved(at + end, `liveries/Launch-22/launch-22_house${end}`)(files);
        },
      },
      {
        what: 'small and large changed about',
        spoil: (files) => {
          const [small, large] = [files.get(`${at}.dds`)!, files.get(`${at}_large.dds`)!];
          files.set(`${at}.dds`, large).set(`${at}_large.dds`, small);
        },
      },
    ],
  );
});

describe('Longhaul', () => {
  let good: Played;
  const at = 'wagons/brock/saltglass-works/';
  const body = `${at}saltglass-works_body.dds`;
  beforeAll(async () => {
    good = await play('brock', 'Saltglass Works', [['body']]);
  });

  test('follows its chain from the wagon over the material to the sheet', () => {
    expect(statusOf(good.report)).toEqual({ body: 'shown', tracks: 'own' });
    expect(apart(good.report.sheets[0], readWithPillow(good.files.get(body)!, 'dds'))).toBeLessThan(0.5);
    for (const name of ['wagon.xml', 'body.material.xml'])
      expect(
        python(
          'import sys, xml.dom.minidom as m; print(m.parse(sys.argv[1]).documentElement.tagName)',
          good.files.get(at + name)!,
        ),
      ).toBe(name === 'wagon.xml' ? 'wagon' : 'material');
    expect(good.report.facts).toContainEqual({ label: 'plates', value: 'none: wagon.xml names no plates' });
    expect([...good.files.keys()].filter((name) => name.startsWith(at) && name.includes('plate'))).toEqual([]);
  });

  mistakesIn(
    'longhaul',
    () => good,
    () => [
      ...misnamed(body),
      ...misstored(body, 16, 128),
      { what: 'the wagon in capitals', spoil: moved(`${at}wagon.xml`, `${at}Wagon.xml`), name: true },
      { what: 'a material that is gone', spoil: (files) => void files.delete(`${at}body.material.xml`) },
      { what: 'a link to another material', spoil: said(`${at}wagon.xml`, 'body.material', 'boby.material') },
      { what: 'a link to another sheet', spoil: said(`${at}body.material.xml`, '_body', '_Body') },
      { what: 'a part that is not there', spoil: said(`${at}wagon.xml`, 'part="body"', 'part="hull"') },
      { what: 'another model', spoil: said(`${at}wagon.xml`, 'brock.mesh', 'brook.mesh') },
      { what: 'XML that does not end', spoil: said(`${at}wagon.xml`, '</wagon>', '') },
      { what: 'a name with a stray space', spoil: said(`${at}wagon.xml`, 'Works"', 'Works "') },
    ],
  );
});

describe('Longhaul, with plates', () => {
  let good: Played;
  const at = 'wagons/brock/oakum-pitch/';
  const list = `${at}plates.json`;
  const board = `${at}oakum-pitch_plate_board.dds`;
  const shared = `${at}oakum-pitch_plates.dds`;
  /** Fitted to the surface where it is put. */
  const plateOf = (template: Template, rest: Partial<Plate>): SingleEdit => {
    const plate = Plate.parse({
      ...{ name: 'Board', sheet: 'plates', left: 0, top: 0, width: 256, height: 128, at: [-1.2, 1.55, 0.93] },
      ...{ facing: [0, 0, 1], up: [0, 1, 0], across: 0.4, lift: 0, form: { kind: 'flat' }, id: crypto.randomUUID() },
      ...rest,
    });
    return { do: 'add-plate', plate: { ...plate, ...fitPlate(plate, template) } };
  };
  const over = { normal: [0, 0, 1] as [number, number, number], offset: 0, readable: true };

  beforeAll(async () => {
    good = await play('brock', 'Oakum Pitch', [['body']], (template) => {
      const disc = (x: number, y: number, r: number, hex: string): SingleEdit => ({
        ...{ do: 'add-layer', sheet: 'plates', map: 'colour', index: 0 },
        layer: layerOf('shape', {
          ...{ id: crypto.randomUUID(), paint: { hex }, x: 0, y: 0, line: null },
          paths: [
            {
              ...{ closed: true, how: 'add' },
              knots: [0, 1, 2, 3, 4, 5].map((k) => ({
                x: x + r * Math.cos((k * Math.PI) / 3),
                y: y + r * Math.sin((k * Math.PI) / 3),
                smooth: true,
              })),
            },
          ],
        }),
      });
      return [
        disc(128, 64, 56, '#d9a441'),
        disc(400, 64, 50, '#2f9d8f'),
        plateOf(template, { own: true, partner: over }),
        plateOf(template, {
          name: 'Nose mark',
          left: 320,
          width: 160,
          at: [2.4, 1.2, 0],
          facing: [1, 0.3, 0],
          across: 0.6,
        }),
        plateOf(template, {
          name: 'Roof',
          left: 320,
          width: 160,
          at: [-1.9, 2.12, 0.3],
          facing: [0, 1, 0],
          up: [1, 0, 0],
        }),
      ];
    });
  });

  test('are shown where they were put, on both sides, with what was painted (by the game’s own code)', () => {
    const { report, livery, template } = good;
    expect(report.plates.map(({ name, status, why }) => `${name} ${status}${why}`)).toEqual([
      'board shown',
      'board-other shown',
      'nose-mark shown',
      'roof shown',
    ]);
    expect(report.facts).toContainEqual({ label: 'plates', value: '4 of 4' });
    standingPlates(livery).forEach((stands, n) => {
      const [ours, theirs] = [meshOfPlate(stands, template), report.plates[n].mesh];
      expect(theirs.positions.length).toBe(ours.positions.length);
      ours.positions.forEach((v, i) => expect(theirs.positions[i]).toBeCloseTo(v, 5));
      ours.normals.forEach((v, i) => expect(theirs.normals[i]).toBeCloseTo(v, 4));
    });
    // Of the shared texture a window, of its own all.
    expect(report.plates[2].mesh.uvs.slice(0, 2)).toEqual([0.3125, 0]);
    expect(report.plates[0].mesh.uvs.slice(0, 2)).toEqual([0, 0]);
    for (const [file, width, height] of [
      [board, 256, 128],
      [shared, 1024, 1024],
    ] as const) {
      const shown = report.plateTextures.find((one) => file.endsWith(one.file))!;
      const pillow = readWithPillow(good.files.get(file)!, 'dds');
      expect([pillow.width, pillow.height]).toEqual([width, height]);
      expect(apart(shown, pillow)).toBeLessThan(0.5);
      // Gold in the middle of the one, nothing in its corner, and gold under what is clear beside the edge.
      if (file !== board) continue;
      const texel = (x: number, y: number) => [...pillow.data.subarray((y * width + x) * 4, (y * width + x) * 4 + 4)];
      expect(texel(128, 64).map((v, c) => Math.abs(v - [217, 164, 65, 255][c]) < 12)).toEqual([true, true, true, true]);
      expect(texel(128, 2)[3]).toBe(0);
      expect(texel(128, 2).map((v, c) => c === 3 || Math.abs(v - [217, 164, 65][c]) < 16)).not.toContain(false);
    }
    // What it says is JSON to others too, and its XML names it.
    expect(python('import sys, json; print(len(json.load(open(sys.argv[1]))["plates"]))', good.files.get(list)!)).toBe(
      '4',
    );
    expect(new TextDecoder().decode(good.files.get(`${at}wagon.xml`))).toContain('<plates file="plates.json"/>');
  });

  test('one that stands in the body is stopped by preflight, and refused by the game', async () => {
    const sunk = good.livery.plates!.map((plate) => ({ ...plate, at: [plate.at[0], plate.at[1], 0.7] as Plate['at'] }));
    const { findings } = await looked({ ...good.livery, plates: [sunk[0]] });
    const [stop] = findings.filter(({ check }) => check === 'plates');
    expect(stop).toMatchObject({
      level: 'stop',
      title: expect.stringMatching(/“Board” lies up to \d+ mm in the model/),
    });
    // What it offers mends it.
    for (const fix of [stop.fix!, stop.otherFix!]) {
      const mended = applyEdit({ ...good.livery, plates: [sunk[0]] }, fix.edit).livery;
      expect(
        (await looked(mended)).findings.filter(({ check, level }) => check === 'plates' && level === 'stop'),
      ).toEqual([]);
    }
  });

  async function looked(livery: Livery) {
    const { template } = good;
    const spec = SHIPPED_SPECS.longhaul;
    const plan = planDelivery(livery, template, spec);
    const sources = await sourcesFor(livery, template);
    return { findings: plates.run({ livery, template, spec, plan, target: NO_TARGET, sources } as CheckInput) };
  }

  test('a game that takes none leaves them, and says so', async () => {
    const { plates: _plates, ...none } = SHIPPED_SPECS.longhaul;
    const { livery, template } = good;
    const plan = planDelivery(livery, template, none as DeliverySpec);
    expect(plan.files.filter(({ name }) => name.includes('plate') && !name.endsWith('plates.dds'))).toEqual([]);
    expect(plan.files.filter((file) => file.kind === 'sheet' && file.master.key === 'plates' && !file.leftOut)).toEqual(
      [],
    );
    const sources = await sourcesFor(livery, template);
    const [told] = plates.run({
      livery,
      template,
      spec: none,
      plan,
      target: NO_TARGET,
      sources,
    } as unknown as CheckInput);
    expect(told.title).toBe('Longhaul takes no plates');
  });

  mistakesIn(
    'longhaul',
    () => good,
    () => [
      ...misnamed(board),
      ...misstored(board, 16, 128),
      { what: 'the list of plates is gone', spoil: (files) => void files.delete(list) },
      { what: 'the list of plates in capitals', spoil: moved(list, `${at}Plates.json`), name: true },
      { what: 'a list of plates that does not end', spoil: said(list, /\]\s*\}\s*$/, '') },
      { what: 'another list of plates', spoil: said(`${at}wagon.xml`, 'plates.json', 'plate.json') },
      { what: 'a link to another texture', spoil: said(list, 'plate_board', 'plate_bord') },
      { what: 'a partner of none', spoil: said(list, '"partner_of": "board"', '"partner_of": "bord"') },
      { what: 'two plates of one name', spoil: said(list, '"name": "roof"', '"name": "board"') },
      { what: 'a plate far away', spoil: said(list, /"position": \[[^,]*/, '"position": [99999') },
      { what: 'a plate turned inside out', spoil: said(list, /"scale": \[/, '"scale": [-') },
      { what: 'a turn in words', spoil: said(list, /"turn": \[[^,]*/, '"turn": ["left"') },
      { what: 'a window without size', spoil: said(list, /"window": \[[^\]]*/, '"window": [0, 0, 0, 1') },
      { what: 'a window upside down', spoil: said(list, /"window": \[[^\]]*/, '"window": [0, 1, 1, 0') },
      {
        what: 'a plate bent round itself',
        spoil: said(list, /"about": "[a-z]*", "radius": [-\d.]+/, '"about": "up", "radius": 2'),
      },
      { what: 'a plate in a thousand pieces', spoil: said(list, /"pieces": \d+/, '"pieces": 1000') },
      { what: 'a plate that cuts into the body', spoil: said(list, /("position": \[[^,]*), -\d+/, '$1, -85') },
      { what: 'something that the game does not know', spoil: said(list, '"group"', '"colour": "red", "group"') },
    ],
  );

  test('whatever is in the list, it is read or named, in no time', () => {
    const text = new TextDecoder().decode(good.files.get(list)!);
    const nested = `{"plates":${'['.repeat(20_000)}${']'.repeat(20_000)}}`;
    const many = `{"plates":[${Array.from({ length: 50_000 }, () => '{}').join()}]}`;
    const huge = text.replace(/"position": \[[^\]]*/, '"position": [1e308, -1e308, 1e309');
    const spoilt = fc.sample(fc.tuple(fc.nat(text.length - 1), fc.string({ maxLength: 3 })), 400);
    const each = [
      nested,
      many,
      huge,
      'null',
      '[]',
      '{"plates":7}',
      '\ufeff',
      ...spoilt.map(([i, put]) => text.slice(0, i) + put + text.slice(i + 1)),
    ];
    // Without the textures, which would be decoded each time.
    const bare: Files = new Map([...good.files].filter(([name]) => !name.endsWith('.dds')));
    const load = (files: Files) => bayGame('longhaul')!.load(files, good.report.livery, good.template.mesh);
    const before = load(bare).sheets.map(({ status }) => status);
    for (const one of each) {
      const report = load(new Map(bare).set(list, new TextEncoder().encode(one)));
      expect(report.plates.length).toBeLessThanOrEqual(40);
      for (const { mesh } of report.plates) expect(mesh.positions.every(Number.isFinite)).toBe(true);
      expect(report.sheets.map(({ status }) => status)).toEqual(before);
    }
  });
});

describe('specs that painters make', () => {
  const own = { ...SHIPPED_SPECS.marshkin, key: 'marshkin-own', gameName: 'Marshkin, our den' };
  const post = (document: unknown) => server.post<{ error?: string; version?: number }>('/specs', document);

  test('are kept by version; what is none, a shipped key, and a version twice are refused in one sentence', async () => {
    expect(await post(own)).toMatchObject({ status: 201, body: { version: 1 } });
    expect((await post(own)).body.error).toMatch(/^Version 1 of "marshkin-own" exists already/);
    expect((await post({ ...own, key: 'marshkin' })).body.error).toMatch(/came with Wet Lacquer/);
    expect((await post({ ...own, folder: 'pack' })).body.error).toMatch(/folder: the folder ends with a slash/);
    expect((await post({ ...own, files: [{ ...own.files[0], format: 'bc9' }] })).body.error).toMatch(/files.0.format/);
    expect((await post([])).status).toBe(400);
    expect(await post({ ...own, version: 2, package: { name: 'crates/our-{livery.key}.crate' } })).toMatchObject({
      status: 201,
    });
    const cards = await server.get<{ key: string; from: string; version: number }[]>('/specs');
    expect(cards.filter(({ from }) => from === 'made')).toMatchObject([{ key: 'marshkin-own', version: 2 }]);
    expect(cards.filter(({ from }) => from === 'shipped')).toHaveLength(8);
  });

  test('are tried on a livery without being kept', async () => {
    const { id } = await play('lampkin', 'Ember', [['skin']]);
    const spec = { ...own, key: 'never-kept', folder: 'pack/{slot}/' };
    const wrong = await server.post<{ error: string }>('/specs/trial', { spec, livery: id });
    expect([wrong.status, wrong.body.error]).toEqual([
      400,
      'The name pattern "pack/{slot}/" asks for "slot", which is not known.',
    ]);
    const good = await server.post<{ folder: string; files: { name: string }[] }>('/specs/trial', {
      spec: own,
      livery: id,
    });
    expect(good.body.folder).toBe('pack/lampkin/ember/');
    expect(good.body.files.map((file) => file.name)).toEqual(['skin.png', 'label.json']);
  });

  test('deliver a livery that is put on one, and go along in its bundle', async () => {
    const { id, livery } = await play('lampkin', 'Cinder', [['skin']]);
    const spec = { key: 'marshkin-own', version: 2 };
    await edit(id, [{ do: 'take-template', template: livery.pins.template, spec, sheets: [] }]);
    const done = await deliver(id);
    expect([done.error, done.package]).toEqual([null, 'crates/our-cinder.crate']);
    const bytes = new Uint8Array(await (await fetch(`${server.url}/api/liveries/${id}/bundle`)).arrayBuffer());
    const held = JSON.parse(new TextDecoder().decode(unzipSync(bytes)['spec.json'])) as {
      key: string;
      version: number;
    };
    expect([held.key, held.version]).toEqual(['marshkin-own', 2]);
    const opened = await fetch(`${server.url}/api/liveries/open`, { method: 'POST', body: bytes });
    const again = ((await opened.json()) as { id: string }).id;
    expect((await deliver(again)).package).toBe('crates/our-cinder.crate');
  });
});

test('two deliveries at once to one list: the later one is encoded again with what the first wrote', async () => {
  const [a, b] = await Promise.all([
    play('whimbrel', 'First up', [['floats']]),
    play('whimbrel', 'Second up', [['floats']]),
  ]);
  const list = new TextDecoder().decode((await filesOf('ninth-meridian')).get('hangar.list'));
  for (const livery of [a, b]) expect(list).toContain(`"wraps/${livery.report.livery}/"`);
  const numbers = [...list.matchAll(/entry (\d+)/g)].map((match) => Number(match[1]));
  expect(numbers).toEqual(numbers.map((_, i) => i));
});

test('a repeat stops where others have changed what it continued, and nothing is written', async () => {
  const { id } = await play('whimbrel', 'Third up', [['floats']]);
  const [last] = await server.get<Delivered[]>(`/liveries/${id}/deliveries`);
  await play('whimbrel', 'Fourth up', [['floats']]);
  const { body } = await server.post<Delivered>(`/deliveries/${last.id}/repeat`);
  const done = await until(
    () => server.get<Delivered>(`/deliveries/${body.id}`),
    (d) => ['done', 'failed'].includes(d.state),
  );
  expect(done).toMatchObject({
    state: 'failed',
    error: expect.stringMatching(/^hangar.list has been changed since by others/),
  });
  expect(new TextDecoder().decode((await filesOf('ninth-meridian')).get('hangar.list'))).toContain('Fourth up');
});

test('the delivery note names every file with its SHA-256', async () => {
  const { delivered, files } = await play('brock', 'Noted', [['body']]);
  const note = await server.get<{ files: { name: string; sha256: string }[]; spec: object }>(
    `/deliveries/${delivered.id}/note`,
  );
  expect(note.spec).toEqual({ key: 'longhaul', version: 2 });
  expect(note.files.map((file) => [file.name, file.sha256])).toEqual(
    delivered.files.map((file) => [delivered.folder + file.name, hashOf(files.get(delivered.folder + file.name)!)]),
  );
});
