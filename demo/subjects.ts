/** The seven other subjects of the demo world, each with the quirks that its game has. */
import { SHIPPED_SPECS } from '../packages/core/src/delivery/specs.ts';
import type { DeliverySpec } from '../packages/core/src/livery/spec.ts';
import { Template, type ParameterBox, type TemplateSheet } from '../packages/core/src/livery/template.ts';
import { proposeRun } from '../packages/core/src/surface/runs.ts';
import { ground, hairArt, sailArt, type Drawing } from './originals.ts';
import { meshOf, type Patch, type Vec } from './patches.ts';

/** A template, and the drawings of its originals by sheet or `sheet/map`. */
export interface Subject {
  template: Omit<Template, 'begin'>;
  originals: Record<string, Drawing>;
}

const sheet = (key: string, side: number, more: Partial<TemplateSheet> = {}): TemplateSheet => ({
  key,
  name: key,
  width: side,
  height: side,
  alpha: 'none',
  axis: null,
  ...more,
});

function subject(
  key: string,
  name: string,
  rules: DeliverySpec,
  sheets: TemplateSheet[],
  patches: Patch[],
  originals: Subject['originals'] = {},
  more: Partial<Template> = {},
): Subject {
  const size = Object.fromEntries(sheets.map((s) => [s.key, [s.width, s.height] as const]));
  const document = {
    schema: 1 as const,
    key,
    name,
    game: rules.game,
    gameName: rules.gameName,
    spec: { key: rules.key, version: rules.version },
    sheets,
    ...meshOf(patches, size),
    ownSpec: rules,
    ...more,
  };
  return { template: Template.parse(document), originals };
}

type Box = readonly [x: number, y: number, width: number, height: number];

/** A patch whose island fills a box of its sheet. */
function panel(
  name: string,
  on: string | null,
  box: Box,
  at: Patch['at'],
  more: Partial<Pick<Patch, 'columns' | 'rows' | 'inside' | 'hex'>> & { mirrored?: boolean } = {},
): Patch {
  const { mirrored, ...rest } = more;
  const [x, y, width, height] = box;
  const key = name.replace(/[^a-z0-9]+/gi, '-').toLowerCase();
  const uv: Patch['uv'] = (u, v) => [x + (mirrored ? 1 - u : u) * width, y + v * height];
  return { key, name, sheet: on, hex: null, columns: 1, rows: 1, at, uv, ...rest };
}

/** A flat four-cornered patch: top left, top right, bottom right, bottom left as it is seen from outside. */
const quad =
  (a: Vec, b: Vec, c: Vec, d: Vec): Patch['at'] =>
  (u, v) =>
    [0, 1, 2].map((k) => (a[k] * (1 - u) + b[k] * u) * (1 - v) + (d[k] * (1 - u) + c[k] * u) * v) as unknown as Vec;

/** A tube along a line, `radius` by how far along; seen from outside, u runs around and v along. */
const tube =
  (from: Vec, to: Vec, radius: (t: number) => number, flat = 1): Patch['at'] =>
  (u, v) => {
    const axis = [0, 1, 2].map((k) => to[k] - from[k]);
    const length = Math.hypot(...axis);
    const w = axis.map((value) => value / length);
    const side = Math.abs(w[1]) > 0.9 ? [1, 0, 0] : [0, 1, 0];
    const p = [w[1] * side[2] - w[2] * side[1], w[2] * side[0] - w[0] * side[2], w[0] * side[1] - w[1] * side[0]];
    const pl = Math.hypot(...p);
    const q = [w[1] * p[2] - w[2] * p[1], w[2] * p[0] - w[0] * p[2], w[0] * p[1] - w[1] * p[0]];
    const [c, s] = [Math.cos(2 * Math.PI * u), Math.sin(2 * Math.PI * u)];
    return [0, 1, 2].map(
      (k) => from[k] + axis[k] * v + radius(v) * ((p[k] / pl) * c + (q[k] / pl) * s * flat),
    ) as unknown as Vec;
  };

