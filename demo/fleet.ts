/** A finished livery for each subject that is not the Turnstone, by the same three crews. Positions are texels of the sheets. */
import { FIRST_FINISHES, newFinish } from '../packages/core/src/livery/finish.ts';
import { FinishId } from '../packages/core/src/livery/ids.ts';
import { Painter } from './paint.ts';

const TERN = { Cream: '#f1e8d4', 'Sea grey': '#5b7a87', 'Signal coral': '#e9624c', 'Deep water': '#2f454f' };
const EBBLINE = { 'Deep green': '#123d33', Chalk: '#e9e6d8', Bottle: '#1f5e4c', Brass: '#d9a441', Tar: '#1c2422' };
const RESCUE = { 'Rescue orange': '#f0501f', White: '#ffffff', Navy: '#15284b', Lantern: '#ffd24a', Night: '#10182a' };

const circle = (x: number, y: number, rx: number, ry = rx, knots = 12): [number, number][] =>
  Array.from({ length: knots }, (_, k) => {
    const turn = (2 * Math.PI * k) / knots;
    return [Math.round((x + rx * Math.cos(turn)) * 100) / 100, Math.round((y + ry * Math.sin(turn)) * 100) / 100];
  });
const rect = (x: number, y: number, w: number, h: number): [number, number][] => [
  [x, y],
  [x + w, y],
  [x + w, y + h],
  [x, y + h],
];

/** A rectangle whose corners are cut round: eight knots. */
const rounded = (x: number, y: number, w: number, h: number, r: number): [number, number][] => [
  [x + r, y],
  [x + w - r, y],
  [x + w, y + r],
  [x + w, y + h - r],
  [x + w - r, y + h],
  [x + r, y + h],
  [x, y + h - r],
  [x, y + r],
];

