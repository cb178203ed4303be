/** The Turnstone, a two-seat hover skimmer with a ducted fan, built from lofted patches. Metres; x forward, y up, z starboard. */
import type { Template } from '../packages/core/src/livery/template.ts';
import { meshOf, type Patch, type Vec } from './patches.ts';

const HULL = 2048;
const DECK = 1024;
const FAN = 512;
const SIZE: Record<string, number> = { hull: HULL, deck: DECK, fan: FAN };

/** Texels per metre along the hull, the same in both directions, so that lettering keeps its shape. */
const HULL_DENSITY = 418;
const LENGTH = 4.2;
const xOf = (t: number) => -LENGTH / 2 + LENGTH * t;
/** Half beam: 0.95 at a third of the length, drawn in a little aft, closed at the stem. */
const beam = (t: number) => {
  if (t <= 0.35) return 0.95 - 0.12 * ((0.35 - t) / 0.35) ** 2;
  const s = (t - 0.35) / 0.65;
  return 0.95 * (1 - s ** 2.7) ** 0.62;
};
const gunwale = (t: number) =>
  0.9 - 0.3 * Math.max(0, (t - 0.45) / 0.55) ** 1.8 + 0.05 * Math.max(0, (0.25 - t) / 0.25);
const KEEL = 0.28;
const deckCamber = (t: number) => 0.07 * (beam(t) / 0.95);

/** Side of the hull, v from the gunwale down. */
const side =
  (sign: 1 | -1) =>
  (t: number, v: number): Vec => {
    const w = beam(t);
    const bulge = 0.87 + 0.13 * Math.sin(Math.PI * Math.min(1, v * 1.15));
    return [xOf(t), gunwale(t) + (KEEL - gunwale(t)) * v, sign * w * bulge];
  };

const deckPoint = (t: number, across: number): Vec => {
  const w = beam(t) * 0.87;
  return [xOf(t), gunwale(t) + deckCamber(t) * (1 - across * across), across * w];
};

// The cabin: a long dome on the deck; `a` from aft to fore, `turn` from the port foot (0) over the top to the starboard foot (1).
const cabin = (a: number, turn: number): Vec => {
  const x = -1.05 + 2.35 * a;
  const t = (x + LENGTH / 2) / LENGTH;
  const along = Math.sin(Math.PI * Math.min(1, Math.max(0, a)) ** 0.82) ** 0.55;
  const wide = 0.56 * along;
  const high = 0.56 * along * (1 - 0.25 * a);
  const angle = Math.PI * turn;
  const z = -Math.sign(Math.cos(angle)) * Math.abs(Math.cos(angle)) ** 0.75 * wide;
  return [x, gunwale(t) + 0.02 + high * Math.sin(angle) ** 0.8, z];
};

const FAN_X = -1.62;
const FAN_Y = 1.46;
const RADIUS = 0.56;
const duct =
  (r0: number, r1: number, x0: number, x1: number) =>
  (u: number, v: number): Vec => {
    const angle = 2 * Math.PI * u - Math.PI / 2;
    const r = r0 + (r1 - r0) * v + 0.045 * Math.sin(Math.PI * v);
    return [x0 + (x1 - x0) * v, FAN_Y + Math.sin(angle) * r, Math.cos(angle) * r];
  };

const skirt =
  (sign: 1 | -1) =>
  (t: number, v: number): Vec => {
    const w = beam(t) * 0.87;
    return [
      xOf(t) * 1.01,
      KEEL * (1 - v),
      sign * (w + 0.1 * Math.sin(Math.PI * (0.15 + 0.75 * v)) * Math.min(1, w * 2)),
    ];
  };

const fin =
  (sign: 1 | -1, off: number) =>
  (u: number, v: number): Vec => [
    -1.98 - 0.36 * u - 0.1 * v,
    2.02 - 0.96 * v - 0.1 * u * (1 - v),
    sign * 0.34 + off * (1 - Math.abs(2 * u - 1) ** 2) * 0.05,
  ];