// Ninth Meridian: the hull is one unrolled skin, cut amidships into two sheets; every sheet has a lamp-lit night map.
export function whimbrel(): Subject {
  const night = { maps: [{ key: 'night', name: 'Night', alpha: 'none' as const }] };
  const beam = (x: number) =>
    0.62 * (1 - Math.abs(x - 0.4) ** 3 / 120) * (x > 2.6 ? Math.sqrt(Math.max(0.02, (3.4 - x) / 0.8)) : 1);
  /** From starboard keel over the spine to port keel, so that the port side reads the right way up with the bow left. */
  const skin = (x: number, around: number): Vec => {
    // 0 is straight up; the seam runs along the keel.
    const angle = Math.PI * (0.92 - 1.84 * around);
    const r = beam(x);
    return [x, 1.5 + (Math.cos(angle) * 0.9 + 0.25) * r, Math.sin(angle) * r];
  };
  const density = 290;
  const hull = (name: string, on: string, from: number, to: number, left: number): Patch => ({
    ...panel(name, on, [0, 0, 1, 1], (u, v) => skin(from + (to - from) * u, v), { columns: 18, rows: 20 }),
    uv: (u, v) => [left + u * Math.abs(to - from) * density, 424 + v * 1200],
  });
  const fin = quad([-3.2, 3.2, 0], [-4.1, 3.2, 0], [-4.2, 1.7, 0], [-2.7, 1.7, 0]);
  const finStarboard = quad([-4.1, 3.2, 0.03], [-3.2, 3.2, 0.03], [-2.7, 1.7, 0.03], [-4.2, 1.7, 0.03]);
  const wing = (y: number, front: number, back: number) =>
    quad([front, y, -5.2], [front, y, 5.2], [back, y, 5.2], [back, y, -5.2]);
  const float = (z: number) =>
    tube([2.6, 0.1, z], [-2.4, 0.1, z], (t) => 0.34 * Math.sin(Math.PI * (0.12 + 0.8 * t)) ** 0.6);
  const patches = [
    hull('bow skin', 'bow', 3.4, -0.3, 60),
    hull('stern skin', 'stern', -0.3, -4.2, 40),
    panel('fin, port', 'tail', [60, 60, 800, 800], fin),
    panel('fin, starboard', 'tail', [940, 60, 800, 800], finStarboard),
    panel(
      'tailplane, top',
      'tail',
      [60, 1000, 1500, 420],
      quad([-3.2, 1.9, -1.7], [-3.2, 1.9, 1.7], [-4.1, 1.9, 1.7], [-4.1, 1.9, -1.7]),
    ),
    panel(
      'tailplane, under',
      'tail',
      [60, 1500, 1500, 420],
      quad([-4.1, 1.87, -1.7], [-4.1, 1.87, 1.7], [-3.2, 1.87, 1.7], [-3.2, 1.87, -1.7]),
    ),
    panel('wing, top', 'wings', [24, 60, 2000, 460], wing(2.45, 1.3, -0.5), { columns: 8, rows: 2 }),
    panel('wing, under', 'wings', [24, 600, 2000, 460], (u, v) => wing(2.38, 1.3, -0.5)(u, 1 - v), {
      columns: 8,
      rows: 2,
    }),
    // On purpose: both floats wear one island, the port one mirrored.
    panel('float, starboard', 'floats', [60, 60, 1000, 1900], float(1.5), { columns: 14, rows: 12 }),
    panel('float, port (mirrored)', 'floats', [60, 60, 1000, 1900], (u, v) => float(-1.5)(1 - u, v), {
      columns: 14,
      rows: 12,
      inside: true,
    }),
    panel(
      'struts',
      null,
      [0, 0, 1, 1],
      tube([0.6, 0.3, 1.5], [0.4, 2.4, 2.2], () => 0.05),
      { columns: 6, hex: '#5a6268' },
    ),
    panel(
      'struts, port',
      null,
      [0, 0, 1, 1],
      tube([0.6, 0.3, -1.5], [0.4, 2.4, -2.2], () => 0.05),
      { columns: 6, hex: '#5a6268' },
    ),
  ];
  const rules = SHIPPED_SPECS['ninth-meridian'];
  const sheets = [
    sheet('bow', 2048, { ...night, axis: { kind: 'horizontal', at: 1024 } }),
    sheet('stern', 2048, { ...night, axis: { kind: 'horizontal', at: 1024 } }),
    sheet('tail', 2048, { ...night, alpha: 'cutout' }),
    sheet('wings', 2048, { ...night, axis: { kind: 'vertical', at: 1024 } }),
    sheet('floats', 2048, night),
  ];
  const made = subject('whimbrel', 'Whimbrel floatplane', rules, sheets, patches);
  const pieces = proposeRun(made.template, ['bow', 'stern']);
  if (!pieces) throw new Error('The hull of the Whimbrel does not meet.');
  return { ...made, template: { ...made.template, runs: [{ key: 'hull', name: 'Hull', pieces }] } };
}

