/** The demo's three liveries for the Turnstone, one for each crew. Positions are texels of the sheets. */
import { Painter } from './paint.ts';

/** Middle of each side's height at its broad end, and its run; bow to the left on port, to the right on starboard. */
const SIDES = [
  { part: 'port-side', y: 400, toX: (fromStern: number) => 1958 - fromStern },
  { part: 'starboard-side', y: 800, toX: (fromStern: number) => 60 + fromStern },
] as const;

export function ternTide() {
  const p = new Painter('tern-tide', {
    Cream: '#f1e8d4',
    'Sea grey': '#5b7a87',
    'Signal coral': '#e9624c',
    'Deep water': '#2f454f',
    Cordage: '#8a5a2b',
    Rubber: '#2a2d2f',
  });
  p.solid('hull', 'Cream', 'Cream');
  p.solid('hull', 'Skirt rubber', 'Rubber', { parts: ['skirt', 'skirt-port'], finish: 'rubber' });
  for (const side of SIDES) {
    const starboard = side.part === 'starboard-side';
    const only = { parts: [side.part] };
    const lean = starboard ? -2.2 : 2.2;
    p.stripe(
      'hull',
      starboard ? 'Wave band, starboard' : 'Wave band, port',
      'Sea grey',
      { x: 1009, y: side.y + 78, angle: lean, width: 120 },
      only,
    );
    p.stripe(
      'hull',
      starboard ? 'Coral line, starboard' : 'Coral line, port',
      'Signal coral',
      { x: 1009, y: side.y + 6, angle: lean, width: 14 },
      only,
    );
    p.stripes(
      'hull',
      starboard ? 'Bow bars, starboard' : 'Bow bars, port',
      ['Signal coral'],
      { x: side.toX(1690), y: side.y + 60, angle: starboard ? 62 : 118, width: 26, gap: 22, count: 3 },
      only,
    );
    p.letter(
      'hull',
      starboard ? 'Post name, starboard' : 'Post name, port',
      '{team}',
      'Deep water',
      'barlow-condensed',
      { x: side.toX(870), y: side.y - 62, size: 62, spacing: 6 },
      only,
    );
    p.mark(
      'hull',
      'tern-roundel.svg',
      { x: side.toX(150), y: side.y - 8, height: 218, mirrored: !starboard ? false : true },
      [
        ['#5b7a87', 'Sea grey'],
        ['#f1e8d4', 'Cream'],
        ['#e9624c', 'Signal coral'],
      ],
      only,
    );
    p.letter(
      'hull',
      starboard ? 'Number, starboard' : 'Number, port',
      '{number}',
      'Cream',
      'russo-one',
      { x: side.toX(1345), y: side.y + 38, size: 150, slant: starboard ? 8 : -8, outline: ['Deep water', 9] },
      only,
    );
    p.letter(
      'hull',
      starboard ? 'Registration, starboard' : 'Registration, port',
      '{registration}',
      'Cream',
      'michroma',
      { x: side.toX(520), y: side.y + 84, size: 30, spacing: 12 },
      only,
    );
    p.mark(
      'hull',
      'quillback.svg',
      { x: side.toX(870), y: side.y + 82, height: 74 },
      [
        ['#8a5a2b', 'Cream'],
        ['#c48a4a', 'Cream'],
      ],
      only,
    );
    p.letter(
      'hull',
      starboard ? 'Quillback, starboard' : 'Quillback, port',
      'QUILLBACK ROPE CO.',
      'Cream',
      'staatliches',
      { x: side.toX(1065), y: side.y + 86, size: 26, spacing: 5 },
      only,
    );
  }
  p.stripe('hull', 'Transom band', 'Sea grey', { x: 363, y: 1300, angle: 0, width: 96 }, { parts: ['transom'] });
  p.letter(
    'hull',
    'Transom number',
    '{number}',
    'Signal coral',
    'russo-one',
    { x: 160, y: 1178, size: 120 },
    { parts: ['transom'] },
  );
  p.letter(
    'hull',
    'Transom name',
    'TERN POST',
    'Deep water',
    'barlow-condensed',
    { x: 420, y: 1178, size: 58, spacing: 8 },
    { parts: ['transom'] },
  );
  p.solid('hull', 'Fins', 'Sea grey', { parts: ['fin-port', 'fin-starboard'] });
  p.stripes(
    'hull',
    'Fin bars',
    ['Signal coral', 'Cream'],
    { x: 1160, y: 1680, angle: 0, width: 40, gap: 0, count: 4 },
    { parts: ['fin-port', 'fin-starboard'] },
  );
  p.mark('hull', 'tern-roundel.svg', { x: 925, y: 1330, height: 200 }, [['#5b7a87', 'Deep water']], {
    parts: ['fin-port'],
  });
  p.mark('hull', 'tern-roundel.svg', { x: 1395, y: 1330, height: 200, mirrored: true }, [['#5b7a87', 'Deep water']], {
    parts: ['fin-starboard'],
  });
  p.solid('hull', 'Roof grey', 'Sea grey', { parts: ['roof'] });
  p.letter(
    'hull',
    'Roof number',
    '{number}',
    'Cream',
    'russo-one',
    { x: 310, y: 1630, size: 230, turn: 90 },
    { parts: ['roof'] },
  );

  p.solid('deck', 'Cream', 'Cream');
  p.stripe('deck', 'Centre band', 'Sea grey', { x: 512, y: 250, angle: 0, width: 150 }, { parts: ['deck'] });
  p.stripe('deck', 'Coral edge, port', 'Signal coral', { x: 512, y: 168, angle: 0, width: 12 }, { parts: ['deck'] });
  p.stripe(
    'deck',
    'Coral edge, starboard',
    'Signal coral',
    { x: 512, y: 332, angle: 0, width: 12 },
    { parts: ['deck'] },
  );
  p.letter(
    'deck',
    'Foredeck number',
    '{number}',
    'Cream',
    'russo-one',
    { x: 866, y: 250, size: 92, turn: 90 },
    { parts: ['deck'] },
  );
  p.stripe('deck', 'Cabin foot, port', 'Sea grey', { x: 500, y: 636, angle: 0, width: 34 }, { parts: ['cabin-port'] });
  p.stripe(
    'deck',
    'Cabin foot, starboard',
    'Sea grey',
    { x: 500, y: 866, angle: 0, width: 34 },
    { parts: ['cabin-starboard'] },
  );
  p.letter(
    'deck',
    'Cabin name, port',
    'ROYAL SOUND MAIL',
    'Deep water',
    'barlow-condensed',
    { x: 590, y: 580, size: 34, spacing: 10 },
    { parts: ['cabin-port'] },
  );
  p.letter(
    'deck',
    'Cabin name, starboard',
    'ROYAL SOUND MAIL',
    'Deep water',
    'barlow-condensed',
    { x: 450, y: 810, size: 34, spacing: 10 },
    { parts: ['cabin-starboard'] },
  );

  p.solid('fan', 'Duct grey', 'Sea grey');
  p.stripe('fan', 'Duct lip', 'Signal coral', { x: 256, y: 30, angle: 0, width: 26 }, { parts: ['duct'] });
  p.letter(
    'fan',
    'Duct name',
    'TERN & TIDE',
    'Cream',
    'barlow-condensed',
    // The duct's outside is laid out mirrored.
    { x: 256, y: 82, size: 30, spacing: 12, mirrored: true },
    { parts: ['duct'] },
  );
  p.solid('fan', 'Blades', 'Deep water', { parts: ['blade-1'] });
  p.stripe(
    'fan',
    'Blade tips',
    'Signal coral',
    { x: 474, y: 295, angle: 90, width: 30 },
    { parts: ['blade-1'], finish: 'metallic' },
  );
  p.solid('fan', 'Spinner', 'Signal coral', { parts: ['spinner'], finish: 'chrome' });
  p.stripe('fan', 'Spinner line', 'Cream', { x: 130, y: 370, angle: 30, width: 16 }, { parts: ['spinner'] });
  return {
    painter: p,
    particulars: {
      name: 'Turnstone {number}, Tern & Tide Post',
      key: 'tern-tide',
      number: '7',
      registration: 'BS-T07',
      team: 'TERN & TIDE POST',
      author: 'Brackwater demo',
    },
    finish: { hull: 'gloss', deck: 'satin', fan: 'satin' },
    finishes: undefined,
  };
}