/** The mail floatplane: one skin over bow and stern sheet, and what of it is lit at night. */
export function ternWhimbrel() {
  const p = new Painter('tern-mail', { ...TERN, 'Lamp light': '#ffd08a' });
  const HULL = ['bow', 'stern'];
  /** Texels of a station on its sheet, metres from the model's middle forward. */
  const bow = (x: number) => 40 + (3.4 - x) * 490;
  const stern = (x: number) => 40 + (-0.3 - x) * 490;
  const [STARBOARD, SPINE, PORT] = [74 + 0.235 * 1900, 1024, 74 + 0.765 * 1900];
  for (const sheet of HULL) p.solid(sheet, 'Cream', 'Cream', { across: 'tern-mail-ground' });
  p.belt(HULL, 'Grey belly', 'Sea grey', { along: 'height', from: 0.5, to: 1.2 });
  p.belt(
    HULL,
    'Coral line',
    'Signal coral',
    { along: 'height', from: 1.2, to: 1.26 },
    { lit: { strength: 35, spread: 0 } },
  );
  p.belt(['stern', 'tail'], 'Tail band', 'Signal coral', { along: 'length', from: -3.42, to: -3.02 });
  p.belt(['stern', 'tail'], 'Tail line', 'Sea grey', { along: 'length', from: -2.96, to: -2.9 });
  p.stripe('bow', 'Glare shield', 'Deep water', { x: 420, y: SPINE, angle: 0, width: 330 });
  p.shape('bow', 'Glare shield, end', 'Cream', [
    [640, 820],
    [2048, 820],
    [2048, 1230],
    [640, 1230],
    [540, 1024],
  ]);
  for (const [side, y, turn] of [
    ['port', PORT, 0],
    ['starboard', STARBOARD, 180],
  ] as const) {
    const off = turn === 0 ? 1 : -1;
    p.letter(
      'bow',
      `Number, ${side}`,
      '{number}',
      'Signal coral',
      'russo-one',
      {
        x: bow(2.62),
        y: y - off * 70,
        size: 230,
        turn,
        outline: ['Deep water', 10],
      },
      { lit: { paint: p.paint('Lamp light'), strength: 90, spread: 0.12 } },
    );
    p.letter('stern', `Post name, ${side}`, '{team}', 'Deep water', 'barlow-condensed', {
      x: stern(-1.42),
      y: y - off * 10,
      size: 104,
      spacing: 8,
      turn,
    });
    p.letter('stern', `Registration, ${side}`, '{registration}', 'Cream', 'michroma', {
      x: stern(-1.15),
      y: y + off * 190,
      size: 74,
      spacing: 14,
      turn,
    });
    p.mark(
      'bow',
      'tern-roundel.svg',
      { x: bow(0.1), y: y + off * 40, height: 250, turn, mirrored: side === 'starboard' },
      [
        ['#5b7a87', 'Sea grey'],
        ['#f1e8d4', 'Cream'],
        ['#e9624c', 'Signal coral'],
      ],
    );
    p.letter('bow', `Air mail, ${side}`, 'AIR MAIL', 'Cream', 'saira-stencil-one', {
      x: bow(1.5),
      y: y + off * 200,
      size: 92,
      spacing: 16,
      turn,
    });
  }
  for (const fin of ['fin-port', 'fin-starboard']) {
    const x = fin === 'fin-port' ? 510 : 1470;
    const only = { parts: [fin] };
    p.solid('tail', 'Fin cream', 'Cream', only);
    p.stripes(
      'tail',
      'Fin bars',
      ['Sea grey', 'Signal coral'],
      { x, y: 760, angle: 0, width: 70, gap: 0, count: 2 },
      only,
    );
    p.mark(
      'tail',
      'tern-roundel.svg',
      { x: x + (fin === 'fin-port' ? 60 : -60), y: 480, height: 320, mirrored: fin === 'fin-starboard' },
      [],
      only,
    );
    p.letter(
      'tail',
      'Fin number',
      '{number}',
      'Deep water',
      'russo-one',
      { x: x + (fin === 'fin-port' ? 130 : -130), y: 215, size: 150 },
      only,
    );
  }
  p.solid('tail', 'Tailplane', 'Sea grey', { parts: ['tailplane-top', 'tailplane-under'] });
  p.stripes(
    'tail',
    'Tips',
    ['Signal coral'],
    { x: 1010, y: 1440, angle: 90, width: 150, gap: 1380, count: 2 },
    { parts: ['tailplane-top', 'tailplane-under'] },
  );
  p.solid('wings', 'Cream', 'Cream');
  [0, 1, 2, 3].forEach((row) => {
    const only = { parts: [['wing-port-top', 'wing-starboard-top', 'wing-port-under', 'wing-starboard-under'][row]] };
    const y = 24 + row * 506 + 241;
    const port = row % 2 === 0;
    const tip = port ? 24 : 2024;
    const along = (fromTip: number) => (port ? tip + fromTip : tip - fromTip);
    p.stripe(
      'wings',
      'Leading edge',
      'Sea grey',
      { x: 1024, y: row < 2 ? y - 226 : y + 226, angle: 0, width: 60 },
      only,
    );
    p.stripe('wings', 'Tip', 'Signal coral', { x: along(110), y, angle: 90, width: 220 }, only);
    p.stripe('wings', 'Tip line', 'Sea grey', { x: along(250), y, angle: 90, width: 24 }, only);
    if (row === 0)
      p.letter(
        'wings',
        'Registration, top',
        '{registration}',
        'Deep water',
        'anton',
        { x: 1060, y, size: 230, spacing: 30 },
        only,
      );
    if (row === 1)
      p.letter(
        'wings',
        'Number, top',
        '{number}',
        'Signal coral',
        'russo-one',
        { x: 1150, y, size: 280, outline: ['Deep water', 12] },
        only,
      );
    if (row >= 2)
      p.letter(
        'wings',
        'Registration, under',
        '{registration}',
        'Deep water',
        'anton',
        { x: row === 2 ? 1060 : 990, y, size: 230, spacing: 30 },
        only,
      );
  });
  p.solid('floats', 'Sea grey', 'Sea grey');
  p.belt(['floats'], 'Float deck', 'Cream', { along: 'height', from: 0.14, to: 0.8 });
  p.belt(['floats'], 'Float line', 'Signal coral', { along: 'height', from: 0.1, to: 0.14 });
  p.belt(['floats'], 'Float bow', 'Signal coral', { along: 'length', from: 2.35, to: 3 });
  // At night the cabin is lit behind its panes, and shines on the hull beside them; one of the lamps is out.
  const lamp = (spread: number, strength = 100) => ({ strength, spread, only: true as const });
  for (const [sheet, at, from, to, seed] of [
    ['bow', bow, 1.5, 0.95, 5],
    ['bow', bow, 0.7, 0.15, 4],
    ['stern', stern, -0.34, -0.65, 2],
  ] as const)
    p.shapes(
      sheet,
      'Cabin light',
      'Lamp light',
      [0.29, 0.62].map((v) => rect(at(from), 74 + v * 1900, at(to) - at(from), 0.09 * 1900)),
      { phase: 'Marks', lit: { ...lamp(0.3), flicker: { dark: 30, seed } } },
    );
  for (const [x, y, colour] of [
    [48, 265, 'Signal coral'],
    [2000, 771, 'Lamp light'],
    [48, 1277, 'Signal coral'],
    [2000, 1783, 'Lamp light'],
  ] as const)
    p.shape('wings', 'Tip lamp', colour, rect(x - 24, y - 60, 48, 120), { phase: 'Marks', lit: lamp(0.7) });
  for (const x of [570, 1410])
    p.shape('tail', 'Tail lamp', 'Lamp light', rect(x - 40, 150, 80, 40), { phase: 'Marks', lit: lamp(0.5, 80) });
  return {
    painter: p,
    subject: 'whimbrel',
    particulars: {
      name: 'Whimbrel {number}, Tern & Tide Air Mail',
      key: 'tern-mail',
      number: '12',
      registration: 'NM-T12',
      team: 'TERN & TIDE POST',
      author: 'Brackwater demo',
    },
    boxes: {},
  };
}