// Ferrywarden's Oath: colour, normal and packed maps; one sleeve mirrors the other; hair has copies that must follow it.
export function warden(): Subject {
  const torso = tube([0, 1.5, 0], [0, 0.75, 0], (t) => 0.2 + 0.12 * t, 0.7);
  const sleeve = (side: 1 | -1) => tube([0, 1.42, 0.2 * side], [0.05, 0.95, 0.42 * side], (t) => 0.085 - 0.02 * t);
  const boot = (side: 1 | -1) => tube([0, 0.5, 0.12 * side], [0.02, 0.02, 0.12 * side], (t) => 0.075 + 0.02 * t * t);
  const strand = (turn: number): Patch['at'] => {
    const [c, s] = [Math.cos(turn), Math.sin(turn)];
    return quad(
      [c * 0.1 - s * 0.05, 1.86, s * 0.1 + c * 0.05],
      [c * 0.1 + s * 0.05, 1.86, s * 0.1 - c * 0.05],
      [c * 0.17 + s * 0.05, 1.58, s * 0.17 - c * 0.05],
      [c * 0.17 - s * 0.05, 1.58, s * 0.17 + c * 0.05],
    );
  };
  const maps = [
    { key: 'normal', name: 'Normal', alpha: 'none' as const },
    { key: 'packed', name: 'Packed', alpha: 'none' as const },
  ];
  const copy = (key: string, mirror: 'none' | 'across') => ({
    key,
    name: key.replace('-', ', '),
    width: 512,
    height: 512,
    mirror,
    stem: `courier/wardrobe/courier_${key.replace('-', '_')}`,
  });
  const patches = [
    panel('coat, body', 'coat', [40, 40, 940, 560], torso, { columns: 24, rows: 8 }),
    panel('sleeve, right', 'coat', [40, 640, 440, 340], sleeve(1), { columns: 12, rows: 5 }),
    panel('sleeve, left (mirrored)', 'coat', [40, 640, 440, 340], (u, v) => sleeve(-1)(1 - u, v), {
      columns: 12,
      rows: 5,
      inside: true,
    }),
    panel('boot, right', 'boots', [20, 20, 230, 470], boot(1), { columns: 12, rows: 6 }),
    panel('boot, left', 'boots', [262, 20, 230, 470], boot(-1), { columns: 12, rows: 6 }),
    ...[0, 1, 2, 3, 4, 5, 6].map((i) =>
      panel(`strand ${i + 1}`, 'hair', [10 + i * 72, 20, 60, 470], strand((i / 7) * 2 * Math.PI), { rows: 4 }),
    ),
    panel(
      'head',
      null,
      [0, 0, 1, 1],
      tube([0, 1.86, 0], [0, 1.55, 0], (t) => 0.1 * Math.sin(Math.PI * (0.1 + 0.8 * t))),
      { columns: 12, rows: 6, hex: '#b98c6b' },
    ),
  ];
  const rules = SHIPPED_SPECS['ferrywardens-oath'];
  const sheets = [
    sheet('coat', 1024, { maps }),
    sheet('boots', 512, { maps }),
    sheet('hair', 512, { alpha: 'cutout', followers: [copy('hair-wet', 'none'), copy('hair-mirror', 'across')] }),
  ];
  const plain = (hex: string, side: number): Drawing => ({ width: side, height: side, svg: ground(side, side, hex) });
  const originals = {
    'coat/normal': plain('#8080ff', 1024),
    'boots/normal': plain('#8080ff', 512),
    'coat/packed': plain('#ffb400', 1024),
    'boots/packed': plain('#ff8200', 512),
    hair: hairArt(),
  };
  return subject('warden-courier', 'Warden courier', rules, sheets, patches, originals);
}