export function ebbline() {
  const p = new Painter('ebbline', {
    'Deep green': '#123d33',
    Chalk: '#e9e6d8',
    Bottle: '#1f5e4c',
    Brass: '#d9a441',
    Tar: '#1c2422',
  });
  p.fade('hull', 'Green into tar', { x: 1009, y: 560, length: 260, angle: 90 }, [
    [0, 'Deep green', 100],
    [1, 'Deep green', 100],
  ]);
  p.fade(
    'hull',
    'Light along the side, port',
    { x: 1009, y: 270, length: 270, angle: 90 },
    [
      [0, 'Bottle', 100],
      [0.6, 'Deep green', 100],
      [1, 'Tar', 100],
    ],
    { parts: ['port-side'] },
  );
  p.fade(
    'hull',
    'Light along the side, starboard',
    { x: 1009, y: 670, length: 270, angle: 90 },
    [
      [0, 'Bottle', 100],
      [0.6, 'Deep green', 100],
      [1, 'Tar', 100],
    ],
    { parts: ['starboard-side'] },
  );
  p.solid('hull', 'Skirt tar', 'Tar', { parts: ['skirt', 'skirt-port'], finish: 'rubber' });
  for (const side of SIDES) {
    const starboard = side.part === 'starboard-side';
    const only = { parts: [side.part] };
    const turn = starboard ? 58 : 122;
    p.stripes(
      'hull',
      `Freight bars, ${starboard ? 'starboard' : 'port'}`,
      ['Chalk'],
      { x: side.toX(330), y: side.y, angle: turn, width: 54, gap: 30, count: 4 },
      only,
    );
    p.chequer(
      'hull',
      `Load line, ${starboard ? 'starboard' : 'port'}`,
      ['Chalk', null],
      { x: 1009, y: side.y + 126, angle: 0, cell: 14, columns: 132, rows: 2 },
      only,
    );
    p.letter(
      'hull',
      `Company, ${starboard ? 'starboard' : 'port'}`,
      'EBBLINE',
      'Chalk',
      'archivo-black',
      { x: side.toX(905), y: side.y - 14, size: 96, spacing: 3, slant: starboard ? 12 : -12 },
      only,
    );
    p.letter(
      'hull',
      `Freight, ${starboard ? 'starboard' : 'port'}`,
      'FREIGHT ON EVERY TIDE',
      'Brass',
      'chakra-petch',
      { x: side.toX(905), y: side.y + 76, size: 24, spacing: 14 },
      only,
    );
    p.mark(
      'hull',
      'ebbline-crest.svg',
      { x: side.toX(1420), y: side.y + 14, height: 140 },
      [
        ['#123d33', 'Deep green'],
        ['#e9e6d8', 'Chalk'],
        ['#d9a441', 'Brass'],
      ],
      only,
    );
    p.letter(
      'hull',
      `Number, ${starboard ? 'starboard' : 'port'}`,
      '{number}',
      'Brass',
      'graduate',
      { x: side.toX(1625), y: side.y + 50, size: 84, outline: ['Tar', 7] },
      only,
    );
    p.letter(
      'hull',
      `Registration, ${starboard ? 'starboard' : 'port'}`,
      '{registration}',
      'Chalk',
      'michroma',
      { x: side.toX(100), y: side.y - 96, size: 22, spacing: 8 },
      only,
    );
    p.mark(
      'hull',
      'oakum.svg',
      { x: side.toX(92), y: side.y + 10, height: 104 },
      [
        ['#2b2b2b', 'Tar'],
        ['#c8a15a', 'Brass'],
        ['#e8e0cc', 'Chalk'],
      ],
      only,
    );
  }
  p.chequer(
    'hull',
    'Transom chequer',
    ['Chalk', 'Tar'],
    { x: 363, y: 1314, angle: 0, cell: 24, columns: 26, rows: 2 },
    { parts: ['transom'] },
  );
  p.letter(
    'hull',
    'Transom name',
    'EBBLINE',
    'Chalk',
    'archivo-black',
    { x: 363, y: 1190, size: 70 },
    { parts: ['transom'] },
  );
  p.solid('hull', 'Fins', 'Chalk', { parts: ['fin-port', 'fin-starboard'] });
  p.stripes(
    'hull',
    'Fin bars',
    ['Deep green'],
    { x: 1160, y: 1450, angle: 0, width: 46, gap: 26, count: 3 },
    { parts: ['fin-port', 'fin-starboard'] },
  );
  p.mark('hull', 'ebbline-crest.svg', { x: 925, y: 1260, height: 150 }, [], { parts: ['fin-port'] });
  p.mark('hull', 'ebbline-crest.svg', { x: 1395, y: 1260, height: 150 }, [], { parts: ['fin-starboard'] });
  p.solid('hull', 'Roof chalk', 'Chalk', { parts: ['roof'] });
  p.mark('hull', 'ebbline-crest.svg', { x: 310, y: 1630, height: 260, turn: 90 }, [], { parts: ['roof'] });

  p.solid('deck', 'Deep green', 'Deep green');
  p.stripes(
    'deck',
    'Deck planks',
    ['Bottle'],
    { x: 512, y: 250, angle: 0, width: 10, gap: 22, count: 13 },
    { parts: ['deck'], opacity: 60 },
  );
  p.stripe('deck', 'Chalk spine', 'Chalk', { x: 512, y: 250, angle: 0, width: 66 }, { parts: ['deck'] });
  p.chequer(
    'deck',
    'Foredeck chequer',
    ['Chalk', 'Deep green'],
    { x: 760, y: 250, angle: 0, cell: 30, columns: 4, rows: 12 },
    { parts: ['deck'] },
  );
  p.letter(
    'deck',
    'Foredeck number',
    '{number}',
    'Brass',
    'graduate',
    { x: 886, y: 250, size: 66, turn: 90, outline: ['Tar', 6] },
    { parts: ['deck'] },
  );
  p.stripe('deck', 'Cabin line, port', 'Chalk', { x: 500, y: 622, angle: 0, width: 16 }, { parts: ['cabin-port'] });
  p.stripe(
    'deck',
    'Cabin line, starboard',
    'Chalk',
    { x: 500, y: 852, angle: 0, width: 16 },
    { parts: ['cabin-starboard'] },
  );
  p.letter(
    'deck',
    'Cabin name, port',
    'EBBLINE FREIGHT',
    'Chalk',
    'archivo-black',
    { x: 590, y: 572, size: 30, spacing: 6 },
    { parts: ['cabin-port'] },
  );
  p.letter(
    'deck',
    'Cabin name, starboard',
    'EBBLINE FREIGHT',
    'Chalk',
    'archivo-black',
    { x: 450, y: 802, size: 30, spacing: 6 },
    { parts: ['cabin-starboard'] },
  );

  p.solid('fan', 'Duct chalk', 'Chalk');
  p.chequer(
    'fan',
    'Duct chequer',
    ['Deep green', null],
    { x: 256, y: 66, angle: 0, cell: 20.5, columns: 24, rows: 2 },
    { parts: ['duct'] },
  );
  p.solid('fan', 'Duct throat', 'Tar', { parts: ['duct-inside'] });
  p.solid('fan', 'Blades', 'Deep green', { parts: ['blade-1'] });
  p.stripe('fan', 'Blade tips', 'Brass', { x: 474, y: 295, angle: 90, width: 26 }, { parts: ['blade-1'] });
  p.solid('fan', 'Spinner', 'Brass', { parts: ['spinner'], finish: 'metallic' });
  return {
    painter: p,
    particulars: {
      name: 'Turnstone {number}, Ebbline Freight',
      key: 'ebbline',
      number: '22',
      registration: 'BS-E22',
      team: 'EBBLINE FREIGHT',
      author: 'Brackwater demo',
    },
    finish: { hull: 'satin', deck: 'matt', fan: 'satin' },
    finishes: undefined,
  };
}