/** What the courier's bands are sewn from, and the brass at the boots. */
const TAPE = newFinish('reflective', FinishId.parse('courier-tape'), 'Signal tape');
const BRASS = { ...newFinish('brushed', FinishId.parse('courier-brass'), 'Brass'), roughness: 24 };

/** The rescue warden: colour, the weave of the bands as normals, and what is slick about them. */
export function rescueCourier() {
  const p = new Painter('rescue-warden', {
    ...RESCUE,
    Leather: '#4a3325',
    'Weave up': '#8068ff',
    'Weave down': '#8098ff',
  });
  // Starboard is the left edge; the front lies at a quarter, the back at three quarters.
  const [FRONT, BACK] = [275, 745];
  const body = { parts: ['coat-body'] };
  p.solid('coat', 'Rescue orange', 'Rescue orange');
  p.fade(
    'coat',
    'Darker to the hem',
    { x: 510, y: 320, length: 260, angle: 90 },
    [
      [0, 'Rescue orange', 0],
      [1, 'Navy', 38],
    ],
    body,
  );
  p.stripe('coat', 'Hem', 'Navy', { x: 510, y: 566, angle: 0, width: 70 }, body);
  p.stripe('coat', 'Hem band', 'White', { x: 510, y: 506, angle: 0, width: 26 }, { ...body, finish: TAPE.id });
  p.stripe('coat', 'Chest band', 'White', { x: 510, y: 272, angle: 0, width: 24 }, { ...body, finish: TAPE.id });
  p.stripe('coat', 'Front edge', 'Navy', { x: FRONT, y: 320, angle: 90, width: 26 }, body);
  p.mark(
    'coat',
    'lanternfish.svg',
    { x: BACK, y: 380, height: 128 },
    [
      ['#15284b', 'Navy'],
      ['#ffd24a', 'Lantern'],
    ],
    body,
  );
  p.letter('coat', 'Call sign, front', '{number}', 'Navy', 'anton', { x: FRONT + 110, y: 216, size: 46 }, body);
  p.solid('coat', 'Cape', 'Navy', { parts: ['cape', 'collar'] });
  p.stripe('coat', 'Cape edge', 'Lantern', { x: 750, y: 968, angle: 0, width: 18 }, { parts: ['cape'] });
  p.letter(
    'coat',
    'Rescue, back',
    'RESCUE',
    'White',
    'saira-stencil-one',
    { x: 520 + 0.75 * 460, y: 908, size: 38, spacing: 2 },
    { parts: ['cape'] },
  );
  const sleeves = { parts: ['sleeve-right', 'sleeve-left-mirrored-'] };
  p.stripe('coat', 'Sleeve band', 'White', { x: 260, y: 850, angle: 0, width: 24 }, { ...sleeves, finish: TAPE.id });
  p.stripe('coat', 'Cuffs', 'Navy', { x: 260, y: 950, angle: 0, width: 64 }, sleeves);
  p.wear(
    'coat',
    'Salt',
    'White',
    { field: 'height', from: 0.62, to: 0.2 },
    { opacity: 14, filters: [{ kind: 'worn', amount: 60, size: 26, fade: 20, seed: 7 }] },
  );
  p.solid('boots', 'Leather', 'Leather');
  p.stripe('boots', 'Cuff', 'Navy', { x: 256, y: 44, angle: 0, width: 52 });
  p.stripe('boots', 'Cuff line', 'Lantern', { x: 256, y: 74, angle: 0, width: 10 }, { finish: BRASS.id });
  p.wear(
    'boots',
    'Mud',
    'Lantern',
    { field: 'height', from: 0.2, to: 0.02 },
    { opacity: 30, blend: 'multiply', filters: [{ kind: 'worn', amount: 30, size: 18, fade: 0, seed: 3 }] },
  );
  // One lock is dyed; wet and mirrored copies follow.
  p.stripe(
    'hair',
    'Dyed lock',
    'Rescue orange',
    { x: 256, y: 330, angle: 0, width: 300 },
    { parts: ['strand-4'], clipped: true, opacity: 85 },
  );
  for (const y of [272, 506]) {
    p.stripe('coat/normal', 'Weave, upper edge', 'Weave up', { x: 510, y: y - 12, angle: 0, width: 5 }, body);
    p.stripe('coat/normal', 'Weave, lower edge', 'Weave down', { x: 510, y: y + 12, angle: 0, width: 5 }, body);
  }
  return {
    painter: p,
    subject: 'warden-courier',
    finishes: [...FIRST_FINISHES, TAPE, BRASS],
    particulars: {
      name: 'Lanternfish warden {number}',
      key: 'rescue-warden',
      number: '31',
      registration: '',
      team: 'LANTERNFISH RESCUE',
      author: 'Brackwater demo',
    },
    boxes: {},
  };
}