// Pebblewick: a level in two dimensions, with frames, colliders and twelve settings in pixels.
export function pebblewick(): Subject {
  const settings: [name: string, means: string, hex: string][] = [
    ['Sea fog', 'Haze over the water; clear removes it', '#b9ccd680'],
    ['Lamp glow', 'Light around lamps after dusk', '#ffd9a0c0'],
    ['Ground litter', 'Leaves and shells on the ground; clear removes them', '#8a7a5cff'],
    ['Sky, top', 'Upper colour of the sky', '#4d7ea8ff'],
    ['Sky, foot', 'Lower colour of the sky', '#d7e3e8ff'],
    ['Water, shallow', 'Water near the shore', '#5fa7a0d0'],
    ['Water, deep', 'Water far out', '#1e4e5eff'],
    ['Foam', 'Where water meets stone', '#f2f7f5ff'],
    ['Moss', 'On stones that lie in the shade', '#5d7a3aa0'],
    ['Rain', 'Streaks while it rains; clear lets it stay dry', '#c8d4dc60'],
    ['Shadow', 'Under everything that stands', '#10182080'],
    ['Tint', 'Over the whole level; clear leaves it', '#00000000'],
  ];
  const boxes = settings.map(([name, means, hex], i): ParameterBox => ({
    key: name.toLowerCase().replace(/[^a-z]+/g, '-'),
    name,
    means,
    left: 16 + i * 40,
    top: 976,
    width: 32,
    height: 32,
    hex,
  }));
  const rect = (x: number, y: number, w: number, h: number) => [x, y, x + w, y, x + w, y + h, x, y + h];
  const round = (x: number, y: number, r: number) =>
    Array.from({ length: 24 }, (_, i) => [x + r * Math.cos((i * Math.PI) / 12), y + r * Math.sin((i * Math.PI) / 12)])
      .flat()
      .map((v) => Math.round(v * 100) / 100);
  const tiles: [name: string, box: Box][] = [
    ['ledge', [32, 32, 448, 160]],
    ['jetty', [32, 256, 448, 128]],
    ['boulder', [560, 32, 288, 288]],
    ['lamp', [560, 400, 120, 400]],
    ['bollard', [760, 480, 160, 240]],
    ['crate', [32, 448, 256, 256]],
  ];
  const outlines = tiles.flatMap(([name, [x, y, w, h]]) => [
    { key: `${name}-frame`, name: `${name}, frame`, sheet: 'level', role: 'frame' as const, rings: [rect(x, y, w, h)] },
    {
      key: `${name}-collider`,
      name: `${name}, collider`,
      sheet: 'level',
      role: 'collider' as const,
      rings: [name === 'boulder' ? round(x + w / 2, y + h / 2, w / 2 - 24) : rect(x + 16, y + 16, w - 32, h - 24)],
    },
  ]);
  const patches = tiles.map(([name, box], i) => {
    const [w, h] = [box[2] / 256, box[3] / 256];
    const x = i * 2 - 5;
    return panel(name, 'level', box, quad([x, h, 0], [x + w, h, 0], [x + w, 0, 0], [x, 0, 0]));
  });
  const rules = SHIPPED_SPECS['pebblewick'];
  const sheets = [sheet('level', 1024, { alpha: 'coverage', boxes })];
  return subject('pebblewick-level', 'Pebblewick level', rules, sheets, patches, {}, { outlines });
}

