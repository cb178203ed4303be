/** Ferrywarden's Oath: colour, normal and packed maps; one sleeve mirrors the other; hair has copies that must follow it. */
import { spec } from '../../packages/core/src/games/ferrywardensOath/spec.ts';
import { writeTga } from '../../packages/core/src/texture/tga.ts';
import { ground, hairArt, type Drawing } from '../originals.ts';
import type { Patch, Vec } from '../patches.ts';
import { ball, block, otherSide, plate, sweep, through } from '../shapes.ts';
import { plain, text, zip } from './files.ts';
import { fitting, makeSubject, panel, sheet, type Subject } from './subject.ts';

/** A coat to the knee over trousers, high boots, and a strapped bag. */
const TROUSERS = '#3a3f45';
const SKIN = '#b98c6b';
const LEATHER = '#6b4a31';
const BRASS = '#b7995a';

/** Half width, half depth and middle of the coat, by height. */
const COAT = {
  wide: through([0.52, 0.3], [0.72, 0.26], [1, 0.185], [1.2, 0.2], [1.38, 0.215], [1.47, 0.13], [1.52, 0.075]),
  deep: through([0.52, 0.25], [0.72, 0.21], [1, 0.135], [1.2, 0.15], [1.38, 0.13], [1.47, 0.09], [1.52, 0.07]),
  middle: through([0.52, -0.02], [1, 0], [1.3, 0.01], [1.52, 0]),
};
/** u begins at starboard and runs over the front; v is down from the collar. @param out metres above the cloth */
const cloth = (u: number, v: number, out = 0): Vec => {
  const y = 1.52 - v;
  const turn = 2 * Math.PI * u;
  const folds = 0.012 * Math.max(0, (0.9 - y) / 0.4) * Math.cos(12 * turn);
  const [c, s] = [Math.cos(turn), Math.sin(turn)];
  return [COAT.middle(y) + (COAT.deep(y) + folds + out) * s, y, (COAT.wide(y) + folds + out) * c];
};