/** The post's harbour, drawn into its frames, with the weather that belongs to it. */
export function ternLevel() {
  const p = new Painter('post-harbour', {
    ...TERN,
    Stone: '#8d8576',
    'Stone, dark': '#6d675d',
    Timber: '#9a7b57',
    'Timber, dark': '#6e5437',
    Iron: '#39454b',
    Glass: '#ffdf9e',
    Grass: '#6f8b4e',
  });
  // The game stops people at its colliders, 16 texels inside the frames: art keeps to them.
  const only = (part: string) => ({ parts: [part] });
  p.shape('level', 'Ledge', 'Stone', rect(48, 48, 416, 136), only('ledge'));
  for (const [row, y] of [70, 104, 138].entries())
    p.shapes(
      'level',
      'Courses',
      'Stone, dark',
      Array.from({ length: 7 }, (_, k) =>
        rect(54 + k * 60 + (row % 2) * 24, y + 14, Math.min(50, 458 - (54 + k * 60 + (row % 2) * 24)), 18),
      ).filter(([[x], [right]]) => right - x > 8),
      { ...only('ledge'), opacity: 55 },
    );
  p.shape(
    'level',
    'Turf',
    'Grass',
    [
      [48, 48],
      [464, 48],
      [464, 66],
      [430, 74],
      [390, 66],
      [340, 76],
      [280, 68],
      [220, 78],
      [160, 68],
      [100, 76],
      [48, 68],
    ],
    only('ledge'),
  );
  p.shape('level', 'Jetty', 'Timber', rect(48, 272, 416, 104), only('jetty'));
  p.shapes(
    'level',
    'Gaps',
    'Timber, dark',
    Array.from({ length: 9 }, (_, k) => rect(90 + k * 42, 272, 5, 48)),
    only('jetty'),
  );
  p.shape('level', 'Beam', 'Timber, dark', rect(48, 320, 416, 14), only('jetty'));
  p.shapes(
    'level',
    'Piles',
    'Timber, dark',
    [rect(80, 334, 30, 42), rect(240, 334, 30, 42), rect(400, 334, 30, 42)],
    only('jetty'),
  );
  p.shape('level', 'Boulder', 'Stone', circle(704, 176, 118, 118, 16), only('boulder'), true);
  p.shape(
    'level',
    'Boulder, shade',
    'Stone, dark',
    [
      [612, 230],
      [700, 282],
      [796, 226],
      [778, 252],
      [704, 292],
      [632, 256],
    ],
    { ...only('boulder'), opacity: 70 },
    true,
  );
  p.shape(
    'level',
    'Moss',
    'Grass',
    [
      [600, 130],
      [650, 78],
      [720, 66],
      [706, 92],
      [650, 110],
      [622, 150],
    ],
    { ...only('boulder'), opacity: 80 },
    true,
  );
  p.mark('level', 'tern-roundel.svg', { x: 712, y: 180, height: 96 }, [], { ...only('boulder'), opacity: 85 });
  p.shape('level', 'Post', 'Iron', rect(610, 480, 20, 312), only('lamp'));
  p.shapes(
    'level',
    'Foot',
    'Iron',
    [rect(592, 764, 56, 28), rect(586, 424, 68, 12), rect(594, 474, 52, 10)],
    only('lamp'),
  );
  p.shape('level', 'Lantern', 'Glass', rect(598, 436, 44, 38), only('lamp'));
  p.shape(
    'level',
    'Lantern roof',
    'Signal coral',
    [
      [586, 424],
      [620, 417],
      [654, 424],
    ],
    only('lamp'),
  );
  p.shape(
    'level',
    'Bollard',
    'Iron',
    [
      [790, 560],
      [790, 512],
      [806, 500],
      [874, 500],
      [890, 512],
      [890, 560],
      [870, 580],
      [878, 710],
      [802, 710],
      [810, 580],
    ],
    only('bollard'),
  );
  p.shape('level', 'Bollard band', 'Signal coral', rect(806, 606, 68, 26), only('bollard'));
  p.shape('level', 'Crate', 'Timber', rect(48, 464, 224, 232), only('crate'));
  p.shapes(
    'level',
    'Boards',
    'Timber, dark',
    [rect(48, 464, 224, 20), rect(48, 676, 224, 20), rect(48, 464, 20, 232), rect(252, 464, 20, 232)],
    only('crate'),
  );
  p.letter(
    'level',
    'Stencil',
    'TERN & TIDE',
    'Deep water',
    'saira-stencil-one',
    { x: 160, y: 536, size: 22, spacing: 1 },
    only('crate'),
  );
  p.mark(
    'level',
    'tern-roundel.svg',
    { x: 160, y: 616, height: 92 },
    [
      ['#5b7a87', 'Deep water'],
      ['#f1e8d4', 'Timber'],
    ],
    only('crate'),
  );
  return {
    painter: p,
    subject: 'pebblewick-level',
    particulars: {
      name: 'Post harbour',
      key: 'post-harbour',
      number: '7',
      registration: '',
      team: 'TERN & TIDE POST',
      author: 'Brackwater Demo',
    },
    boxes: {
      level: {
        'sky-top': '#5f7f96ff',
        'sky-foot': '#f1e2c8ff',
        'water-shallow': '#6d9a97d8',
        'water-deep': '#2f454fff',
        'sea-fog': '#f1e8d470',
        'lamp-glow': '#ffcf7ae0',
        rain: '#00000000',
        moss: '#5d7a3aa0',
      },
    },
  };
}