// Marshkin: a creature of 96 x 48 texels, where every texel counts.
export function lampkin(): Subject {
  const body = tube([0.3, 0.35, 0], [-0.3, 0.3, 0], (t) => 0.22 * Math.sin(Math.PI * (0.12 + 0.78 * t)));
  const patches = [
    panel('body', 'skin', [0, 0, 48, 24], body, { columns: 16, rows: 8 }),
    panel(
      'face',
      'skin',
      [48, 0, 16, 16],
      quad([0.34, 0.46, -0.12], [0.34, 0.46, 0.12], [0.34, 0.22, 0.12], [0.34, 0.22, -0.12]),
    ),
    panel(
      'lamp',
      'skin',
      [64, 0, 16, 16],
      tube([0.2, 0.62, 0], [0.2, 0.78, 0], (t) => 0.09 * Math.sin(Math.PI * (0.1 + 0.8 * t))),
      { columns: 8, rows: 4 },
    ),
    panel(
      'fin, left',
      'skin',
      [0, 28, 24, 16],
      quad([0.1, 0.3, -0.2], [-0.2, 0.3, -0.2], [-0.2, 0.12, -0.42], [0.1, 0.12, -0.42]),
    ),
    panel(
      'fin, right',
      'skin',
      [28, 28, 24, 16],
      quad([-0.2, 0.3, 0.2], [0.1, 0.3, 0.2], [0.1, 0.12, 0.42], [-0.2, 0.12, 0.42]),
    ),
    panel('tail', 'skin', [56, 24, 32, 16], quad([-0.3, 0.42, 0], [-0.62, 0.5, 0], [-0.62, 0.14, 0], [-0.3, 0.2, 0])),
  ];
  const rules = SHIPPED_SPECS['marshkin'];
  return subject('lampkin', 'Lampkin', rules, [sheet('skin', 96, { height: 48, alpha: 'cutout' })], patches);
}

// Tollbarge: sixteen sails share one atlas, and one cell of it is painted.
export function sails(): Subject {
  const patches = Array.from({ length: 16 }, (_, i) => {
    const [column, row] = [i % 4, Math.floor(i / 4)];
    const [x, y] = [column * 1.3 - 2.6, 4 - row * 1.3];
    const belly = quad([x, y, 0], [x + 1.15, y, 0], [x + 1.15, y - 1.15, 0], [x, y - 1.15, 0]);
    const at: Patch['at'] = (u, v) => {
      const p = belly(u, v);
      return [p[0], p[1], p[2] + 0.25 * Math.sin(Math.PI * u) * Math.sin(Math.PI * v)];
    };
    return panel(`sail ${row + 1}.${column + 1}`, 'sails', [column * 256, row * 256, 256, 256], at, {
      columns: 8,
      rows: 8,
    });
  });
  const rules = SHIPPED_SPECS['tollbarge'];
  const sheets = [sheet('sails', 1024, { cells: { columns: 4, rows: 4 } })];
  return subject('toll-sails', 'Tollbarge sails', rules, sheets, patches, { sails: sailArt() });
}