export function subject(): Subject {
  const sleeveLine: Vec[] = [
    [-0.005, 1.46, 0.185],
    [-0.02, 1.2, 0.285],
    [0.02, 1.02, 0.315],
    [0.06, 0.88, 0.33],
  ];
  const sleeve = sweep(
    sleeveLine,
    through([0, 0.075], [0.25, 0.085], [0.6, 0.066], [0.88, 0.066], [0.9, 0.08], [1, 0.078]),
    { level: [1, 0, 0] },
  );
  /** Level rings from the cuff down: the lowest reach forward to the toe. */
  const boot: Patch['at'] = (u, v) => {
    const y = through([0, 0.52], [0.55, 0.2], [0.8, 0.06], [0.95, 0.03], [1, 0.028])(v);
    const back = through(
      [0, -0.105],
      [0.05, -0.1],
      [0.1, -0.088],
      [0.55, -0.075],
      [0.8, -0.085],
      [0.94, -0.075],
      [1, 0.03],
    )(v);
    const front = through(
      [0, 0.09],
      [0.1, 0.07],
      [0.55, 0.055],
      [0.66, 0.085],
      [0.8, 0.19],
      [0.94, 0.195],
      [1, 0.04],
    )(v);
    const wide = through([0, 0.095], [0.1, 0.078], [0.55, 0.062], [0.8, 0.055], [0.94, 0.05], [1, 0.005])(v);
    const [c, s] = [Math.cos(2 * Math.PI * u), Math.sin(2 * Math.PI * u)];
    return [(front + back) / 2 + ((front - back) / 2) * s, y, 0.118 + wide * c * (1 - 0.25 * Math.max(0, s) * v)];
  };
  /** Locks from the crown down over the nape, each with a bend of its own. */
  const strand = (i: number): Patch['at'] => {
    const turn = Math.PI * (0.5 + i / 6);
    const [c, s] = [Math.cos(turn), Math.sin(turn)];
    return (u, v) => {
      const out =
        0.02 +
        0.115 * Math.sin((Math.PI / 2) * Math.min(1, v * 1.7)) +
        0.035 * Math.max(0, v - 0.6) +
        0.006 * Math.sin(5 * v + i);
      const wide = (u - 0.5) * (0.07 + 0.05 * v);
      return [c * out + s * wide - 0.005, 1.826 - 0.34 * v ** 1.5, s * out - c * wide];
    };
  };
  const maps = [
    { key: 'normal', name: 'Normal', alpha: 'none' as const },
    {
      ...{ key: 'packed', name: 'Packed', alpha: 'none' as const },
      channels: { red: 'occlusion', green: 'roughness', blue: 'metal' },
    },
  ];
  const copy = (key: string, mirror: 'none' | 'across') => ({
    key,
    name: key.replace('-', ', '),
    width: 512,
    height: 512,
    mirror,
    stem: `courier/wardrobe/courier_${key.replace('-', '_')}`,
  });
  const both = (name: string, hex: string, at: Patch['at'], columns = 10, rows = 6) => [
    fitting(name, hex, at, columns, rows),
    fitting(name, hex, otherSide(at), columns, rows),
  ];
  const leg = sweep(
    [
      [0, 0.86, 0.09],
      [0, 0.5, 0.11],
      [-0.01, 0.4, 0.112],
    ],
    through([0, 0.1], [0.7, 0.085], [1, 0.08]),
    { level: [1, 0, 0] },
  );
  const patches = [
    panel('coat, body', 'coat', [40, 40, 940, 560], (u, v) => cloth(u, v), { columns: 44, rows: 22 }),
    panel('sleeve, right', 'coat', [40, 640, 440, 340], sleeve, { columns: 16, rows: 16 }),
    panel('sleeve, left (mirrored)', 'coat', [40, 640, 440, 340], (u, v) => otherSide(sleeve)(1 - u, v), {
      columns: 16,
      rows: 16,
      inside: true,
    }),
    panel(
      'collar',
      'coat',
      [520, 640, 460, 120],
      (u, v) => {
        const r = 0.062 + 0.03 * v;
        return [
          0.004 + (r + 0.012) * Math.sin(2 * Math.PI * u),
          1.585 - 0.085 * v - 0.03 * Math.max(0, Math.sin(2 * Math.PI * u)),
          r * Math.cos(2 * Math.PI * u) * 1.05,
        ];
      },
      { columns: 28, rows: 5 },
    ),
    panel('cape', 'coat', [520, 790, 460, 190], (u, v) => cloth(u, 0.02 + 0.24 * v, 0.014 + 0.016 * v), {
      columns: 36,
      rows: 8,
    }),
    panel('boot, right', 'boots', [20, 20, 230, 470], boot, { columns: 16, rows: 22 }),
    panel('boot, left', 'boots', [262, 20, 230, 470], otherSide(boot), { columns: 16, rows: 22 }),
    ...[0, 1, 2, 3, 4, 5, 6].map((i) =>
      panel(`strand ${i + 1}`, 'hair', [10 + i * 72, 20, 60, 470], strand(i), { columns: 4, rows: 12 }),
    ),
    fitting(
      'head',
      SKIN,
      (u, v) => {
        const fall = Math.PI * (0.001 + 0.998 * v);
        const chin = 1 - 0.28 * Math.max(0, -Math.cos(fall));
        const [c, s] = [Math.cos(2 * Math.PI * u), Math.sin(2 * Math.PI * u)];
        const nose = 0.02 * Math.exp(-(((u - 0.25) / 0.045) ** 2)) * Math.exp(-(((v - 0.56) / 0.09) ** 2));
        return [
          0.012 + (0.092 * chin + nose) * Math.sin(fall) * s,
          1.705 + 0.118 * Math.cos(fall),
          0.076 * chin * Math.sin(fall) * c,
        ];
      },
      32,
      20,
    ),
    fitting(
      'head',
      SKIN,
      sweep(
        [
          [0, 1.64, 0],
          [0, 1.5, 0],
        ],
        0.05,
      ),
      14,
      2,
    ),
    ...both('eyes', '#20262b', ball([0.098, 1.715, 0.03], [0.008, 0.008, 0.012]), 8, 5),
    ...both('hands', SKIN, ball([0.085, 0.82, 0.335], [0.036, 0.07, 0.026]), 12, 8),
    ...both('legs', TROUSERS, leg, 14, 4),
    ...both('soles', '#1f2326', block([0.06, 0.014, 0.126], [0.145, 0.018, 0.05]), 16, 6),
    ...both(
      'boot straps',
      LEATHER,
      sweep(
        [0, 1, 2, 3, 4, 5, 6, 7, 8].map((k): Vec => [
          -0.017 + 0.07 * Math.cos((k * Math.PI) / 4),
          0.2,
          0.118 + 0.07 * Math.sin((k * Math.PI) / 4),
        ]),
        0.01,
      ),
      6,
      24,
    ),
    fitting('cap', TROUSERS, ball([0.002, 1.745, 0], [0.108, 0.1, 0.093], 0.001, 0.5), 24, 8),
    fitting(
      'cap',
      '#2b3035',
      sweep(
        [
          [0.07, 1.752, -0.075],
          [0.125, 1.744, -0.035],
          [0.14, 1.742, 0],
          [0.125, 1.744, 0.035],
          [0.07, 1.752, 0.075],
        ],
        0.02,
        { flat: 0.35 },
      ),
      8,
      10,
    ),
    fitting('belt', LEATHER, (u, v) => cloth(u, 0.49 + 0.05 * v, 0.012), 40, 1),
    fitting('buckle', BRASS, block([0.158, 1.005, 0], [0.012, 0.035, 0.04]), 12, 6),
    fitting(
      'bag strap',
      LEATHER,
      (u, v) =>
        cloth(0.25 + u, 0.3 - 0.2 * Math.cos(2 * Math.PI * u) + 0.045 * v, 0.04 - 0.006 * Math.cos(2 * Math.PI * u)),
      48,
      1,
    ),
    fitting('bag', LEATHER, block([-0.03, 0.9, -0.27], [0.13, 0.11, 0.05], 5), 20, 10),
    fitting('bag', '#7d583b', block([-0.03, 0.95, -0.3], [0.135, 0.07, 0.03], 5), 20, 8),
    ...[1.3, 1.18, 1.08].map((y) =>
      fitting('buttons', BRASS, plate([COAT.middle(y) + COAT.deep(y) + 0.006, y, 0.05], [1, 0, 0], 0.013, 0.004), 8, 2),
    ),
    fitting('lantern', BRASS, block([0.03, 0.92, 0.255], [0.035, 0.012, 0.035]), 12, 4),
    fitting('lantern', '#ffdf9a', ball([0.03, 0.865, 0.255], [0.03, 0.045, 0.03]), 12, 8),
    fitting('lantern', BRASS, block([0.03, 0.81, 0.255], [0.035, 0.012, 0.035]), 12, 4),
  ];
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
  return makeSubject('warden-courier', 'Warden courier', spec, sheets, patches, originals, {
    primer: { coat: '#7c7566', boots: '#584634', hair: '#5c3a22' },
  });
}

/** A bale of somebody else's that replaces a file of the courier's. */
export function brings() {
  const cloak = 'courier/wardrobe/courier_cloak.tga';
  const bale = { archive: 16, order: 90, name: 'Harbour cloaks', author: 'Quayside', replaces: [cloak] };
  return {
    'bales/90-harbour-cloaks.over.bale': zip({
      'bale.json': text([JSON.stringify(bale, null, 2)]),
      [cloak]: writeTga(plain('#3c4a52', 64), { alpha: false, rle: true }),
    }),
  };
}