/** Every texel of 96 x 48 is put down by itself. */
export function rescueLampkin() {
  const p = new Painter('ember', { ...RESCUE, Belly: '#ffd9b8', 'Orange, dark': '#b93512', Glow: '#fff4b8' });
  const only = (part: string) => ({ parts: [part] });
  p.solid('skin', 'Orange', 'Rescue orange');
  p.shape('skin', 'Belly', 'Belly', rect(0, 16, 48, 8), only('body'));
  p.shapes(
    'skin',
    'Belly, teeth',
    'Belly',
    Array.from({ length: 12 }, (_, k) => rect(k * 4, 15, 2, 1)),
    only('body'),
  );
  p.shapes(
    'skin',
    'Back spots',
    'Orange, dark',
    [
      rect(18, 4, 3, 2),
      rect(26, 3, 2, 2),
      rect(22, 8, 2, 1),
      rect(29, 7, 3, 2),
      rect(14, 8, 2, 2),
      rect(8, 5, 2, 1),
      rect(38, 5, 2, 1),
      rect(34, 10, 2, 1),
      rect(11, 11, 2, 1),
    ],
    only('body'),
  );
  p.shape('skin', 'Stripe', 'White', rect(0, 12, 48, 2), only('body'));
  p.shapes('skin', 'Stripe, edge', 'Navy', [rect(0, 14, 48, 1), rect(0, 11, 48, 1)], only('body'));
  p.solid('skin', 'Face', 'Rescue orange', only('face'));
  p.shape(
    'skin',
    'Muzzle',
    'Belly',
    [
      [51, 9],
      [61, 9],
      [61, 10],
      [62, 10],
      [62, 14],
      [60, 14],
      [60, 15],
      [52, 15],
      [52, 14],
      [50, 14],
      [50, 10],
      [51, 10],
    ],
    only('face'),
  );
  p.shapes('skin', 'Eyes', 'White', [rect(50, 3, 4, 5), rect(58, 3, 4, 5)], only('face'));
  p.shapes('skin', 'Pupils', 'Navy', [rect(52, 4, 2, 3), rect(58, 4, 2, 3)], only('face'));
  p.shapes('skin', 'Glints', 'White', [rect(52, 4, 1, 1), rect(58, 4, 1, 1)], only('face'));
  p.shapes('skin', 'Mouth', 'Night', [rect(54, 12, 4, 1), rect(53, 11, 1, 1), rect(58, 11, 1, 1)], only('face'));
  p.solid('skin', 'Lamp', 'Lantern', only('lamp'));
  p.shapes('skin', 'Lamp, bright', 'Glow', [rect(67, 4, 3, 5), rect(75, 4, 2, 5)], only('lamp'));
  p.shape('skin', 'Lamp, cap', 'Navy', rect(64, 0, 16, 3), only('lamp'));
  p.shape('skin', 'Lamp, foot', 'Orange, dark', rect(64, 13, 16, 3), only('lamp'));
  for (const [fin, x] of [
    ['fin-left', 0],
    ['fin-right', 28],
  ] as const) {
    p.shapes(
      'skin',
      'Fin rays',
      'Orange, dark',
      [3, 9, 15, 21].map((k) => rect(x + k, 30, 1, 10)),
      only(fin),
    );
    p.shape('skin', 'Fin edge', 'White', rect(x, 42, 24, 2), only(fin));
    p.shape('skin', 'Fin line', 'Navy', rect(x, 41, 24, 1), only(fin));
  }
  p.shapes('skin', 'Tail rays', 'Orange, dark', [rect(60, 31, 22, 1), rect(60, 35, 22, 1)], only('tail'));
  p.shape('skin', 'Tail edge', 'White', rect(84, 24, 4, 16), only('tail'));
  p.shape('skin', 'Tail line', 'Navy', rect(83, 24, 1, 16), only('tail'));
  return {
    painter: p,
    subject: 'lampkin',
    particulars: {
      name: 'Ember of the rescue',
      key: 'ember',
      number: '3',
      registration: '',
      team: 'LANTERNFISH RESCUE',
      author: 'Brackwater demo',
    },
    boxes: {},
  };
}