const patches: Patch[] = [
  // The port side is seen with the bow to the left, the starboard side with the bow to the right: lettering reads on both.
  {
    key: 'port-side',
    name: 'port side',
    sheet: 'hull',
    hex: null,
    columns: 40,
    rows: 8,
    at: (u, v) => side(-1)(1 - u, v),
    uv: (u, v, arc) => [
      60 + arc(u, v)[0] * HULL_DENSITY,
      260 + (0.95 - gunwale(1 - u)) * HULL_DENSITY + arc(u, v)[1] * HULL_DENSITY,
    ],
  },
  {
    key: 'starboard-side',
    name: 'starboard side',
    sheet: 'hull',
    hex: null,
    columns: 40,
    rows: 8,
    at: (u, v) => side(1)(u, v),
    uv: (u, v, arc) => [
      60 + arc(u, v)[0] * HULL_DENSITY,
      660 + (0.95 - gunwale(u)) * HULL_DENSITY + arc(u, v)[1] * HULL_DENSITY,
    ],
  },
  {
    key: 'skirt',
    name: 'skirt, both sides',
    sheet: 'hull',
    hex: null,
    columns: 40,
    rows: 4,
    at: (u, v) => skirt(1)(u, v),
    uv: (u, v, arc) => [60 + arc(u, v)[0] * HULL_DENSITY, 60 + v * 140],
  },
  {
    // On purpose: the port skirt wears the starboard one's island, mirrored.
    key: 'skirt-port',
    name: 'skirt, port (mirrored)',
    sheet: 'hull',
    hex: null,
    columns: 40,
    rows: 4,
    at: (u, v) => skirt(-1)(u, v),
    uv: (u, v, arc) => [60 + arc(u, v)[0] * HULL_DENSITY, 60 + v * 140],
    inside: true,
  },
  {
    key: 'transom',
    name: 'transom',
    sheet: 'hull',
    hex: null,
    columns: 12,
    rows: 6,
    at: (u, v) => {
      const edge = side(1)(0, v);
      return [
        edge[0] - 0.02 * Math.sin(Math.PI * u),
        edge[1] + (v === 0 ? deckCamber(0) * (1 - (2 * u - 1) ** 2) : 0),
        (2 * u - 1) * edge[2],
      ];
    },
    uv: (u, v) => [60 + u * 606, 1080 + v * 265],
  },
  {
    key: 'fin-port',
    name: 'fin, port',
    sheet: 'hull',
    hex: null,
    columns: 6,
    rows: 6,
    at: fin(-1, -1),
    uv: (u, v) => [760 + (u * 0.36 + v * 0.1) * 720, 1080 + (v * 0.96 + u * 0.1 * (1 - v)) * 720],
  },
  {
    key: 'fin-starboard',
    name: 'fin, starboard',
    sheet: 'hull',
    hex: null,
    columns: 6,
    rows: 6,
    at: fin(1, 1),
    uv: (u, v) => [1560 - (u * 0.36 + v * 0.1) * 720, 1080 + (v * 0.96 + u * 0.1 * (1 - v)) * 720],
    inside: true,
  },
  {
    key: 'deck',
    name: 'deck',
    sheet: 'deck',
    hex: null,
    columns: 40,
    rows: 12,
    at: (u, v) => deckPoint(u, 2 * v - 1),
    uv: (u, v) => {
      const p = deckPoint(u, 2 * v - 1);
      return [40 + u * 944, 250 + (p[2] / 0.83) * 195];
    },
  },
  {
    key: 'cabin-port',
    name: 'cabin, port',
    sheet: 'deck',
    hex: null,
    columns: 20,
    rows: 5,
    at: (u, v) => cabin(1 - u, 0.3 * (1 - v)),
    uv: (u, v, arc) => [40 + arc(u, v)[0] * 325, 460 + v * 190],
  },
  {
    key: 'cabin-starboard',
    name: 'cabin, starboard',
    sheet: 'deck',
    hex: null,
    columns: 20,
    rows: 5,
    at: (u, v) => cabin(u, 0.7 + 0.3 * v),
    uv: (u, v, arc) => [40 + arc(u, v)[0] * 325, 690 + v * 190],
  },
  {
    key: 'roof',
    name: 'roof',
    sheet: 'hull',
    hex: null,
    columns: 8,
    rows: 8,
    at: (u, v) => cabin(0.02 + 0.4 * u, 0.3 + 0.4 * v),
    uv: (u, v) => [60 + u * 500, 1430 + v * 400],
  },
  {
    key: 'glass',
    name: 'glass',
    sheet: null,
    hex: '#2c3a42',
    columns: 12,
    rows: 10,
    at: (u, v) => cabin(0.42 + 0.575 * u, 0.3 + 0.4 * v),
    uv: () => [0, 0],
  },
  {
    key: 'duct',
    name: 'duct, outside',
    sheet: 'fan',
    hex: null,
    columns: 48,
    rows: 6,
    at: duct(RADIUS, RADIUS + 0.02, FAN_X + 0.24, FAN_X - 0.24),
    uv: (u, v) => [10 + u * 492, 14 + v * 106],
    inside: true,
  },
  {
    key: 'duct-inside',
    name: 'duct, inside',
    sheet: 'fan',
    hex: null,
    columns: 48,
    rows: 2,
    at: (u, v) => {
      const angle = 2 * Math.PI * u - Math.PI / 2;
      const r = RADIUS - 0.03 + (v < 0.5 ? (0.5 - v) * 0.06 : (v - 0.5) * 0.1);
      return [FAN_X + 0.24 - 0.48 * v, FAN_Y + Math.sin(angle) * r, Math.cos(angle) * r];
    },
    uv: (u, v) => [10 + u * 492, 140 + v * 60],
  },
  {
    key: 'spinner',
    name: 'spinner',
    sheet: 'fan',
    hex: null,
    columns: 20,
    rows: 5,
    at: (u, v) => {
      const angle = 2 * Math.PI * u;
      const r = 0.15 * Math.sin((Math.PI / 2) * v);
      return [FAN_X + 0.3 - 0.3 * v * v, FAN_Y + Math.sin(angle) * r, Math.cos(angle) * r];
    },
    uv: (u, v) => [130 + 118 * v * Math.cos(2 * Math.PI * u), 370 + 118 * v * Math.sin(2 * Math.PI * u)],
    inside: true,
  },
  // Six blades share one island.
  ...Array.from({ length: 6 }, (_, k): Patch => ({
    key: `blade-${k + 1}`,
    name: k === 0 ? 'blades (all six)' : `blade ${k + 1}`,
    sheet: 'fan',
    hex: null,
    columns: 2,
    rows: 4,
    at: (u, v) => {
      const angle = (k * Math.PI) / 3;
      const r = 0.13 + v * (RADIUS - 0.19);
      const across = (u - 0.5) * (0.13 + 0.07 * v);
      const twist = 0.9 - 0.5 * v;
      const [c, s] = [Math.cos(angle), Math.sin(angle)];
      const tangent = across * Math.cos(twist);
      return [FAN_X + 0.06 + across * Math.sin(twist), FAN_Y + s * r + c * tangent, c * r - s * tangent];
    },
    uv: (u, v) => [300 + v * 190, 250 + u * 90],
  })),
  {
    key: 'pylon',
    name: 'pylon',
    sheet: null,
    hex: '#3b4246',
    columns: 12,
    rows: 3,
    at: (u, v) => {
      const angle = 2 * Math.PI * u;
      return [
        FAN_X + 0.02 + (0.16 + 0.1 * v) * Math.cos(angle),
        0.98 - 0.06 * v + (1 - v) * 0.02,
        (0.2 + 0.22 * v) * Math.sin(angle),
      ];
    },
    uv: () => [0, 0],
    inside: true,
  },
  {
    key: 'floor',
    name: 'underside',
    sheet: null,
    hex: '#26292b',
    columns: 20,
    rows: 2,
    at: (u, v) => [xOf(u) * 1.01, 0.02, (2 * v - 1) * (beam(u) * 0.87 + 0.03)],
    uv: () => [0, 0],
    inside: true,
  },
];

/** What colour parts have as the game ships them, by sheet. */
const PRIMER: Readonly<Record<string, string>> = { hull: '#b7b2a4', deck: '#a7a59b', fan: '#858b8e' };

export function turnstone(): Template {
  const primed = patches.map((patch) => ({ ...patch, hex: patch.hex ?? (patch.sheet && PRIMER[patch.sheet]) }));
  const { mesh, parts } = meshOf(primed, SIZE);
  return {
    schema: 1,
    key: 'turnstone',
    name: 'Turnstone skimmer',
    game: 'brackwater-run',
    gameName: 'Brackwater Run',
    spec: { key: 'brackwater-run', version: 2 },
    sheets: [
      { key: 'hull', name: 'hull', width: HULL, height: HULL, alpha: 'none', axis: { kind: 'vertical', at: 1009 } },
      { key: 'deck', name: 'deck', width: DECK, height: DECK, alpha: 'none', axis: { kind: 'horizontal', at: 250 } },
      { key: 'fan', name: 'fan', width: FAN, height: FAN, alpha: 'none', axis: null },
    ],
    parts,
    mesh,
  };
}