// Harbour Watch: the hull lies on three sheets that meet, and is painted as one.
export function dunlin(): Subject {
  const cuts = [3.6, 1.2, -1.2, -3.6];
  const beam = (x: number) => 1.05 * (x < 1 ? 1 : Math.sqrt(Math.max(0.003, 1 - ((x - 1) / 2.6) ** 2)));
  /** Starboard keel, gunwale, over the deck, port gunwale, port keel. */
  const skin = (x: number, v: number): Vec => {
    const w = beam(x);
    const rise = 0.25 * Math.max(0, x / 3.6) ** 2;
    const [low, high] = [0.1 + rise, 0.95 + rise];
    if (v < 0.3) return [x, low + (high - low) * (v / 0.3), w * (0.6 + 0.4 * (v / 0.3))];
    if (v > 0.7) return [x, low + (high - low) * ((1 - v) / 0.3), -w * (0.6 + 0.4 * ((1 - v) / 0.3))];
    const across = 1 - (v - 0.3) / 0.2;
    return [x, high + 0.06 * (1 - across * across), w * across];
  };
  const names = ['bow', 'middle', 'stern'];
  // Painted at the larger of the two sizes that the game wants.
  const density = 1600;
  const hull = names.map((name, i): Patch => {
    const [from, to] = [cuts[i], cuts[i + 1]];
    const skinPart = panel(`${name} skin`, name, [0, 0, 1, 1], (u, v) => skin(from + (to - from) * u, v), {
      columns: 12,
      rows: 20,
    });
    return { ...skinPart, uv: (u, v) => [128 + u * (from - to) * density, 128 + v * 3840] };
  });
  const house = [
    panel(
      'house, port',
      'house',
      [64, 64, 1880, 880],
      quad([0.9, 2, -0.6], [-1.1, 2, -0.6], [-1.3, 1, -0.6], [1.3, 1, -0.6]),
    ),
    panel(
      'house, starboard',
      'house',
      [64, 1024, 1880, 880],
      quad([-1.1, 2, 0.6], [0.9, 2, 0.6], [1.3, 1, 0.6], [-1.3, 1, 0.6]),
    ),
    panel('house, front', null, [0, 0, 1, 1], quad([0.9, 2, 0.6], [0.9, 2, -0.6], [1.3, 1, -0.6], [1.3, 1, 0.6]), {
      hex: '#26343c',
    }),
    panel('house, roof', null, [0, 0, 1, 1], quad([-1.1, 2, -0.6], [0.9, 2, -0.6], [0.9, 2, 0.6], [-1.1, 2, 0.6]), {
      inside: true,
      hex: '#5d6467',
    }),
  ];
  const rules = SHIPPED_SPECS['harbour-watch'];
  const sheets = [
    ...names.map((name) => sheet(name, 4096, { axis: { kind: 'horizontal', at: 2048 } })),
    sheet('house', 2048),
  ];
  const made = subject('dunlin', 'Dunlin launch', rules, sheets, [...hull, ...house]);
  const pieces = proposeRun(made.template, names);
  if (!pieces) throw new Error('The hull of the Dunlin does not meet.');
  return { ...made, template: { ...made.template, runs: [{ key: 'hull', name: 'Hull', pieces }] } };
}

// Longhaul: both tracks wear one island; the decal plates on it come with their own delivery.
export function brock(): Subject {
  const side = (z: number, flip: boolean) => {
    const corners: Vec[] = [
      [2.2, 2.1, z],
      [-2.4, 2.1, z],
      [-2.4, 0.8, z],
      [2.6, 0.8, z],
    ];
    const [a, b, c, d] = corners;
    return flip ? quad(b, a, d, c) : quad(a, b, c, d);
  };
  const track =
    (z: number) =>
    (u: number, v: number): Vec => {
      const angle = 2 * Math.PI * u;
      const [x, y] = [Math.cos(angle), Math.sin(angle)];
      return [Math.sign(x) * Math.abs(x) ** 0.5 * 2.5, 0.45 + 0.42 * y, z + 0.5 * (v - 0.5)];
    };
  const patches = [
    panel('side, port', 'body', [20, 20, 980, 280], side(-0.9, false)),
    panel('side, starboard', 'body', [20, 320, 980, 280], side(0.9, true)),
    panel(
      'roof',
      'body',
      [20, 620, 980, 180],
      quad([-2.4, 2.1, -0.9], [2.2, 2.1, -0.9], [2.2, 2.1, 0.9], [-2.4, 2.1, 0.9]),
    ),
    panel(
      'tail',
      'body',
      [20, 820, 360, 180],
      quad([-2.4, 2.1, -0.9], [-2.4, 2.1, 0.9], [-2.4, 0.8, 0.9], [-2.4, 0.8, -0.9]),
    ),
    panel(
      'nose',
      'body',
      [400, 820, 360, 180],
      quad([2.2, 2.1, 0.9], [2.2, 2.1, -0.9], [2.6, 0.8, -0.9], [2.6, 0.8, 0.9]),
    ),
    panel('track, starboard', 'tracks', [10, 10, 490, 120], track(1.05), { columns: 28, rows: 1 }),
    // On purpose: the same island again.
    panel('track, port', 'tracks', [10, 10, 490, 120], track(-1.05), { columns: 28, rows: 1 }),
  ];
  const rules = SHIPPED_SPECS['longhaul'];
  return subject('brock', 'Brock wagon', rules, [sheet('body', 1024), sheet('tracks', 512)], patches);
}

export const SUBJECTS = [whimbrel, warden, pebblewick, lampkin, sails, dunlin, brock];