/** One sail of the sixteen: the other cells stay the game's own. */
export function ebblineSail() {
  const p = new Painter('ebbline-sail', { ...EBBLINE, Weathered: '#b9b39a' });
  const only = { parts: ['sail-2-2'] };
  const [x, y] = [256 + 128, 256 + 128];
  p.solid('sails', 'Green cloth', 'Deep green', only);
  p.stripes('sails', 'Chalk panels', ['Chalk'], { x, y, angle: 90, width: 22, gap: 168, count: 2 }, only);
  p.stripe('sails', 'Foot band', 'Brass', { x, y: y + 110, angle: 0, width: 14 }, only);
  p.stripes('sails', 'Seams', ['Tar'], { x, y, angle: 90, width: 2, gap: 62, count: 3 }, { ...only, opacity: 45 });
  p.mark(
    'sails',
    'ebbline-crest.svg',
    { x, y: y - 12, height: 108 },
    [
      ['#123d33', 'Bottle'],
      ['#e9e6d8', 'Chalk'],
      ['#d9a441', 'Brass'],
    ],
    only,
  );
  p.letter('sails', 'Number', '{number}', 'Chalk', 'graduate', { x, y: y + 78, size: 34 }, only);
  p.solid('sails', 'Salt and sun', 'Weathered', {
    ...only,
    phase: 'Wear',
    opacity: 18,
    filters: [{ kind: 'worn', amount: 60, size: 36, fade: 20, seed: 11 }],
  });
  return {
    painter: p,
    subject: 'toll-sails',
    particulars: {
      name: 'Ebbline barge {number}',
      key: 'ebbline-sail',
      number: '22',
      registration: '',
      team: 'EBBLINE FREIGHT',
      author: 'Brackwater demo',
    },
    boxes: {},
  };
}

/** The rescue launch: one hull over three sheets, its slot taken when it is delivered. */
export function rescueDunlin() {
  const p = new Painter('rescue-launch', { ...RESCUE, 'Deck grey': '#5e6a72' });
  const HULL = ['bow', 'middle', 'stern'];
  const [DECK, PORT, STARBOARD] = [2048, 3380, 4096 - 3380];
  /** Texels of a station on its sheet, metres from the model's middle forward. */
  const on = (sheet: number, x: number) => 548 + ([5.7, 1.9, -1.9][sheet] - x) * 790;
  for (const sheet of HULL) p.solid(sheet, 'Rescue orange', 'Rescue orange', { across: 'rescue-launch-ground' });
  p.belt(HULL, 'Waterline', 'White', { along: 'height', from: 0.02, to: 0.1 });
  p.belt(HULL, 'Bottom', 'Night', { along: 'height', from: -0.6, to: 0.02 });
  for (const sheet of HULL)
    p.stripe(sheet, 'Deck', 'Deck grey', { x: 2048, y: DECK, angle: 0, width: 1580 }, { across: 'rescue-launch-deck' });
  for (const sheet of HULL)
    p.stripe(
      sheet,
      'Deck lane',
      'Lantern',
      { x: 2048, y: DECK, angle: 0, width: 40 },
      { across: 'rescue-launch-lane' },
    );
  for (const [side, y, turn] of [
    ['port', PORT, 0],
    ['starboard', STARBOARD, 180],
  ] as const) {
    const lean = turn === 0 ? 62 : -62;
    const off = turn === 0 ? 1 : -1;
    p.shape(
      'bow',
      `Slash, ${side}`,
      'White',
      [
        [on(0, 3.4), y - 520],
        [on(0, 2.5), y - 520],
        [on(0, 3.1), y + 520],
        [on(0, 4), y + 520],
      ].map(([x, sy]) => [off === 1 ? x : x, off === 1 ? sy : 2 * y - sy]) as [number, number][],
      {},
    );
    p.stripe('bow', `Slash edge, ${side}`, 'Navy', { x: on(0, 2.5), y, angle: lean, width: 110 });
    p.letter('bow', `Number, ${side}`, '{number}', 'White', 'anton', {
      x: on(0, 4.35),
      y: y - off * 210,
      size: 330,
      turn,
      outline: ['Navy', 22],
    });
    p.letter('middle', `Rescue, ${side}`, 'RESCUE', 'White', 'saira-stencil-one', {
      x: on(1, 0.55),
      y: y - off * 165,
      size: 380,
      spacing: 26,
      turn,
    });
    p.mark(
      'middle',
      'lanternfish.svg',
      { x: on(1, -1.35), y: y - off * 165, height: 400, turn, mirrored: side === 'starboard' },
      [
        ['#15284b', 'Navy'],
        ['#ffd24a', 'Lantern'],
      ],
    );
    p.hazard('stern', `Hazard bars, ${side}`, ['Lantern', 'Navy'], {
      x: on(2, -4.9),
      y: y - off * 190,
      width: 1180,
      height: 520,
      bar: 120,
      slant: off * 34,
      turn,
    });
    p.letter('stern', `Crew, ${side}`, '{team}', 'Navy', 'anton', {
      x: on(2, -3.05),
      y: y - off * 190,
      size: 150,
      spacing: 12,
      turn,
    });
  }
  p.letter('bow', 'Deck number', '{number}', 'White', 'anton', { x: on(0, 3.55), y: DECK, size: 430, turn: 90 });
  p.shape('middle', 'Winch circle', 'Lantern', circle(on(1, -1.2), DECK, 10, 10), {}, true);
  p.shape('stern', 'Lift circle', 'Lantern', circle(on(2, -4.05), DECK, 470, 470, 20), {}, true);
  p.shape('stern', 'Lift circle, inside', 'Deck grey', circle(on(2, -4.05), DECK, 400, 400, 20), {}, true);
  p.letter('stern', 'Lift', 'LIFT', 'Lantern', 'saira-stencil-one', { x: on(2, -4.05), y: DECK, size: 270, turn: 90 });
  p.solid('house', 'White', 'White');
  p.stripe(
    'house',
    'Orange foot, port',
    'Rescue orange',
    { x: 1024, y: 860, angle: 0, width: 180 },
    { parts: ['house-port'] },
  );
  p.stripe(
    'house',
    'Orange foot, starboard',
    'Rescue orange',
    { x: 1024, y: 1820, angle: 0, width: 180 },
    { parts: ['house-starboard'] },
  );
  p.stripe('house', 'Window band, port', 'Navy', { x: 1024, y: 300, angle: 0, width: 360 }, { parts: ['house-port'] });
  p.stripe(
    'house',
    'Window band, starboard',
    'Navy',
    { x: 1024, y: 1260, angle: 0, width: 360 },
    { parts: ['house-starboard'] },
  );
  p.letter(
    'house',
    'Name, port',
    'LANTERNFISH {number}',
    'Navy',
    'anton',
    { x: 860, y: 640, size: 150, spacing: 14 },
    { parts: ['house-port'] },
  );
  p.letter(
    'house',
    'Name, starboard',
    'LANTERNFISH {number}',
    'Navy',
    'anton',
    { x: 1150, y: 1600, size: 150, spacing: 14 },
    { parts: ['house-starboard'] },
  );
  return {
    painter: p,
    subject: 'dunlin',
    particulars: {
      name: 'Dunlin {number}, Lanternfish Rescue',
      key: 'rescue-launch',
      number: '22',
      registration: 'BS-L22',
      team: 'LANTERNFISH RESCUE',
      author: 'Brackwater demo',
    },
    boxes: {},
  };
}