export function lanternfish() {
  const p = new Painter('lanternfish', {
    'Rescue orange': '#f0501f',
    White: '#ffffff',
    Navy: '#15284b',
    Lantern: '#ffd24a',
    Night: '#10182a',
  });
  const SHEETS = ['hull', 'deck', 'fan'];
  const SKIRT = ['skirt', 'skirt-port'];
  const FINS = ['fin-port', 'fin-starboard'];
  const DUCT = ['duct', 'duct-inside', 'spinner', 'blade-1'];
  p.solid('hull', 'Rescue orange', 'Rescue orange');
  p.solid('deck', 'Rescue orange', 'Rescue orange');
  p.solid('hull', 'Skirt night', 'Night', { parts: SKIRT, finish: 'rubber' });
  p.solid('hull', 'Fins', 'Navy', { parts: FINS });
  p.solid('hull', 'Roof white', 'White', { parts: ['roof'] });

  // Where planes cut the hull: each band is one layer over side, deck and cabin.
  const cut = (normal: number[], offset: number, reach: number, not: string[] = []) => ({
    kind: 'along',
    line: { by: 'cut', normal, offset },
    reach,
    not: [...SKIRT, ...not],
  });
  const band = (
    name: string,
    colour: string,
    on: Record<string, unknown>,
    at: { y?: number; width: number },
    common: { finish?: string } = {},
  ) =>
    p.lying(SHEETS, on, (sheet, lies) =>
      p.stripe(sheet, name, colour, { x: 0, y: 0, angle: 0, ...at }, { ...lies, ...common }),
    );
  const CREST = cut([0, 0, 1], 0, 0.4, [...FINS, ...DUCT, 'roof', 'transom']);
  band('Centre band', 'White', CREST, { width: 46 });
  band('Centre line', 'Navy', CREST, { width: 26 });
  const SLASH = cut([0.9, 0.42, 0], 0.62, 0.7, [...FINS, ...DUCT, 'roof']);
  band('Slash', 'White', SLASH, { width: 78 });
  band('Slash, fore edge', 'Navy', SLASH, { y: -52, width: 11 });
  band('Slash, fore line', 'Lantern', SLASH, { y: -64, width: 4 });
  band('Slash, aft edge', 'Navy', SLASH, { y: 52, width: 11 });
  const WATER = cut([0, 1, 0], 0.4, 0.3);
  band('Waterline', 'Navy', WATER, { width: 12 });
  band('Waterline, upper', 'Lantern', WATER, { y: -10, width: 2.4 });

  // Marks of both sides: each is put on once, and there again to be read on the other side.
  const both = (at: number[], more: Record<string, unknown> = {}) => ({
    ...{ kind: 'flat', at, facing: [0, 0, 1], up: [0, 1, 0], limit: 78, soft: 6, not: SKIRT },
    partner: { normal: [0, 0, 1], offset: 0, readable: true },
    ...more,
  });
  const letter = (
    name: string,
    text: string,
    colour: string,
    font: string,
    on: Record<string, unknown>,
    at: { size: number; spacing?: number; outline?: [string, number] },
  ) => p.lying(SHEETS, on, (sheet, lies) => p.letter(sheet, name, text, colour, font, { x: 0, y: 0, ...at }, lies));
  letter('Rescue', 'RESCUE', 'White', 'saira-stencil-one', both([-0.96, 0.68, 0.95]), { size: 21, spacing: 5 });
  letter('Registration', '{registration}', 'White', 'michroma', both([-0.98, 0.4, 0.95]), { size: 4.6, spacing: 30 });
  letter('Crew', 'LANTERNFISH', 'White', 'anton', both([-1.83, 0.64, 0.9]), { size: 5.6, spacing: 6 });
  letter('Number', '{number}', 'White', 'anton', both([1.28, 0.6, 0.8]), { size: 17, outline: ['Navy', 1.6] });
  letter(
    'Cabin name',
    'LANTERNFISH',
    'Navy',
    'saira-stencil-one',
    both([-0.28, 1.12, 0.5], { not: [...SKIRT, ...DUCT] }),
    {
      size: 9,
      spacing: 10,
    },
  );
  p.lying(SHEETS, both([0.36, 0.63, 0.95]), (sheet, lies) =>
    p.mark(
      sheet,
      'lanternfish.svg',
      { x: 0, y: 0, height: 40 },
      [
        ['#15284b', 'Navy'],
        ['#ffd24a', 'Lantern'],
      ],
      lies,
    ),
  );
  p.lying(SHEETS, both([-2.19, 1.7, 0.36], { not: [...SKIRT, ...DUCT] }), (sheet, lies) =>
    p.mark(
      sheet,
      'lanternfish.svg',
      { x: 0, y: 0, height: 19 },
      [
        ['#15284b', 'White'],
        ['#ffffff', 'Navy'],
      ],
      lies,
    ),
  );
  // From above: as somebody reads it who stands at the stern.
  letter(
    'Foredeck number',
    '{number}',
    'Lantern',
    'anton',
    { kind: 'flat', at: [1.45, 0.7, 0], facing: [0, 1, 0], up: [1, 0, 0], limit: 70, soft: 6, not: SKIRT },
    { size: 22 },
  );
  const astern = {
    kind: 'flat',
    facing: [-1, 0, 0],
    up: [0, 1, 0],
    limit: 60,
    soft: 6,
    not: [...SKIRT, ...FINS, ...DUCT],
  };
  letter(
    'Transom name',
    'RESCUE',
    'White',
    'saira-stencil-one',
    { ...astern, at: [-2.1, 0.66, 0] },
    {
      size: 20,
      spacing: 8,
      outline: ['Navy', 3],
    },
  );

  p.stripes(
    'hull',
    'Skirt hazard',
    ['Lantern'],
    { x: 1017, y: 130, angle: 60, width: 34, gap: 34, count: 40 },
    { parts: SKIRT, opacity: 90 },
  );
  p.stripes(
    'hull',
    'Fin bars',
    ['Rescue orange', 'White'],
    { x: 1160, y: 1640, angle: 0, width: 44, gap: 0, count: 5 },
    { parts: FINS },
  );
  p.letter(
    'hull',
    'Roof number',
    '{number}',
    'Rescue orange',
    'anton',
    { x: 310, y: 1630, size: 210, turn: 90 },
    { parts: ['roof'] },
  );
  p.solid('fan', 'Duct', 'Rescue orange', { parts: ['duct'] });
  p.solid('fan', 'Duct throat', 'Night', { parts: ['duct-inside'] });
  p.solid('fan', 'Blades', 'Night', { parts: ['blade-1'] });
  p.stripe('fan', 'Blade tips', 'Lantern', { x: 474, y: 295, angle: 90, width: 26 }, { parts: ['blade-1'] });
  p.solid('fan', 'Spinner', 'White', { parts: ['spinner'] });
  return {
    painter: p,
    particulars: {
      name: 'Turnstone {number}, Lanternfish Rescue',
      key: 'lanternfish',
      number: '114',
      registration: 'BS-L114',
      team: 'LANTERNFISH RESCUE',
      author: 'Brackwater demo',
    },
    finish: { hull: 'gloss', deck: 'matt', fan: 'rubber' },
    finishes: undefined,
  };
}
