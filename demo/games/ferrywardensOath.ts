/** Ferrywarden's Oath: colour, normal and packed maps; one sleeve mirrors the other; hair has copies that must follow it. */
import { spec } from '../../packages/core/src/games/ferrywardensOath/spec.ts';
import { writeTga } from '../../packages/core/src/texture/tga.ts';
import { ground, hairArt, type Drawing } from '../originals.ts';
import type { Patch } from '../patches.ts';
import { plain, text, zip } from './files.ts';
import { makeSubject, panel, quad, sheet, tube, type Subject } from './subject.ts';

export function subject(): Subject {
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
  return makeSubject('warden-courier', 'Warden courier', spec, sheets, patches, originals);
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