/** The freight wagon, and the winter that it has had. */
export function ebblineBrock() {
  const p = new Painter('ebbline-wagon', { ...EBBLINE, Mud: '#6d5a42', Dust: '#b3a184', Steel: '#4b5154' });
  p.solid('body', 'Deep green', 'Deep green');
  for (const [side, y, bowLeft] of [
    ['side-port', 160, true],
    ['side-starboard', 460, false],
  ] as const) {
    const only = { parts: [side] };
    const at = (fromNose: number) => (bowLeft ? 20 + fromNose : 1000 - fromNose);
    p.stripe('body', 'Chalk band', 'Chalk', { x: 510, y: y - 20, angle: 0, width: 92 }, only);
    p.stripes(
      'body',
      'Freight bars',
      ['Chalk'],
      { x: at(840), y, angle: bowLeft ? 112 : 68, width: 32, gap: 20, count: 3 },
      only,
    );
    p.chequer(
      'body',
      'Load line',
      ['Brass', null],
      { x: 510, y: y + 78, angle: 0, cell: 12, columns: 80, rows: 2 },
      only,
    );
    p.letter(
      'body',
      'Company',
      'EBBLINE',
      'Deep green',
      'archivo-black',
      { x: at(510), y: y - 18, size: 50, spacing: 5, slant: bowLeft ? -10 : 10 },
      only,
    );
    p.letter(
      'body',
      'Freight',
      'FREIGHT ON EVERY TIDE',
      'Brass',
      'chakra-petch',
      { x: at(560), y: y - 92, size: 22, spacing: 9 },
      only,
    );
    p.mark(
      'body',
      'ebbline-crest.svg',
      { x: at(285), y: y - 20, height: 80 },
      [
        ['#123d33', 'Deep green'],
        ['#e9e6d8', 'Chalk'],
        ['#d9a441', 'Brass'],
      ],
      only,
    );
    p.letter(
      'body',
      'Number',
      '{number}',
      'Brass',
      'graduate',
      { x: at(118), y: y + 40, size: 60, outline: ['Tar', 5] },
      only,
    );
    p.mark(
      'body',
      'oakum.svg',
      { x: at(715), y: y - 20, height: 66 },
      [
        ['#2b2b2b', 'Tar'],
        ['#c8a15a', 'Brass'],
        ['#e8e0cc', 'Chalk'],
      ],
      only,
    );
  }
  p.solid('body', 'Roof chalk', 'Chalk', { parts: ['roof'] });
  p.letter(
    'body',
    'Roof number',
    '{number}',
    'Deep green',
    'graduate',
    { x: 760, y: 710, size: 130, turn: 90 },
    { parts: ['roof'] },
  );
  p.hazard(
    'body',
    'Tail bars',
    ['Brass', 'Tar'],
    { x: 200, y: 958, width: 360, height: 70, bar: 26 },
    { parts: ['tail'] },
  );
  p.letter('body', 'Tail name', 'EBBLINE', 'Chalk', 'archivo-black', { x: 200, y: 872, size: 42 }, { parts: ['tail'] });
  p.mark('body', 'ebbline-crest.svg', { x: 580, y: 946, height: 62 }, [], { parts: ['nose'] });
  p.solid('tracks', 'Steel', 'Steel');
  p.stripes(
    'tracks',
    'Pads',
    ['Tar'],
    { x: 256, y: 160, angle: 90, width: 7, gap: 6.67, count: 37 },
    { parts: ['track-starboard', 'track-port'] },
  );
  p.shape('tracks', 'Tyres', 'Tar', circle(105, 415, 90, 90, 16), { parts: ['wheels-starboard', 'wheels-port'] }, true);
  p.shape(
    'tracks',
    'Discs',
    'Bottle',
    circle(105, 415, 62, 62, 16),
    { parts: ['wheels-starboard', 'wheels-port'] },
    true,
  );
  p.shape(
    'tracks',
    'Hubs',
    'Brass',
    circle(105, 415, 20, 20, 12),
    { parts: ['wheels-starboard', 'wheels-port'] },
    true,
  );
  // What stands on the body: a number board on each side, the crest below each door's window, and a board of the freight at the tail.
  const board = (x: number, y: number, width: number, height: number, colour: string, edge: string) => {
    p.shape('plates', `${edge} edge`, edge, rounded(x, y, width, height, 18));
    p.shape('plates', `${colour} board`, colour, rounded(x + 8, y + 8, width - 16, height - 16, 12));
  };
  const partner = { normal: [0, 0, 1] as [number, number, number], offset: 0, readable: true };
  board(0, 0, 320, 200, 'Chalk', 'Tar');
  p.letter('plates', 'Number', '{number}', 'Deep green', 'graduate', { x: 160, y: 100, size: 132 });
  p.plate('Number board', [0, 0, 320, 200], { at: [-1.62, 1.56, 0.93], facing: [0, 0, 1], across: 0.46, partner });
  p.shape('plates', 'Crest ground', 'Brass', circle(424, 96, 94, 94, 16), {}, true);
  p.shape('plates', 'Crest field', 'Chalk', circle(424, 96, 84, 84, 16), {}, true);
  p.mark('plates', 'ebbline-crest.svg', { x: 424, y: 98, height: 112 });
  p.plate('Crest', [328, 0, 192, 192], {
    ...{ at: [1.42, 1.3, 0.93], facing: [0, 0, 1], across: 0.3, partner, own: true, group: 'doors' },
  });
  board(0, 208, 512, 112, 'Tar', 'Brass');
  p.letter('plates', 'Long load', 'LONG LOAD', 'Brass', 'archivo-black', { x: 256, y: 264, size: 46, spacing: 4 });
  p.plate('Long load', [0, 208, 512, 112], { at: [-2.42, 1.62, 0], facing: [-1, 0, 0], across: 1.1 });
  // A hard season: dust on the roof, rain off the ledges, chips to the steel, mud thrown up.
  const all = ['body', 'tracks'];
  p.worn(all, 'Road dust', 'Dust', { how: 'dust', amount: 38, size: 0.5, soft: 80, seed: 3 }, { opacity: 70 });
  p.worn(
    all,
    'Streaks',
    'Tar',
    { how: 'streaks', amount: 42, size: 0.024, reach: 0.7, soft: 55, seed: 8 },
    { opacity: 55 },
  );
  p.worn(all, 'Chips', 'Steel', { how: 'chips', amount: 38, size: 0.05, soft: 5, seed: 4 }, { opacity: 90 });
  p.worn(all, 'Mud', 'Mud', { how: 'grime', amount: 68, size: 0.3, reach: 1.5, soft: 45, seed: 21 }, { opacity: 82 });
  return {
    painter: p,
    subject: 'brock',
    particulars: {
      name: 'Brock {number}, Ebbline Freight',
      key: 'ebbline-wagon',
      number: '41',
      registration: 'BS-E41',
      team: 'EBBLINE FREIGHT',
      author: 'Brackwater demo',
    },
    boxes: {},
  };
}
